/**
 * Sealed bytes in parts. A part may arrive twice, parts may arrive in any order; a blob counts once all its bytes are
 * there.
 */
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { type Bytes } from '@under-lock/core/bytes';
import { roomLock } from '@under-lock/core/locks/room/index';
import { CONTENT_START } from '@under-lock/core/locks/room/recognise';
import { type Context } from '../context';
import { askedOften, rows, run } from '../data/database';
import { BlobRow } from '../data/models';
import { invalid, notFound, Problem } from '../problem';

/** What one reader may have lying around of replies that were never sent. */
const MAX_READER_BLOBS = 4;
/** What one worker may have lying around unsent: a dozen full drafts. */
const MAX_ACCOUNT_BYTES = 2_000_000_000;

/** `b` is what a message, a copy, a mail that came in or what waits to be let go consists of. */
const HELD =
  "(EXISTS (SELECT 1 FROM messages m WHERE m.content_blob_id = b.id) OR EXISTS (SELECT 1 FROM copies c WHERE c.blob_id = b.id) OR EXISTS (SELECT 1 FROM incoming i WHERE i.blob_id = b.id) OR EXISTS (SELECT 1 FROM handed_in h WHERE h.blob_id = b.id) OR EXISTS (SELECT 1 FROM releases r WHERE r.state = 'waiting' AND b.id = ANY(r.blob_ids)))";

export async function ownBlob(accountId: string, id: string): Promise<BlobRow> {
  const blob = await BlobRow.findOne({ where: { id, accountId, grantId: null, leftId: null } });
  if (blob === null) throw notFound('This upload');
  return blob;
}

export async function receivedParts(context: Context, blobId: string): Promise<number[]> {
  return (
    await rows<{ index: number }>(context.db, 'SELECT index FROM blob_parts WHERE blob_id = $1 ORDER BY index', [
      blobId,
    ])
  ).map(({ index }) => index);
}

/** Begins an upload or takes one up again; says which parts are there. */
export async function startBlob(context: Context, accountId: string, id: string, size: number): Promise<number[]> {
  const [used] = await rows<{ bytes: string }>(
    context.db,
    `SELECT coalesce(sum(size), 0) AS bytes FROM blobs b WHERE account_id = $1 AND grant_id IS NULL AND left_id IS NULL AND id <> $2 AND NOT ${HELD}`,
    [accountId, id],
  );
  if (Number(used!.bytes) + size > MAX_ACCOUNT_BYTES)
    throw new Problem('storage-full', 507, 'There is no room for more unsent files');
  await run(
    context.db,
    'INSERT INTO blobs (id, account_id, size, created_at) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
    [id, accountId, size, context.clock()],
  );
  const blob = await ownBlob(accountId, id);
  if (Number(blob.size) !== size) throw new Problem('conflict', 409, 'This upload was begun with another size');
  return receivedParts(context, id);
}

export async function readersBlob(grantId: string, id: string): Promise<BlobRow> {
  const blob = await BlobRow.findOne({ where: { id, grantId } });
  if (blob === null) throw notFound('This upload');
  return blob;
}

/** The same for a reply being written from an access. */
export async function startReadersBlob(
  context: Context,
  grant: { id: string; accountId: string },
  id: string,
  size: number,
): Promise<number[]> {
  const [lying] = await rows<{ count: number }>(
    context.db,
    `SELECT count(*)::int AS count FROM blobs b WHERE grant_id = $1 AND id <> $2 AND NOT EXISTS (SELECT 1 FROM messages m WHERE m.content_blob_id = b.id)`,
    [grant.id, id],
  );
  // The oldest that came to nothing make room.
  if (lying!.count >= MAX_READER_BLOBS) {
    await run(
      context.db,
      `DELETE FROM blobs WHERE id IN (SELECT b.id FROM blobs b WHERE grant_id = $1 AND id <> $2 AND NOT EXISTS (SELECT 1 FROM messages m WHERE m.content_blob_id = b.id) ORDER BY created_at LIMIT 1)`,
      [grant.id, id],
    );
  }
  await run(
    context.db,
    'INSERT INTO blobs (id, account_id, grant_id, size, created_at) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING',
    [id, grant.accountId, grant.id, size, context.clock()],
  );
  const blob = await readersBlob(grant.id, id);
  if (Number(blob.size) !== size) throw new Problem('conflict', 409, 'This upload was begun with another size');
  return receivedParts(context, id);
}

