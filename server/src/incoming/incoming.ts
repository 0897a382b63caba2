/**
 * Mail that came by SMTP to an account's address. It is sealed to the account before it is kept; from then on the
 * server can read neither what it says nor whom it is from.
 * What it is tied to is worked out while it passes: the conversation it answers, and a request of ours for a signed
 * message.
 */
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { type IncomingMail } from '@under-lock/contract/received';
import { type Bytes, randomBytes } from '@under-lock/core/bytes';
import { sealContent } from '@under-lock/core/locks/room/content';
import {
  headless,
  type IncomingHead,
  LOOKED_AT,
  makeIncomingKey,
  sealIncomingSummary,
  sealIncomingWords,
} from '@under-lock/core/incoming/incoming';
import { defined } from '@under-lock/core/defined';
import { type Origin } from '@under-lock/core/incoming/origin';
import { type Words } from '@under-lock/core/search/words';
import { addressKey } from '@under-lock/core/people/address';
import { createHash, randomUUID } from 'node:crypto';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { answeredByIds, mailIdHash } from '../mail/answered';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { accountAt } from '../account/addresses';
import { AccountRow } from '../data/models';
import { notFound } from '../problem';
import { ThreadError } from '../thread/pool';

/** What one account may have lying around of mail that came in. */
const MAX_MAILS = 20_000;
const MAX_BYTES = 4_000_000_000;

export class MailboxFullError extends Error {
  constructor() {
    super('The mailbox is full');
    this.name = 'MailboxFullError';
  }
}

/**
 * Who takes mail at this address; undefined for nobody. `ready` once their key pair is made, at their first sign-in.
 */
export async function mailboxAt(
  context: Context,
  address: string,
): Promise<{ account: AccountRow; ready: boolean } | undefined> {
  const account = await accountAt(context, address);
  return account === null || account.endedAt != null ? undefined : { account, ready: account.publicKey != null };
}

/**
 * Our newest request for a signed message that this mail answers: it comes from whom we asked, and it is signed or
 * encrypted, or brings a key or a certificate.
 */
async function requestAnswered(
  context: Context,
  accountId: string,
  { from, lock, brings }: IncomingHead,
): Promise<string | undefined> {
  if (lock === 'none' && !brings) return undefined;
  const [found] = await rows<{ id: string }>(
    context.db,
    `SELECT m.id FROM messages m JOIN copies c ON c.message_id = m.id JOIN copy_recipients r ON r.copy_id = c.id WHERE m.account_id = $1 AND m.purpose = 'request' AND lower(r.address) = $2 ORDER BY m.sent_at DESC LIMIT 1`,
    [accountId, addressKey(from.address)],
  );
  return found?.id;
}

async function keepContent(
  context: Context,
  accountId: string,
  sealed: Bytes,
  transaction: Transaction,
): Promise<string> {
  const id = randomUUID();
  await run(
    context.db,
    'INSERT INTO blobs (id, account_id, size, created_at) VALUES ($1, $2, $3, $4)',
    [id, accountId, sealed.length, context.clock()],
    transaction,
  );
  for (let index = 0; index < partCount(sealed.length); index++) {
    await run(
      context.db,
      'INSERT INTO blob_parts (blob_id, index, bytes) VALUES ($1, $2, $3)',
      [id, index, Buffer.from(sealed.subarray(index * PART_BYTES, (index + 1) * PART_BYTES))],
      transaction,
    );
  }
  return id;
}

/** A mail whose head can't be read in the time there is comes like one without any: its envelope says who sent it. */
async function headOf(context: Context, raw: Bytes, from: string): Promise<IncomingHead> {
  try {
    return await context.threads.run('mailHead', { raw: raw.subarray(0, LOOKED_AT), from });
  } catch (error) {
    if (!(error instanceof ThreadError)) throw error;
    context.log.error('mail-head', error);
    return headless(from);
  }
}

/** What can't be read in the time there is comes without words: it is found by its head, and by more once it was opened. */
async function wordsOf(context: Context, raw: Bytes): Promise<Words | undefined> {
  try {
    return await context.threads.run('mailWords', { raw: raw.subarray(0, LOOKED_AT) });
  } catch (error) {
    if (!(error instanceof ThreadError)) throw error;
    context.log.error('mail-words', error);
    return undefined;
  }
}

/** The account whose notice a mail says it answers, the newest that is named; undefined where it names none of ours. */
export async function noticeAnswered(context: Context, raw: Bytes): Promise<AccountRow | undefined> {
  const { answers } = await headOf(context, raw, '');
  if (answers.length === 0) return undefined;
  const [found] = await rows<{ account_id: string }>(
    context.db,
    `SELECT g.account_id FROM outbox o JOIN grants g ON g.id = o.grant_id WHERE o.message_id_header = ANY($1) ORDER BY o.created_at DESC LIMIT 1`,
    [answers],
  );
  const account = found === undefined ? null : await AccountRow.findByPk(found.account_id);
  return account === null || account.endedAt != null || account.publicKey == null ? undefined : account;
}

