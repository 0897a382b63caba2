/**
 * Sealed items by owner, kind and id, each with a revision, and a manifest for each kind: read as of one moment, written
 * only over what is there. The one way for a worker's vault and for the office book, which lie in tables of their own.
 */
import { type VaultItem } from '@under-lock/contract/vault';
import { type Bytes } from '@under-lock/core/bytes';
import { Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

export interface ShelfTable {
  items: string;
  manifests: string;
  /** The column of whose they are. */
  owner: string;
  /** What one answer carries. */
  pageItems: number;
  /** It keeps who wrote each item last. */
  isSigned: boolean;
  /** Of the whole, at the head of a sentence. */
  name: string;
}

/** Whose shelf: a worker's account, or the epoch of the office's key. */
type Owner = string | number;

/** Beside `pageItems`; an item that is larger comes alone. */
const PAGE_BYTES = 3_000_000;

interface ItemRow {
  id: string;
  revision: number;
  updatedAt: Date;
  sealed: Buffer;
  byId?: string | null;
  byName?: string | null;
}

interface GivenItem extends VaultItem {
  by?: { id: string; name: string };
}

const itemOf = ({ id, revision, updatedAt, sealed, byId, byName }: ItemRow): GivenItem => ({
  id,
  revision,
  updatedAt,
  sealed: new Uint8Array(sealed),
  ...(byId == null ? {} : { by: { id: byId, name: byName ?? '' } }),
});

/** An item's columns, and what is joined for them. */
const columns = ({ isSigned }: ShelfTable): string =>
  `i.id, i.revision, i.updated_at AS "updatedAt", i.sealed${isSigned ? ', b.id AS "byId", b.name AS "byName"' : ''}`;
const writers = ({ isSigned }: ShelfTable): string => (isSigned ? 'LEFT JOIN accounts b ON b.id = i.updated_by' : '');

/** As of one moment: what is read within sees nothing that is written meanwhile. */
export const atOnce = <T>({ db }: Context, read: (transaction: Transaction) => Promise<T>): Promise<T> =>
  db.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ }, read);

interface GivenManifest {
  revision: number;
  sealed?: Bytes;
}

/** Its octets are left out where the asker has them. */
async function manifestOf(
  { db }: Context,
  { manifests, owner: column }: ShelfTable,
  owner: Owner,
  kind: string,
  known: number | undefined,
  transaction: Transaction,
): Promise<GivenManifest> {
  const [row] = await rows<{ revision: number; sealed: Buffer | null }>(
    db,
    `SELECT revision, CASE WHEN revision = $3::int THEN NULL ELSE sealed END AS sealed FROM ${manifests} WHERE ${column} = $1 AND kind = $2`,
    [owner, kind, known ?? null],
    transaction,
  );
  return { revision: row?.revision ?? 0, ...(row?.sealed == null ? {} : { sealed: new Uint8Array(row.sealed) }) };
}

export interface PageAsked {
  after?: string | undefined;
  known?: number | undefined;
  /** Only what was written under a later manifest than this. */
  since?: number | undefined;
}

/**
 * One page of a kind by the order of their numbers, so that what changes meanwhile neither comes twice nor is left out;
 * `next` where there are more. The manifest's octets come with the first page. The page's items are looked up as a list
 * of numbers: joined, each would look through the whole table while the database has not counted it yet, as after many
 * were written at once.
 */
export async function itemPage(
  context: Context,
  table: ShelfTable,
  owner: Owner,
  kind: string,
  { after, known, since }: PageAsked,
  transaction: Transaction,
): Promise<{ items: GivenItem[]; next?: string; manifest: GivenManifest }> {
  const { sealed, ...given } = await manifestOf(context, table, owner, kind, known, transaction);
  const manifest = sealed === undefined || after !== undefined ? given : { ...given, sealed };
  const { items, owner: column, pageItems } = table;
  const found = await rows<ItemRow & { more: boolean }>(
    context.db,
    `WITH heads AS (
       SELECT id, sum(size) OVER (ORDER BY id) - size AS before, row_number() OVER (ORDER BY id) AS place
       FROM (SELECT id, octet_length(sealed) AS size FROM ${items} WHERE ${column} = $1 AND kind = $2 AND ($3::uuid IS NULL OR id > $3) AND ($4::int IS NULL OR written_under > $4) ORDER BY id LIMIT ${pageItems + 1}) lot),
     page AS (SELECT id FROM heads WHERE place = 1 OR (place <= ${pageItems} AND before < ${PAGE_BYTES}))
     SELECT ${columns(table)}, (SELECT count(*) FROM heads) > (SELECT count(*) FROM page) AS more
     FROM ${items} i ${writers(table)}
     WHERE i.${column} = $1 AND i.kind = $2 AND i.id = ANY(ARRAY(SELECT id FROM page)) ORDER BY i.id`,
    [owner, kind, after ?? null, since ?? null],
    transaction,
  );
  const last = found.at(-1);
  return { items: found.map(itemOf), manifest, ...(last?.more === true ? { next: last.id } : {}) };
}