export const partLength = (size: number, index: number): number =>
  Math.max(0, Math.min(PART_BYTES, size - index * PART_BYTES));

export async function putPart(context: Context, blob: BlobRow, index: number, bytes: Uint8Array): Promise<void> {
  const { id } = blob;
  const expected = partLength(Number(blob.size), index);
  if (index >= partCount(Number(blob.size)) || bytes.length !== expected)
    throw invalid(`Part ${index} must have ${expected} bytes and has ${bytes.length}.`);
  // Asked in the statement that writes, under the row's lock: whoever freezes it waits for us, or we find it frozen.
  const [written] = await rows(
    context.db,
    `INSERT INTO blob_parts (blob_id, index, bytes) SELECT b.id, $2, $3 FROM blobs b WHERE b.id = $1 AND b.frozen_at IS NULL AND NOT ${HELD} FOR SHARE OF b
     ON CONFLICT (blob_id, index) DO UPDATE SET bytes = EXCLUDED.bytes RETURNING index`,
    [id, index, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)],
  );
  if (written === undefined)
    throw new Problem('conflict', 409, 'This content has been sent and is not changed any more');
}

const PART = { name: 'blob-part', sql: 'SELECT bytes FROM blob_parts WHERE blob_id = $1 AND index = $2' };

/** @throws Problem `not-found`. */
export async function readPart(context: Context, blobId: string, index: number): Promise<Bytes> {
  const [part] = await askedOften<{ bytes: Buffer }>(context.db, PART, [blobId, index]);
  if (part === undefined) throw notFound('This part');
  return new Uint8Array(part.bytes.buffer as ArrayBuffer, part.bytes.byteOffset, part.bytes.byteLength);
}

/** All parts of what has arrived completely. */
export async function wholeBlob(context: Context, blobId: string, size: number): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for (let index = 0; index < partCount(size); index++) parts.push(await readPart(context, blobId, index));
  return Buffer.concat(parts);
}

/**
 * All of it is there, and from here on nothing is written to it: what is judged and sent is what arrived. @throws
 * Problem `upload-incomplete`
 */
export async function completeAndFrozen(context: Context, blob: BlobRow): Promise<void> {
  const received = await receivedParts(context, blob.id);
  if (received.length !== partCount(Number(blob.size)))
    throw new Problem('upload-incomplete', 409, 'The content has not arrived completely');
  await run(context.db, 'UPDATE blobs SET frozen_at = coalesce(frozen_at, $2) WHERE id = $1', [
    blob.id,
    context.clock(),
  ]);
}

/**
 * The same for a message's content, which must be under the room's lock. @throws Problem `upload-incomplete`,
 * `invalid-input`
 */
export async function contentCompleteAndFrozen(context: Context, blob: BlobRow): Promise<void> {
  await completeAndFrozen(context, blob);
  const [part] = await rows<{ start: Buffer }>(
    context.db,
    'SELECT substring(bytes from 1 for $2) AS start FROM blob_parts WHERE blob_id = $1 AND index = 0',
    [blob.id, CONTENT_START],
  );
  if (part === undefined || !(await roomLock.recognise(part.start, Number(blob.size))))
    throw invalid('The content is not sealed as the reading room holds it.');
}

/** Deletes an upload that nothing holds. */
export async function deleteBlob(context: Context, accountId: string, id: string): Promise<void> {
  await run(context.db, `DELETE FROM blobs b WHERE id = $1 AND account_id = $2 AND left_id IS NULL AND NOT ${HELD}`, [
    id,
    accountId,
  ]);
}
