/**
 * New messages of registered readers, to whoever of the office has written to them. They arrive in Received like
 * replies.
 */
import { builtLimit } from '@under-lock/core/message/built-size';
import { createHash } from 'node:crypto';
import { partCount } from '@under-lock/contract/blob';
import { type Bytes } from '@under-lock/core/bytes';
import { latestClosing } from '@under-lock/core/handling/closing';
import { LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { putPart, readersBlob, readPart, contentCompleteAndFrozen, startReadersBlob } from '../blob/blob';
import { type Context } from '../context';
import { rows } from '../data/database';
import { AccountRow, BlobRow, GrantRow, MessageRow, type ReaderRow } from '../data/models';
import { makeAccess } from '../access/make';
import { type MadeBefore, once } from '../outgoing/once';
import { invalid, notFound, Problem } from '../problem';

const MAX_A_DAY = 50;
const MAX_LISTED = 200;

export interface Written {
  id: string;
  contentBlobId: string;
  to: string;
  grant: {
    id: string;
    houseShare: Uint8Array;
    wrappedKey: Uint8Array;
    sealedShare: Uint8Array;
    sealedSummary: Uint8Array;
  };
  ownKey: Uint8Array;
  ownSummary: Uint8Array;
}

/**
 * The newest access that a colleague gave this reader: whoever never wrote to them can't be written to. @throws Problem
 * `not-found`
 */
async function accessFrom(context: Context, reader: ReaderRow, accountId: string): Promise<GrantRow> {
  const grant = await GrantRow.findOne({
    where: { readerId: reader.id, accountId },
    order: [
      ['arrivedAt', 'DESC'],
      ['id', 'DESC'],
    ],
  });
  if (grant === null || (grant.arrivedAt != null && grant.arrivedAt > context.clock()))
    throw notFound('Somebody who wrote to you');
  return grant;
}

export async function startWrittenBlob(
  context: Context,
  reader: ReaderRow,
  { id, size, to }: { id: string; size: number; to: string },
): Promise<number[]> {
  if (size > builtLimit(context.config.office.limits.maxBytes))
    throw new Problem('too-large', 413, 'The message is larger than the office allows');
  const begun = await BlobRow.findByPk(id, { attributes: ['grantId'] });
  const grant = begun?.grantId == null ? await accessFrom(context, reader, to) : await ownAccess(reader, begun.grantId);
  return startReadersBlob(context, grant, id, size);
}

async function ownAccess(reader: ReaderRow, grantId: string): Promise<GrantRow> {
  const grant = await GrantRow.findOne({ where: { id: grantId, readerId: reader.id } });
  if (grant === null) throw notFound('This upload');
  return grant;
}

async function writtenBlob(reader: ReaderRow, id: string): Promise<BlobRow> {
  const begun = await BlobRow.findByPk(id, { attributes: ['grantId'] });
  if (begun?.grantId == null) throw notFound('This upload');
  return readersBlob((await ownAccess(reader, begun.grantId)).id, id);
}

export const putWrittenPart = async (
  context: Context,
  reader: ReaderRow,
  id: string,
  index: number,
  bytes: Uint8Array,
): Promise<void> => putPart(context, await writtenBlob(reader, id), index, bytes);

const digestOf = (readerId: string, { contentBlobId, to, grant }: Written): Buffer =>
  createHash('sha256')
    .update(JSON.stringify([readerId, contentBlobId, to, grant.id]))
    .update(grant.wrappedKey)
    .digest();

async function already(reader: ReaderRow, written: Written): Promise<MadeBefore | undefined> {
  const existing = await MessageRow.findByPk(written.id);
  if (existing === null) return undefined;
  if (!existing.requestDigest.equals(digestOf(reader.id, written)))
    throw new Problem('conflict', 409, 'A different message has been sent under this number');
  return { sentAt: existing.sentAt, already: true };
}

/** @throws Problem `not-found`, `upload-incomplete`, `invalid-input`, `conflict` */
export const sendWritten = (
  context: Context,
  reader: ReaderRow,
  written: Written,
): Promise<{ sentAt: Date; already: boolean }> =>
  once(
    () => already(reader, written),
    () => makeWritten(context, reader, written),
    'message',
  );

/** @throws Problem `not-found` */
async function colleagueNamed(id: string): Promise<AccountRow> {
  const colleague = await AccountRow.findByPk(id);
  if (colleague?.publicKey == null || colleague.endedAt != null)
    throw new Problem('not-found', 404, 'They can’t receive messages here yet');
  return colleague;
}

/** @throws Problem `invalid-input` */
async function requireFewToday(context: Context, reader: ReaderRow, now: Date): Promise<void> {
  const [today] = await rows<{ count: number }>(
    context.db,
    `SELECT count(*)::int AS count FROM messages WHERE sender_reader_id = $1 AND sent_at > $2`,
    [reader.id, new Date(now.getTime() - 86_400_000)],
  );
  if (today!.count >= MAX_A_DAY) throw invalid(`At most ${MAX_A_DAY} new messages a day.`);
}

async function makeWritten(context: Context, reader: ReaderRow, written: Written): Promise<Date> {
  const sentAt = context.clock();
  const access = await accessFrom(context, reader, written.to);
  const colleague = await colleagueNamed(written.to);
  await requireFewToday(context, reader, sentAt);
  const blob = await writtenBlob(reader, written.contentBlobId);
  await contentCompleteAndFrozen(context, blob);
  const closesAt = latestClosing(sentAt, context.config.office.calendar);
  await context.db.transaction(async (transaction) => {
    await MessageRow.create(
      {
        id: written.id,
        accountId: colleague.id,
        contentBlobId: written.contentBlobId,
        reference: '',
        size: Number(blob.size),
        sentAt,
        handling: { ...LOOSEST_TERMS, clear: false, closesAt: closesAt.toISOString() },
        requestDigest: digestOf(reader.id, written),
        presetName: '',
        conversationId: written.id,
        senderGrantId: access.id,
        senderReaderId: reader.id,
        ownKey: Buffer.from(written.ownKey),
        ownSummary: Buffer.from(written.ownSummary),
      },
      { transaction },
    );
    const { sealedShare, sealedSummary, ...halves } = written.grant;
    await makeAccess(
      context,
      {
        ...halves,
        messageId: written.id,
        owner: colleague,
        handling: LOOSEST_TERMS,
        floor: LOOSEST_TERMS,
        position: 0,
        address: colleague.address,
        name: colleague.name,
        role: 'to',
        closesAt,
        arrivesAt: sentAt,
        reader: { kind: 'account', account: colleague, sealedShare, sealedSummary },
      },
      transaction,
    );
  });
  return sentAt;
}

/** What this reader wrote, newest first, as long as it opens for them. */
export async function listWritten(context: Context, reader: ReaderRow) {
  const found = await rows<{
    id: string;
    sent_at: Date;
    size: string;
    own_key: Buffer;
    own_summary: Buffer;
    name: string;
    address: string;
    opened: boolean;
  }>(
    context.db,
    `SELECT m.id, m.sent_at, m.size, m.own_key, m.own_summary, a.name, a.address, EXISTS (SELECT 1 FROM grants g WHERE g.message_id = m.id AND g.open_count > 0) AS opened
     FROM messages m JOIN accounts a ON a.id = m.account_id WHERE m.sender_reader_id = $1 AND m.own_key IS NOT NULL AND m.content_blob_id IS NOT NULL ORDER BY m.sent_at DESC, m.id LIMIT ${MAX_LISTED}`,
    [reader.id],
  );
  return found.map((row) => ({
    id: row.id,
    sentAt: row.sent_at,
    size: Number(row.size),
    to: { name: row.name, address: row.address },
    ownKey: new Uint8Array(row.own_key),
    ownSummary: new Uint8Array(row.own_summary),
    opened: row.opened,
  }));
}

export async function readWrittenPart(context: Context, reader: ReaderRow, id: string, index: number): Promise<Bytes> {
  const message = await MessageRow.findOne({
    where: { id, senderReaderId: reader.id },
    attributes: ['contentBlobId', 'size'],
  });
  if (message?.contentBlobId == null || index >= partCount(Number(message.size))) throw notFound('This message');
  return readPart(context, message.contentBlobId, index);
}
