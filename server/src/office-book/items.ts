/** The office book's items: as a vault's (`vault/vault.ts`), written by several people, each under the office's newest key. */
import { MAX_BOOK_BYTES, MOST_IN_BOOK } from '@under-lock/contract/office-book';
import { type Bytes } from '@under-lock/core/bytes';
import { Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { Problem } from '../problem';
import { type NextManifest } from '../vault/vault';
import { requireEpoch, requireMember } from './members';

const PAGE_ITEMS = 500;
/** What one answer carries; an item that is larger comes alone. */
const PAGE_BYTES = 3_000_000;

interface ItemRow {
  id: string;
  revision: number;
  updatedAt: Date;
  byId: string | null;
  byName: string | null;
  sealed: Buffer;
}

const itemOf = ({ id, revision, updatedAt, byId, byName, sealed }: ItemRow) => ({
  id,
  revision,
  updatedAt,
  sealed: new Uint8Array(sealed),
  ...(byId === null ? {} : { by: { id: byId, name: byName ?? '' } }),
});

const ITEM = 'i.id, i.revision, i.updated_at AS "updatedAt", a.id AS "byId", a.name AS "byName", i.sealed';

const atOnce = <T>({ db }: Context, read: (transaction: Transaction) => Promise<T>): Promise<T> =>
  db.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ }, read);

async function manifestOf(
  { db }: Context,
  epoch: number,
  kind: string,
  known: number | undefined,
  transaction: Transaction,
): Promise<{ revision: number; sealed?: Bytes }> {
  const [row] = await rows<{ revision: number; sealed: Buffer | null }>(
    db,
    'SELECT revision, CASE WHEN revision = $3::int THEN NULL ELSE sealed END AS sealed FROM office_manifests WHERE epoch = $1 AND kind = $2',
    [epoch, kind, known ?? null],
    transaction,
  );
  return { revision: row?.revision ?? 0, ...(row?.sealed == null ? {} : { sealed: new Uint8Array(row.sealed) }) };
}

/** One page by the order of their numbers. @throws Problem `not-member` */
export const listBookItems = (
  context: Context,
  accountId: string,
  kind: string,
  { after, known }: { after?: string | undefined; known?: number | undefined },
) =>
  atOnce(context, async (transaction) => {
    const epoch = await requireMember(context, accountId, transaction);
    const { sealed, ...given } = await manifestOf(context, epoch, kind, known, transaction);
    const manifest = sealed === undefined || after !== undefined ? given : { ...given, sealed };
    const found = await rows<ItemRow & { more: boolean }>(
      context.db,
      `WITH heads AS (
         SELECT id, sum(size) OVER (ORDER BY id) - size AS before, row_number() OVER (ORDER BY id) AS place
         FROM (SELECT id, octet_length(sealed) AS size FROM office_items WHERE epoch = $1 AND kind = $2 AND ($3::uuid IS NULL OR id > $3) ORDER BY id LIMIT ${PAGE_ITEMS + 1}) lot),
       page AS (SELECT id FROM heads WHERE place = 1 OR (place <= ${PAGE_ITEMS} AND before < ${PAGE_BYTES}))
       SELECT ${ITEM}, (SELECT count(*) FROM heads) > (SELECT count(*) FROM page) AS more
       FROM page JOIN office_items i ON i.epoch = $1 AND i.kind = $2 AND i.id = page.id LEFT JOIN accounts a ON a.id = i.updated_by ORDER BY i.id`,
      [epoch, kind, after ?? null],
      transaction,
    );
    const last = found.at(-1);
    return { epoch, items: found.map(itemOf), manifest, ...(last?.more === true ? { next: last.id } : {}) };
  });

