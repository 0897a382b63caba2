/**
 * Copies that leave as mails of their own, encrypted or signed in the sender's browser: kept until they are
 * delivered, sent exactly as they are. The server looks at the head only:
 * that it is the sender's, and that nothing leaves open.
 */
import { builtLimit } from '@under-lock/core/message/built-size';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type NewCopy, type SentCopy } from '@under-lock/contract/outgoing';
import { type Handling } from '@under-lock/core/handling/handling';
import { copyLock } from '@under-lock/core/locks/index';
import { type Leaving, type Recognised } from '@under-lock/core/locks/lock';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { type Container } from '@under-lock/core/ways/file-way';
import { type Transaction } from 'sequelize';
import { ownBlob, completeAndFrozen, wholeBlob } from '../blob/blob';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { currentFileRules } from '../office/file-rules';
import { currentLook } from '../office/look';
import { nextTry } from '../mail/retry';
import { returnPath } from '../mail/return-path';
import { reportedSince } from './deliver';
import { record } from '../access/grants';
import { type JudgedCopy } from '../thread/judge-copy';
import { unread } from '../thread/pool';

/**
 * The largest mail there may be with so much content: base64 over base64, with signature and certificates, is twice the
 * content and a little.
 */
export const mailLimit = (maxBytes: number): number => builtLimit(maxBytes, 2);

const LEASE_MS = 120_000;

const templates = new Map<string, string>();
/** As it was built; it changes only with the program. */
function pageTemplate({ config }: Context): string {
  const path = join(config.appDir, 'locked-page.html');
  const template = templates.get(path) ?? (existsSync(path) ? readFileSync(path, 'latin1') : '');
  if (template !== '') templates.set(path, template);
  return template;
}

interface Author {
  sender: AccountRow;
  /** Which of their addresses they write from. */ from: string;
}
/** What every copy of a message is held against. */
async function leavingOf(context: Context, { sender, from }: Author): Promise<Omit<Leaving, 'recipients'>> {
  return {
    sender: { name: sender.name, address: from },
    officeName: context.config.office.name,
    look: (await currentLook(context)).look,
    fileRules: await currentFileRules(context),
    template: pageTemplate(context),
  };
}

interface Sealed extends JudgedCopy {
  recognised: Recognised;
}

/** @throws Problem `invalid-input` */
async function requireSealed(
  context: Context,
  raw: Buffer,
  author: Author,
  { lock, recipients }: NewCopy,
  { about, asks }: { about: Omit<Leaving, 'recipients'>; asks: boolean },
): Promise<Sealed> {
  // Where each has a password of their own, each gets a mail of their own.
  if (copyLock(lock).oneEach === true && recipients.length !== 1)
    throw invalid('Under this lock a copy goes to one recipient at a time.');
  const named = recipients.map(({ name, address }) => ({ name, address }));
  const judged = await context.threads
    .run('judgeCopy', { raw, lock, about: { ...about, recipients: named }, asks })
    .catch(
      unread(({ code }) =>
        invalid(
          code === 'unreadable' ? 'The copy is not a mail.' : 'The copy could not be looked at in the time there is.',
        ),
      ),
    );
  const { recognised } = judged;
  if (recognised === undefined) throw invalid(`The copy is not under the lock it is said to be under (${lock}).`);
  const [only, ...others] = judged.from ?? [];
  if (only === undefined || others.length > 0 || addressKey(only) !== addressKey(author.from))
    throw invalid('The copy does not come from your address.');
  const known = new Set(judged.named.map(addressKey));
  // Whom nobody else sees is named nowhere.
  const unnamed = recipients.find(({ address, role }) => role !== 'bcc' && !known.has(addressKey(address)));
  if (unnamed !== undefined) throw invalid(`${unnamed.address} is not among the recipients in the copy’s head.`);
  return { ...judged, recognised };
}

export interface ReadyCopy {
  copy: NewCopy;
  sha256: Buffer;
  size: number;
  /** Its Message-ID: what an answer will name. */ mailId: string;
  /** Of its locked files, where that is its lock. */ containers: readonly Container[];
}

type Leaves = Pick<Handling, 'copies' | 'clear' | 'textOpen'>;

/** @throws Problem `below-preset` */
function requireHandling({ keeps, weak }: Recognised, handling: Leaves, legacyAllowed: boolean): void {
  const refuse = (sentence: string): never => {
    throw new Problem('below-preset', 400, sentence);
  };
  if (weak && !legacyAllowed) refuse('The office does not allow the legacy cipher of ZIP files');
  if (handling.clear) return;
  switch (keeps) {
    case 'nothing':
      return refuse('Under this handling nothing leaves without a lock');
    case 'origin':
      return refuse('Under this handling nothing leaves readable');
    case 'files':
      if (!handling.textOpen) refuse('Under this handling the text may not stay readable beside locked files');
      if (!handling.copies) refuse('Under this handling nobody gets a copy of their own');
      return;
    case 'all':
      if (!handling.copies) refuse('Under this handling nobody gets a copy of their own');
  }
}

