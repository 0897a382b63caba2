/**
 * The vault's shelves: sealed items by account, kind and id, each with a revision so that two tabs can't overwrite one
 * another.
 */
import { type VaultItem } from '@under-lock/contract/vault';
import { type Bytes } from '@under-lock/core/bytes';
import { isGuarded, type VaultItemKind } from '@under-lock/core/vault/item';
import { Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { VaultItemRow } from '../data/models';
import { Problem } from '../problem';

const MAX_ITEMS = 50_000;
/** What one answer carries; an item that is larger comes alone. */
const PAGE_ITEMS = 200;
const PAGE_BYTES = 3_000_000;

const itemOf = (row: Pick<VaultItemRow, 'id' | 'revision' | 'updatedAt' | 'sealed'>): VaultItem => ({
  id: row.id,
  revision: row.revision,
  updatedAt: row.updatedAt,
  sealed: new Uint8Array(row.sealed),
});

const SUMMARIES: NamedStatement = {
  name: 'sent-summaries',
  sql: `SELECT id, sealed FROM vault_items WHERE account_id = $1 AND kind = 'sent' AND id = ANY($2)`,
};

/** What a sender's vault keeps of each of these messages, sealed; nothing where it keeps none. */
export async function sentSummaries(
  { db }: Context,
  accountId: string,
  ids: readonly string[],
): Promise<(messageId: string) => Uint8Array<ArrayBuffer>> {
  const found = await askedOften<{ id: string; sealed: Buffer }>(db, SUMMARIES, [accountId, ids]);
  const byId = new Map(found.map(({ id, sealed }) => [id, new Uint8Array(sealed)]));
  return (messageId) => byId.get(messageId) ?? new Uint8Array(0);
}

/** As of one moment: what is read within sees nothing that is written meanwhile. */
const atOnce = <T>({ db }: Context, read: (transaction: Transaction) => Promise<T>): Promise<T> =>
  db.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ }, read);

interface GivenManifest {
  revision: number;
  sealed?: Bytes;
}

/** Its octets are left out where the asker has them, and on every page but the first. */
async function manifestOf(
  { db }: Context,
  accountId: string,
  kind: string,
  known: number | undefined,
  transaction: Transaction,
): Promise<GivenManifest> {
  const [row] = await rows<{ revision: number; sealed: Buffer | null }>(
    db,
    'SELECT revision, CASE WHEN revision = $3::int THEN NULL ELSE sealed END AS sealed FROM vault_manifests WHERE account_id = $1 AND kind = $2',
    [accountId, kind, known ?? null],
    transaction,
  );
  return { revision: row?.revision ?? 0, ...(row?.sealed == null ? {} : { sealed: new Uint8Array(row.sealed) }) };
}

type Head = Pick<VaultItemRow, 'id' | 'revision' | 'updatedAt' | 'sealed'>;

/**
 * One page of a kind by the order of their numbers, so that what changes meanwhile neither comes twice nor is left out;
 * `next` where there are more.
 */
export const listItems = (
  context: Context,
  accountId: string,
  kind: string,
  { after, known }: { after?: string | undefined; known?: number | undefined },
) =>
  atOnce(context, async (transaction): Promise<{ items: VaultItem[]; next?: string; manifest: GivenManifest }> => {
    const { sealed, ...given } = await manifestOf(context, accountId, kind, known, transaction);
    const manifest = sealed === undefined || after !== undefined ? given : { ...given, sealed };
    const found = await rows<Head & { more: boolean }>(
      context.db,
      `WITH heads AS (
         SELECT id, sum(size) OVER (ORDER BY id) - size AS before, row_number() OVER (ORDER BY id) AS place
         FROM (SELECT id, octet_length(sealed) AS size FROM vault_items WHERE account_id = $1 AND kind = $2 AND ($3::uuid IS NULL OR id > $3) ORDER BY id LIMIT ${PAGE_ITEMS + 1}) lot),
       page AS (SELECT id FROM heads WHERE place = 1 OR (place <= ${PAGE_ITEMS} AND before < ${PAGE_BYTES}))
       SELECT i.id, i.revision, i.updated_at AS "updatedAt", i.sealed, (SELECT count(*) FROM heads) > (SELECT count(*) FROM page) AS more
       FROM page JOIN vault_items i ON i.account_id = $1 AND i.kind = $2 AND i.id = page.id ORDER BY i.id`,
      [accountId, kind, after ?? null],
      transaction,
    );
    const last = found.at(-1);
    return { items: found.map(itemOf), manifest, ...(last?.more === true ? { next: last.id } : {}) };
  });

