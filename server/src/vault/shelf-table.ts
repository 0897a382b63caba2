/**
 * Sealed items by owner, kind and id, each with a revision, and a manifest for each kind: read as of one moment, written
 * only over what is there. The one way for a worker's vault and for the office book, which lie in tables of their own.
 */
import { type VaultItem } from '@under-lock/contract/vault';
import { type Bytes } from '@under-lock/core/bytes';
import { MOST_STEPS, STEPS } from '@under-lock/core/vault/limits';
import { Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { invalid, Problem } from '../problem';

export interface ShelfTable {
  items: string;
  manifests: string;
  steps: string;
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

/** An item's columns, of `i`, and what is joined for them. */
const columns = ({ isSigned }: ShelfTable): string =>
  `i.id, i.revision, i.updated_at AS "updatedAt", i.sealed${isSigned ? ', b.id AS "byId", b.name AS "byName"' : ''}`;
const writers = ({ isSigned }: ShelfTable): string => (isSigned ? 'LEFT JOIN accounts b ON b.id = i.updated_by' : '');

/** As of one moment: what is read within sees nothing that is written meanwhile. */
export const atOnce = <T>({ db }: Context, read: (transaction: Transaction) => Promise<T>): Promise<T> =>
  db.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ }, read);

interface GivenManifest {
  revision: number;
  whole?: { revision: number; sealed: Bytes };
  steps?: Bytes[];
}

/** The whole is left out where the asker knows it or one of the steps since that are still there. */
async function manifestOf(
  { db }: Context,
  { manifests, steps, owner: column }: ShelfTable,
  owner: Owner,
  kind: string,
  known: number | undefined,
  transaction: Transaction,
): Promise<GivenManifest> {
  const [newest] = await rows<{ revision: number; whole: number; sealed: Buffer | null; follows: boolean }>(
    db,
    `SELECT revision, whole, follows, CASE WHEN follows THEN NULL ELSE sealed END AS sealed FROM (
       SELECT *, $3::int > 0 AND $3 <= revision AND ($3 >= whole OR EXISTS (
         SELECT FROM ${steps} WHERE ${column} = $1 AND kind = $2 AND revision = $3::int + 1)) AS follows
       FROM ${manifests} WHERE ${column} = $1 AND kind = $2) newest`,
    [owner, kind, known ?? 0],
    transaction,
  );
  if (newest === undefined) return { revision: 0 };
  const { revision, whole, sealed, follows } = newest;
  const since = follows ? known! : whole;
  const given = {
    revision,
    ...(sealed === null ? {} : { whole: { revision: whole, sealed: new Uint8Array(sealed) } }),
  };
  if (since === revision) return given;
  const stepped = await rows<{ sealed: Buffer }>(
    db,
    `SELECT sealed FROM ${steps} WHERE ${column} = $1 AND kind = $2 AND revision > $3 ORDER BY revision`,
    [owner, kind, since],
    transaction,
  );
  return { ...given, steps: stepped.map((step) => new Uint8Array(step.sealed)) };
}

/** As {@link manifestOf}, for who has its octets from an earlier page. */
async function manifestRevision(
  { db }: Context,
  { manifests, owner: column }: ShelfTable,
  owner: Owner,
  kind: string,
  transaction: Transaction,
): Promise<GivenManifest> {
  const [newest] = await rows<{ revision: number }>(
    db,
    `SELECT revision FROM ${manifests} WHERE ${column} = $1 AND kind = $2`,
    [owner, kind],
    transaction,
  );
  return { revision: newest?.revision ?? 0 };
}

export interface PageAsked {
  after?: string | undefined;
  known?: number | undefined;
  /** Only what was written under a later manifest than this. */
  since?: number | undefined;
}

/** The next items by the order of their numbers, one more than a page has. What is large lies apart and is not read. */
function lotOf({ items, owner: column, pageItems }: ShelfTable, isSince: boolean): string {
  const where = `${column} = $1 AND kind = $2 AND ($3::uuid IS NULL OR id > $3)`;
  const next = `ORDER BY id LIMIT ${pageItems + 1}`;
  if (!isSince) return `SELECT * FROM ${items} WHERE ${where} ${next}`;
  // By themselves first: in the order of their numbers all there are would be looked through for the few.
  return `SELECT * FROM (SELECT * FROM ${items} WHERE ${where} AND written_under > $4 OFFSET 0) recent ${next}`;
}