/** @throws Problem `not-member` */
export const getBookItem = (context: Context, accountId: string, kind: string, id: string, known?: number) =>
  atOnce(context, async (transaction) => {
    const epoch = await requireMember(context, accountId, transaction);
    const manifest = await manifestOf(context, epoch, kind, known, transaction);
    const [row] = await rows<ItemRow>(
      context.db,
      `SELECT ${ITEM} FROM office_items i LEFT JOIN accounts a ON a.id = i.updated_by WHERE i.epoch = $1 AND i.kind = $2 AND i.id = $3`,
      [epoch, kind, id],
      transaction,
    );
    return { epoch, manifest, ...(row === undefined ? {} : { item: itemOf(row) }) };
  });

async function replaceManifest(
  { db }: Context,
  epoch: number,
  kind: string,
  { revision, sealed }: NextManifest,
  transaction: Transaction,
): Promise<void> {
  const statement =
    revision === 0
      ? 'INSERT INTO office_manifests (epoch, kind, revision, sealed) VALUES ($1, $2, $3::int + 1, $4) ON CONFLICT DO NOTHING RETURNING revision'
      : 'UPDATE office_manifests SET revision = revision + 1, sealed = $4 WHERE epoch = $1 AND kind = $2 AND revision = $3 RETURNING revision';
  const touched = await rows(db, statement, [epoch, kind, revision, Buffer.from(sealed)], transaction);
  if (touched.length === 0) throw new Problem('manifest-behind', 409, 'The office book was changed elsewhere');
}

/** @throws Problem `storage-full` */
async function requireRoom({ db }: Context, epoch: number, transaction: Transaction): Promise<void> {
  const [used] = await rows<{ items: number; bytes: string }>(
    db,
    'SELECT count(*)::int AS items, coalesce(sum(octet_length(sealed)), 0) AS bytes FROM office_items WHERE epoch = $1',
    [epoch],
    transaction,
  );
  if (used!.items > MOST_IN_BOOK || Number(used!.bytes) > MAX_BOOK_BYTES)
    throw new Problem('storage-full', 507, 'The office book is full', {
      detail: `It holds ${MOST_IN_BOOK.toLocaleString('en-GB')} people and ${MAX_BOOK_BYTES / 1_000_000} MB at most, so this was not kept. Take out people whom nobody writes to.`,
    });
}

interface Place {
  kind: string;
  id: string;
  epoch: number;
}

/** @throws Problem `not-member`, `key-renewed`, `manifest-behind`, `conflict`, `storage-full` */
export const putBookItem = (
  context: Context,
  by: AccountRow,
  { kind, id, epoch }: Place,
  { revision, sealed, manifest }: { revision: number; sealed: Uint8Array; manifest: NextManifest },
): Promise<number> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await replaceManifest(context, epoch, kind, manifest, transaction);
    const statement =
      revision === 0
        ? 'INSERT INTO office_items (epoch, kind, id, revision, updated_at, updated_by, sealed) VALUES ($1, $2, $3, $4::int + 1, $5, $6, $7) ON CONFLICT DO NOTHING RETURNING revision'
        : 'UPDATE office_items SET revision = revision + 1, updated_at = $5, updated_by = $6, sealed = $7 WHERE epoch = $1 AND kind = $2 AND id = $3 AND revision = $4 RETURNING revision';
    const [row] = await rows<{ revision: number }>(
      context.db,
      statement,
      [epoch, kind, id, revision, context.clock(), by.id, Buffer.from(sealed)],
      transaction,
    );
    if (row === undefined) throw new Problem('conflict', 409, 'This was changed elsewhere');
    if (revision === 0) await requireRoom(context, epoch, transaction);
    return row.revision;
  });

/** @throws Problem `not-member`, `key-renewed`, `manifest-behind` */
export const dropBookItem = (
  context: Context,
  by: AccountRow,
  { kind, id, epoch }: Place,
  manifest: NextManifest,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await replaceManifest(context, epoch, kind, manifest, transaction);
    await run(
      context.db,
      'DELETE FROM office_items WHERE epoch = $1 AND kind = $2 AND id = $3',
      [epoch, kind, id],
      transaction,
    );
  });