/** A request for a signed message is readable by anybody, so it may say nothing else. @throws Problem `invalid-input` */
function requireRequest({ recognised, isRequest }: Sealed): void {
  if (recognised.keeps !== 'origin' || !isRequest)
    throw invalid('A request for a signed message says nothing but that.');
}

/** Before the transaction: everything that must be right about the copies. @throws Problem */
export async function readyCopies(
  context: Context,
  author: Author,
  copies: readonly NewCopy[],
  mayLeave: Leaves | 'request',
): Promise<ReadyCopy[]> {
  if (copies.length === 0) return [];
  const asks = mayLeave === 'request';
  const about = await leavingOf(context, author);
  const ready: ReadyCopy[] = [];
  // One after another: each is a whole mail in memory.
  for (const copy of copies) {
    for (const { address } of copy.recipients)
      if (!checkAddress(address).ok) throw invalid(`“${address}” is not a mail address.`);
    const blob = await ownBlob(author.sender.id, copy.blobId);
    const size = Number(blob.size);
    if (size > mailLimit(context.config.office.limits.maxBytes))
      throw new Problem('too-large', 413, 'The message is larger than the office allows');
    await completeAndFrozen(context, blob);
    const raw = await wholeBlob(context, copy.blobId, size);
    const judged = await requireSealed(context, raw, author, copy, { about, asks });
    if (mayLeave === 'request') requireRequest(judged);
    else requireHandling(judged.recognised, mayLeave, about.fileRules.legacyAllowed);
    ready.push({
      copy,
      size,
      mailId: judged.mailId,
      sha256: Buffer.from(judged.sha256),
      containers: judged.recognised.containers ?? [],
    });
  }
  return ready;
}

export async function addCopies(
  context: Context,
  {
    sender,
    messageId,
    ready,
    leavesAt,
  }: { sender: AccountRow; messageId: string; ready: readonly ReadyCopy[]; leavesAt: Date },
  transaction: Transaction,
): Promise<void> {
  // Through all copies: in this order people are shown, whoever shares a copy with whom.
  let position = 0;
  for (const { copy, sha256, size, mailId } of ready) {
    await run(
      context.db,
      'INSERT INTO copies (id, message_id, account_id, lock, blob_id, sha256, size, leaves_at, mail_id) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
      [copy.id, messageId, sender.id, copy.lock, copy.blobId, sha256, size, leavesAt, mailId],
      transaction,
    );
    for (const { id, address, name, role } of copy.recipients) {
      await run(
        context.db,
        `INSERT INTO copy_recipients (id, copy_id, position, address, name, role, state) VALUES ($1, $2, $3, $4, $5, $6, 'waiting')`,
        [id, copy.id, position++, address, name, role],
        transaction,
      );
      await context.jobs.deliverCopy(id, transaction, leavesAt);
    }
  }
}

interface Leased {
  copy_id: string;
  message_id: string;
  blob_id: string;
  leaves_at: Date;
  size: string;
  sha256: Buffer;
  address: string;
  attempts: number;
}

/** Returns the seconds to wait before another try, or undefined when it is settled. */
export async function deliverCopy(context: Context, id: string): Promise<number | undefined> {
  const now = context.clock();
  const [waiting] = await rows<{ leaves_at: Date }>(
    context.db,
    `SELECT c.leaves_at FROM copy_recipients r JOIN copies c ON c.id = r.copy_id WHERE r.id = $1 AND r.state = 'waiting'`,
    [id],
  );
  if (waiting !== undefined && waiting.leaves_at > now)
    return Math.ceil((waiting.leaves_at.getTime() - now.getTime()) / 1000);
  const [row] = await rows<Leased>(
    context.db,
    `UPDATE copy_recipients r SET leased_until = $2, attempts = attempts + 1 FROM copies c
     WHERE r.id = $1 AND c.id = r.copy_id AND r.state = 'waiting' AND (r.leased_until IS NULL OR r.leased_until <= $3) RETURNING r.copy_id, c.message_id, c.blob_id, c.leaves_at, c.size, c.sha256, r.address, r.attempts`,
    [id, new Date(now.getTime() + LEASE_MS), now],
  );
  if (row === undefined) return undefined;
  const raw = await wholeBlob(context, row.blob_id, Number(row.size));
  if (!createHash('sha256').update(raw).digest().equals(row.sha256)) {
    context.log.error('copy', new Error('It is not what was judged, and was not sent'), { id });
    await settle(context, id, row, 'refused', 'Not sent: it is not what was judged when you sent it.');
    return undefined;
  }
  const result = await context.mail.send({ from: returnPath(context, id), to: row.address }, raw);
  const wait = nextTry({ attempts: row.attempts, since: row.leaves_at }, now);
  if (result.outcome === 'later' && wait !== undefined) {
    await run(
      context.db,
      `UPDATE copy_recipients SET leased_until = NULL, answer = $2 WHERE id = $1 AND state = 'waiting'`,
      [id, result.answer],
    );
    return wait;
  }
  await settle(
    context,
    id,
    row,
    result.outcome === 'accepted' ? (result.junk ? 'junk' : 'accepted') : 'refused',
    result.answer,
  );
  return undefined;
}