export async function oneItem(
  context: Context,
  table: ShelfTable,
  owner: Owner,
  { kind, id, known }: { kind: string; id: string; known?: number | undefined },
  transaction: Transaction,
): Promise<{ item?: GivenItem; manifest: GivenManifest }> {
  const manifest = await manifestOf(context, table, owner, kind, known, transaction);
  const [row] = await rows<ItemRow>(
    context.db,
    `SELECT ${columns(table)} FROM ${table.items} i ${writers(table)} WHERE i.${table.owner} = $1 AND i.kind = $2 AND i.id = $3`,
    [owner, kind, id],
    transaction,
  );
  return { manifest, ...(row === undefined ? {} : { item: itemOf(row) }) };
}

export interface NextManifest {
  revision: number;
  sealed: Uint8Array;
}

/** @throws Problem `manifest-behind` when `revision` is not the one that is there */
export async function replaceManifest(
  { db }: Context,
  { manifests, owner: column, name }: ShelfTable,
  owner: Owner,
  kind: string,
  { revision, sealed }: NextManifest,
  transaction?: Transaction,
): Promise<void> {
  const statement =
    revision === 0
      ? `INSERT INTO ${manifests} (${column}, kind, revision, sealed) VALUES ($1, $2, $3::int + 1, $4) ON CONFLICT DO NOTHING RETURNING revision`
      : `UPDATE ${manifests} SET revision = revision + 1, sealed = $4 WHERE ${column} = $1 AND kind = $2 AND revision = $3 RETURNING revision`;
  const touched = await rows(db, statement, [owner, kind, revision, Buffer.from(sealed)], transaction);
  if (touched.length === 0) throw new Problem('manifest-behind', 409, `${name} was changed elsewhere`);
}

export interface Written {
  kind: string;
  id: string;
  /** The one it replaces, 0 for a new item. */
  revision: number;
  sealed: Uint8Array;
  /** Whose account wrote it, where that is kept. */
  by?: string;
  /** The revision of the manifest that is written with it, where there is one. */
  under?: number | undefined;
}

/** Stores the next revision. @throws Problem `conflict` when `revision` is not the one that is there */
export async function replaceItem(
  { db, clock }: Context,
  { items, owner: column, isSigned }: ShelfTable,
  owner: Owner,
  { kind, id, revision, sealed, by, under = 0 }: Written,
  transaction: Transaction,
): Promise<number> {
  const statement =
    revision === 0
      ? `INSERT INTO ${items} (${column}, kind, id, revision, updated_at, sealed, written_under${isSigned ? ', updated_by' : ''}) VALUES ($1, $2, $3, $4::int + 1, $5, $6, $7${isSigned ? ', $8' : ''}) ON CONFLICT DO NOTHING RETURNING revision`
      : `UPDATE ${items} SET revision = revision + 1, updated_at = $5, sealed = $6, written_under = $7${isSigned ? ', updated_by = $8' : ''} WHERE ${column} = $1 AND kind = $2 AND id = $3 AND revision = $4 RETURNING revision`;
  const [row] = await rows<{ revision: number }>(
    db,
    statement,
    [owner, kind, id, revision, clock(), Buffer.from(sealed), under, ...(isSigned ? [by ?? null] : [])],
    transaction,
  );
  if (row === undefined) throw new Problem('conflict', 409, 'This was changed elsewhere');
  return row.revision;
}

export const deleteItem = async (
  { db }: Context,
  { items, owner: column }: ShelfTable,
  owner: Owner,
  { kind, id }: { kind: string; id: string },
  transaction: Transaction,
): Promise<void> =>
  void (await run(
    db,
    `DELETE FROM ${items} WHERE ${column} = $1 AND kind = $2 AND id = $3`,
    [owner, kind, id],
    transaction,
  ));