export const getItem = (context: Context, accountId: string, kind: string, id: string, known?: number) =>
  atOnce(context, async (transaction): Promise<{ item?: VaultItem; manifest: GivenManifest }> => {
    const manifest = await manifestOf(context, accountId, kind, known, transaction);
    const row = await VaultItemRow.findOne({ where: { accountId, kind, id }, transaction });
    return { manifest, ...(row === null ? {} : { item: itemOf(row) }) };
  });

export interface NextManifest {
  revision: number;
  sealed: Uint8Array;
}
export interface NewItem {
  accountId: string;
  kind: VaultItemKind;
  id: string;
  revision: number;
  sealed: Uint8Array;
  manifest?: NextManifest | undefined;
}

/** @throws Problem `manifest-behind` when `revision` is not the one that is there */
export async function putManifest(
  context: Context,
  accountId: string,
  kind: string,
  { revision, sealed }: NextManifest,
  transaction?: Transaction,
): Promise<void> {
  const statement =
    revision === 0
      ? 'INSERT INTO vault_manifests (account_id, kind, revision, sealed) VALUES ($1, $2, $3::int + 1, $4) ON CONFLICT DO NOTHING RETURNING revision'
      : 'UPDATE vault_manifests SET revision = revision + 1, sealed = $4 WHERE account_id = $1 AND kind = $2 AND revision = $3 RETURNING revision';
  const touched = await rows(context.db, statement, [accountId, kind, revision, Buffer.from(sealed)], transaction);
  if (touched.length === 0) throw new Problem('manifest-behind', 409, 'The vault was changed elsewhere');
}

/** @throws Problem `storage-full` */
async function requireRoom({ db, config }: Context, accountId: string, transaction: Transaction): Promise<void> {
  const { vaultBytes } = config.office;
  const [used] = await rows<{ bytes: string; items: number }>(
    db,
    'SELECT bytes, items FROM vault_usage WHERE account_id = $1',
    [accountId],
    transaction,
  );
  if (used === undefined || (Number(used.bytes) <= vaultBytes && used.items <= MAX_ITEMS)) return;
  const most = Number(used.bytes) > vaultBytes ? `${Math.round(vaultBytes / 1_000_000)} MB` : `${MAX_ITEMS} things`;
  throw new Problem('storage-full', 507, 'The vault is full', {
    detail: `Your vault holds ${most}, the most there is for one person, so this was not kept. Delete drafts and messages you no longer need, or ask your administrator for more room.`,
  });
}

/** Stores the next revision. @throws Problem `conflict` when `revision` is not the one that is there; `storage-full` */
export function putItem(context: Context, item: NewItem, transaction?: Transaction): Promise<number> {
  const put = async (within: Transaction): Promise<number> => {
    const { accountId, kind, id, revision, sealed, manifest } = item;
    if (manifest !== undefined) await putManifest(context, accountId, kind, manifest, within);
    // A page from before manifests would leave the vault in a state that its other pages refuse.
    else if (isGuarded(kind))
      throw new Problem('invalid-input', 400, 'This page is from an earlier version; load it again');
    const statement =
      revision === 0
        ? `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, $2, $3, $4::int + 1, $5, $6) ON CONFLICT DO NOTHING RETURNING revision`
        : `UPDATE vault_items SET revision = revision + 1, updated_at = $5, sealed = $6 WHERE account_id = $1 AND kind = $2 AND id = $3 AND revision = $4 RETURNING revision`;
    const [row] = await rows<{ revision: number }>(
      context.db,
      statement,
      [accountId, kind, id, revision, context.clock(), Buffer.from(sealed)],
      within,
    );
    if (row === undefined) throw new Problem('conflict', 409, 'This was changed elsewhere');
    await requireRoom(context, accountId, within);
    return row.revision;
  };
  return transaction === undefined ? context.db.transaction(put) : put(transaction);
}

export const dropItem = (
  context: Context,
  { accountId, kind, id, manifest }: Pick<NewItem, 'accountId' | 'kind' | 'id'> & { manifest: NextManifest },
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await putManifest(context, accountId, kind, manifest, transaction);
    await run(
      context.db,
      'DELETE FROM vault_items WHERE account_id = $1 AND kind = $2 AND id = $3',
      [accountId, kind, id],
      transaction,
    );
  });
