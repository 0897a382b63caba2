/** New messages that registered readers are writing: sealed to their account, so nobody here can read them. */
import { type listReaderDrafts, MOST_DRAFTS } from '@under-lock/contract/registered';
import { type Reply } from '@under-lock/contract/client';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type ReaderRow } from '../data/models';
import { notFound, Problem } from '../problem';

export const listDrafts = async (context: Context, { id }: ReaderRow): Promise<Reply<typeof listReaderDrafts>> => ({
  drafts: (
    await rows<{ id: string; updatedAt: Date; sealed: Buffer }>(
      context.db,
      'SELECT id, updated_at AS "updatedAt", sealed FROM reader_drafts WHERE reader_id = $1 ORDER BY updated_at DESC, id',
      [id],
    )
  ).map(({ sealed, ...draft }) => ({ ...draft, sealed: new Uint8Array(sealed) })),
});

/** @throws Problem `storage-full` */
export const putDraft = (context: Context, reader: ReaderRow, id: string, sealed: Uint8Array): Promise<void> =>
  context.db.transaction(async (transaction) => {
    // One at a time for each reader, so that two together don't go beyond what there may be.
    await rows(context.db, 'SELECT id FROM readers WHERE id = $1 FOR UPDATE', [reader.id], transaction);
    await run(
      context.db,
      `INSERT INTO reader_drafts (reader_id, id, sealed, updated_at) VALUES ($1, $2, $3, $4)
        ON CONFLICT (reader_id, id) DO UPDATE SET sealed = $3, updated_at = $4`,
      [reader.id, id, Buffer.from(sealed), context.clock()],
      transaction,
    );
    const [kept] = await rows<{ count: number }>(
      context.db,
      'SELECT count(*)::int AS count FROM reader_drafts WHERE reader_id = $1',
      [reader.id],
      transaction,
    );
    if (kept!.count > MOST_DRAFTS)
      throw new Problem('storage-full', 507, 'There are too many drafts', {
        detail: `${MOST_DRAFTS} drafts are kept at most. Send or delete one first.`,
      });
  });

/** @throws Problem `not-found` */
export async function dropDraft(context: Context, { id: readerId }: ReaderRow, id: string): Promise<void> {
  const dropped = await run(context.db, 'DELETE FROM reader_drafts WHERE reader_id = $1 AND id = $2', [readerId, id]);
  if (dropped === 0) throw notFound('This draft');
}