/** @throws MailboxFullError */
export async function requireRoom(context: Context, accountId: string, size: number): Promise<void> {
  const [used] = await rows<{ count: number; bytes: string }>(
    context.db,
    'SELECT count(*)::int AS count, coalesce(sum(size), 0) AS bytes FROM incoming WHERE account_id = $1',
    [accountId],
  );
  if (used!.count >= MAX_MAILS || Number(used!.bytes) + size > MAX_BYTES) throw new MailboxFullError();
}

async function isHere(context: Context, accountId: string, digests: readonly Buffer[]): Promise<boolean> {
  const found = await rows(context.db, 'SELECT 1 FROM incoming WHERE account_id = $1 AND digest = ANY($2)', [
    accountId,
    digests,
  ]);
  return found.length > 0;
}

/**
 * Seals a mail to an account and keeps it. The same bytes twice are one mail: hosts try again when they did not hear
 * our yes. @throws MailboxFullError
 */
export async function keepIncoming(
  context: Context,
  account: AccountRow,
  raw: Bytes,
  { from, origin }: { from: string; origin?: Origin | undefined },
): Promise<void> {
  const accountId = account.id;
  // Before it is parsed: a host that tries again costs a hash, whatever the mail is.
  const digests = context.secrets.keyedHashes('incoming-mail', createHash('sha256').update(raw).digest('hex'));
  const [digest] = digests;
  if (await isHere(context, accountId, digests)) return;
  await requireRoom(context, accountId, raw.length);
  const id = randomUUID();
  const [head, words] = await Promise.all([headOf(context, raw, from), wordsOf(context, raw)]);
  const { messageId } = head;
  const { key, sealedKey } = await makeIncomingKey({ suite: account.keySuite!, publicKey: account.publicKey! }, id);
  const [summary, sealedWords, content, conversation, request] = await Promise.all([
    sealIncomingSummary({ ...head, ...defined({ origin }) }, key, id),
    words === undefined ? null : sealIncomingWords(words, key, id).then((sealed) => Buffer.from(sealed)),
    sealContent(raw, { key, salt: randomBytes(32) }),
    answeredByIds(context, accountId, head.answers),
    requestAnswered(context, accountId, head),
  ]);
  await context.db.transaction(async (transaction) => {
    const blobId = await keepContent(context, accountId, content, transaction);
    const added = await rows(
      context.db,
      `INSERT INTO incoming (id, account_id, arrived_at, blob_id, size, sealed_key, sealed_summary, digest, mail_id_hash, conversation_id, request_id, brings_means, sealed_words, answers_notice, had_lock) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) ON CONFLICT (account_id, digest) DO NOTHING RETURNING id`,
      [
        id,
        accountId,
        context.clock(),
        blobId,
        content.length,
        Buffer.from(sealedKey),
        Buffer.from(summary),
        digest,
        messageId === undefined ? null : mailIdHash(context, messageId),
        conversation?.conversationId ?? id,
        request ?? null,
        conversation !== undefined && head.brings,
        sealedWords,
        conversation?.byNotice ?? false,
        head.lock === 'encrypted',
      ],
      transaction,
    );
    // It came twice at once, and the other was first.
    if (added.length === 0) await run(context.db, 'DELETE FROM blobs WHERE id = $1', [blobId], transaction);
  });
  context.log.info('incoming', { id, size: raw.length });
}

interface IncomingRow {
  id: string;
  conversation_id: string;
  arrived_at: Date;
  blob_id: string;
  size: string;
  unread: boolean;
  sealed_key: Buffer;
  sealed_summary: Buffer;
  request_id: string | null;
  brings_means: boolean;
  answers_notice: boolean;
  sealed_proof: Buffer | null;
  sealed_answer: Buffer | null;
}

const FIELDS =
  'id, conversation_id, arrived_at, blob_id, size, unread, sealed_key, sealed_summary, request_id, brings_means, answers_notice, sealed_proof, sealed_answer';

const incomingOf = (row: IncomingRow): IncomingMail => ({
  kind: 'mail',
  id: row.id,
  conversationId: row.conversation_id,
  arrivedAt: row.arrived_at,
  blobId: row.blob_id,
  size: Number(row.size),
  unread: row.unread,
  sealedKey: new Uint8Array(row.sealed_key),
  sealedSummary: new Uint8Array(row.sealed_summary),
  ...(row.request_id === null ? {} : { requestId: row.request_id }),
  bringsMeans: row.brings_means,
  answersNotice: row.answers_notice,
  ...(row.sealed_proof === null || row.sealed_answer === null
    ? {}
    : {
        slot: { sealedProof: new Uint8Array(row.sealed_proof), sealedAnswer: new Uint8Array(row.sealed_answer) },
      }),
});

/** Of an account's mail, what its owner has not deleted. */
const THERE = 'account_id = $1 AND deleted_at IS NULL';