/**
 * One page of a kind by the order of their numbers, so that what changes meanwhile neither comes twice nor is left out;
 * `next` where there are more. The manifest's octets come with the first page.
 */
export async function itemPage(
  context: Context,
  table: ShelfTable,
  owner: Owner,
  kind: string,
  { after, known, since }: PageAsked,
  transaction: Transaction,
): Promise<{ items: GivenItem[]; next?: string; manifest: GivenManifest }> {
  const manifest =
    after === undefined
      ? await manifestOf(context, table, owner, kind, known, transaction)
      : await manifestRevision(context, table, owner, kind, transaction);
  const found = await rows<ItemRow & { lot: string }>(
    context.db,
    `SELECT ${columns(table)}, i.lot FROM (
       SELECT *, sum(octet_length(sealed)) OVER before - octet_length(sealed) AS before, row_number() OVER before AS place,
         count(*) OVER () AS lot
       FROM (${lotOf(table, since !== undefined)}) next WINDOW before AS (ORDER BY id)) i ${writers(table)}
     WHERE place = 1 OR (place <= ${table.pageItems} AND before < ${PAGE_BYTES}) ORDER BY i.id`,
    [owner, kind, after ?? null, ...(since === undefined ? [] : [since])],
    transaction,
  );
  const last = found.at(-1);
  const isMore = last !== undefined && Number(last.lot) > found.length;
  return { items: found.map(itemOf), manifest, ...(isMore ? { next: last.id } : {}) };
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
  /** What changes from the one before; where there is none, nothing from before follows on. */
  step?: Uint8Array | undefined;
  whole?: Uint8Array | undefined;
}

/** PostgreSQL's largest integer: no revision comes after it. */
const LAST = 2 ** 31 - 1;

/** Of the steps before a whole one the last are kept, for who was not there meanwhile. */
async function keepStep(
  { db }: Context,
  { steps, owner: column }: ShelfTable,
  [owner, kind, revision]: [Owner, string, number],
  { step, whole }: NextManifest,
  transaction: Transaction,
): Promise<void> {
  if (whole !== undefined)
    await run(
      db,
      `DELETE FROM ${steps} WHERE ${column} = $1 AND kind = $2 AND revision <= $3::int`,
      [owner, kind, step === undefined ? LAST : revision - STEPS],
      transaction,
    );
  if (step !== undefined)
    await run(
      db,
      `INSERT INTO ${steps} (${column}, kind, revision, sealed) VALUES ($1, $2, $3::int + 1, $4)`,
      [owner, kind, revision, Buffer.from(step)],
      transaction,
    );
}

/** @throws Problem `manifest-behind` when `revision` is not the one that is there, or a whole one is due; `invalid-input` */
export async function replaceManifest(
  context: Context,
  table: ShelfTable,
  owner: Owner,
  kind: string,
  next: NextManifest,
  transaction: Transaction,
): Promise<void> {
  const { manifests, owner: column, name } = table;
  const { revision, whole } = next;
  if (revision === 0 && whole === undefined) throw invalid('A kind’s first manifest is written whole');
  const statement =
    revision === 0
      ? `INSERT INTO ${manifests} (${column}, kind, revision, whole, sealed) VALUES ($1, $2, $3::int + 1, $3::int + 1, $4) ON CONFLICT DO NOTHING RETURNING revision`
      : `UPDATE ${manifests} SET revision = revision + 1, whole = CASE WHEN $4::bytea IS NULL THEN whole ELSE revision + 1 END, sealed = coalesce($4, sealed)
          WHERE ${column} = $1 AND kind = $2 AND revision = $3 AND ($4::bytea IS NOT NULL OR revision - whole < ${MOST_STEPS}) RETURNING revision`;
  const of: [Owner, string, number] = [owner, kind, revision];
  const touched = await rows(
    context.db,
    statement,
    [...of, whole === undefined ? null : Buffer.from(whole)],
    transaction,
  );
  if (touched.length === 0) throw new Problem('manifest-behind', 409, `${name} was changed elsewhere`);
  await keepStep(context, table, of, next, transaction);
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