async function settle(
  context: Context,
  id: string,
  row: Pick<Leased, 'copy_id' | 'message_id' | 'address'>,
  state: 'accepted' | 'junk' | 'refused',
  answer: string,
): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const settled = await run(
      context.db,
      `UPDATE copy_recipients SET state = $2, at = $3, answer = $4, leased_until = NULL WHERE id = $1 AND state = 'waiting'`,
      [id, state, context.clock(), answer],
      transaction,
    );
    if (settled === 0) return;
    await record(
      context,
      { messageId: row.message_id, kind: `copy-${state}`, data: { address: row.address } },
      transaction,
    );
    // Once nobody waits for it any more, the mail itself is not kept: the sender's own copy lies sealed with the
    // message.
    await run(
      context.db,
      `DELETE FROM blobs WHERE id = (SELECT blob_id FROM copies WHERE id = $1) AND NOT EXISTS (SELECT 1 FROM copy_recipients WHERE copy_id = $1 AND state = 'waiting')`,
      [row.copy_id],
      transaction,
    );
  });
  context.log.info('copy', { id, state });
}

/** A delivery report said that a copy did not arrive. Unknown numbers are ignored: anybody may write to that door. */
export async function copyBounced(context: Context, id: string, answer: string): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const [row] = await rows<{ message_id: string; address: string }>(
      context.db,
      `UPDATE copy_recipients r SET state = 'bounced', at = $2, answer = $3 FROM copies c WHERE r.id = $1 AND c.id = r.copy_id AND r.state IN ('accepted', 'junk') AND r.at > $4 RETURNING c.message_id, r.address`,
      [id, context.clock(), answer.slice(0, 300), reportedSince(context)],
      transaction,
    );
    if (row !== undefined)
      await record(
        context,
        { messageId: row.message_id, kind: 'copy-bounced', data: { address: row.address } },
        transaction,
      );
  });
}

/** The mails themselves, as they were recorded when they left. */
export async function copyMailsOf(
  context: Context,
  messageId: string,
): Promise<
  {
    id: string;
    lock: SentCopy['lock'];
    size: number;
    sha256: Uint8Array<ArrayBuffer>;
    mailId: string;
    addresses: string[];
  }[]
> {
  const found = await rows<{
    id: string;
    lock: SentCopy['lock'];
    size: string;
    sha256: Buffer;
    mail_id: string;
    addresses: string[];
  }>(
    context.db,
    'SELECT c.id, c.lock, c.size, c.sha256, c.mail_id, array_agg(r.address ORDER BY r.position) AS addresses FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.message_id = $1 GROUP BY c.id ORDER BY c.id',
    [messageId],
  );
  return found.map(({ id, lock, size, sha256, mail_id, addresses }) => ({
    id,
    lock,
    size: Number(size),
    sha256: new Uint8Array(sha256),
    mailId: mail_id,
    addresses,
  }));
}

interface CopyRow {
  id: string;
  message_id: string;
  lock: SentCopy['lock'];
  address: string;
  name: string;
  role: SentCopy['role'];
  state: SentCopy['state'];
  at: Date | null;
  answer: string | null;
}

const OF_MESSAGES: NamedStatement = {
  name: 'copies-of-messages',
  sql: `SELECT r.id, c.message_id, c.lock, r.address, r.name, r.role, r.state, r.at, r.answer
    FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.message_id = ANY($1) ORDER BY r.position, r.id`,
};

/** What went to whom as a copy, by message. */
export async function copiesOf(context: Context, messageIds: readonly string[]): Promise<Map<string, SentCopy[]>> {
  const found = await askedOften<CopyRow>(context.db, OF_MESSAGES, [messageIds]);
  const grouped = new Map<string, SentCopy[]>();
  for (const { message_id, at, answer, ...copy } of found)
    grouped.set(message_id, [
      ...(grouped.get(message_id) ?? []),
      { ...copy, ...(at === null ? {} : { at }), ...(answer === null ? {} : { answer }) },
    ]);
  return grouped;
}