/** Newest first. */
export const incomingOfIds = async (context: Context, accountId: string, ids: string[]): Promise<IncomingMail[]> =>
  (
    await rows<IncomingRow>(
      context.db,
      `SELECT ${FIELDS} FROM incoming WHERE ${THERE} AND id = ANY($2) ORDER BY arrived_at DESC, id DESC`,
      [accountId, ids],
    )
  ).map(incomingOf);

const PAGE_OF: NamedStatement = {
  name: 'incoming-page',
  sql: `SELECT ${FIELDS} FROM incoming WHERE ${THERE} AND ($3::timestamptz IS NULL OR (arrived_at, id) < ($3, $4::uuid))
    ORDER BY arrived_at DESC, id DESC LIMIT $2`,
};

/** Newest first, by cursor. */
export async function listIncoming(
  context: Context,
  accountId: string,
  cursor: readonly unknown[] | undefined,
  limit: number,
): Promise<IncomingMail[]> {
  const found = await askedOften<IncomingRow>(context.db, PAGE_OF, [accountId, limit, ...(cursor ?? [null, null])]);
  return found.map(incomingOf);
}

export const incomingInConversation = async (
  context: Context,
  accountId: string,
  conversationId: string,
  limit: number,
): Promise<IncomingMail[]> =>
  (
    await rows<IncomingRow>(
      context.db,
      `SELECT ${FIELDS} FROM incoming WHERE ${THERE} AND conversation_id = $2 ORDER BY arrived_at LIMIT $3`,
      [accountId, conversationId, limit],
    )
  ).map(incomingOf);

const UNREAD: NamedStatement = {
  name: 'incoming-unread',
  sql: `SELECT count(*)::int AS unread FROM incoming WHERE ${THERE} AND unread`,
};

export async function countUnreadIncoming(context: Context, accountId: string): Promise<number> {
  const [counted] = await askedOften<{ unread: number }>(context.db, UNREAD, [accountId]);
  return counted!.unread;
}

const ANSWERED: NamedStatement = {
  name: 'incoming-answered-requests',
  sql: `SELECT ${FIELDS} FROM incoming WHERE ${THERE} AND unread AND (request_id IS NOT NULL OR brings_means) ORDER BY arrived_at DESC LIMIT $2`,
};

/** Answers of ours that bring a key or a certificate, or that we asked for, and nobody has looked at yet. */
export const answeredRequests = async (context: Context, accountId: string, limit: number): Promise<IncomingMail[]> =>
  (await askedOften<IncomingRow>(context.db, ANSWERED, [accountId, limit])).map(incomingOf);

/** @throws Problem `not-found` */
export async function getIncoming(context: Context, accountId: string, id: string): Promise<IncomingMail> {
  const [row] = await rows<IncomingRow>(context.db, `SELECT ${FIELDS} FROM incoming WHERE ${THERE} AND id = $2`, [
    accountId,
    id,
  ]);
  if (row === undefined) throw notFound('This mail');
  return incomingOf(row);
}

/**
 * Read or unread, and what the list shows and it is found by from now on: once opened, what stands inside and not what
 * stands outside.
 */
export async function putIncoming(
  context: Context,
  accountId: string,
  id: string,
  {
    unread,
    sealedSummary,
    sealedWords,
  }: { unread: boolean; sealedSummary?: Uint8Array | undefined; sealedWords?: Uint8Array | undefined },
): Promise<void> {
  const changed = await run(
    context.db,
    `UPDATE incoming SET unread = $3, sealed_summary = coalesce($4, sealed_summary), sealed_words = coalesce($5, sealed_words) WHERE ${THERE} AND id = $2`,
    [
      accountId,
      id,
      unread,
      ...[sealedSummary, sealedWords].map((one) => (one === undefined ? null : Buffer.from(one))),
    ],
  );
  if (changed === 0) throw notFound('This mail');
}

/** Out of sight at once; gone for good, with its content, an hour later. */
export async function deleteIncoming(context: Context, accountId: string, id: string): Promise<void> {
  await run(context.db, `UPDATE incoming SET deleted_at = $3 WHERE ${THERE} AND id = $2`, [
    accountId,
    id,
    context.clock(),
  ]);
}

/** @throws Problem `not-found` once it is gone for good */
export async function restoreIncoming(context: Context, accountId: string, id: string): Promise<void> {
  const changed = await run(context.db, 'UPDATE incoming SET deleted_at = NULL WHERE account_id = $1 AND id = $2', [
    accountId,
    id,
  ]);
  if (changed === 0) throw notFound('This mail');
}

const DELETED_KEPT_MS = 60 * 60_000;

/** What was deleted long enough ago goes; the row goes with its content. */
export async function purgeDeleted(context: Context): Promise<void> {
  await run(context.db, 'DELETE FROM blobs WHERE id IN (SELECT blob_id FROM incoming WHERE deleted_at < $1)', [
    new Date(context.clock().getTime() - DELETED_KEPT_MS),
  ]);
}
