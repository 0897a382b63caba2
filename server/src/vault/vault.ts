/** The vault's shelves: sealed items by account, kind and id, each with a revision so that two tabs can't overwrite one another. */
import { type VaultItem } from '@under-lock/contract/vault';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { VaultItemRow } from '../data/models';
import { Problem } from '../problem';

const MAX_ITEMS = 50_000;
/** What one answer carries; an item that is larger comes alone. */
const PAGE_ITEMS = 200;
const PAGE_BYTES = 3_000_000;

const itemOf = (row: Pick<VaultItemRow, 'id' | 'revision' | 'updatedAt' | 'sealed'>): VaultItem => ({ id: row.id, revision: row.revision, updatedAt: row.updatedAt, sealed: new Uint8Array(row.sealed) });

/** One page of a kind by the order of their numbers, so that what changes meanwhile neither comes twice nor is left out; `next` where there are more. */
export async function listItems(context: Context, accountId: string, kind: string, after: string | undefined): Promise<{ items: VaultItem[]; next?: string }> {
  const found = await rows<Pick<VaultItemRow, 'id' | 'revision' | 'updatedAt' | 'sealed'> & { more: boolean }>(
    context.db,
    `WITH heads AS (
       SELECT id, sum(size) OVER (ORDER BY id) - size AS before, row_number() OVER (ORDER BY id) AS place
       FROM (SELECT id, octet_length(sealed) AS size FROM vault_items WHERE account_id = $1 AND kind = $2 AND ($3::uuid IS NULL OR id > $3) ORDER BY id LIMIT ${PAGE_ITEMS + 1}) lot),
     page AS (SELECT id FROM heads WHERE place = 1 OR (place <= ${PAGE_ITEMS} AND before < ${PAGE_BYTES}))
     SELECT i.id, i.revision, i.updated_at AS "updatedAt", i.sealed, (SELECT count(*) FROM heads) > (SELECT count(*) FROM page) AS more
     FROM page JOIN vault_items i ON i.account_id = $1 AND i.kind = $2 AND i.id = page.id ORDER BY i.id`,
    [accountId, kind, after ?? null],
  );
  const last = found.at(-1);
  return { items: found.map(itemOf), ...(last?.more === true ? { next: last.id } : {}) };
}

export async function getItem(accountId: string, kind: string, id: string): Promise<{ item?: VaultItem }> {
  const row = await VaultItemRow.findOne({ where: { accountId, kind, id } });
  return row === null ? {} : { item: itemOf(row) };
}

export interface NewItem { accountId: string; kind: string; id: string; revision: number; sealed: Uint8Array }

/** @throws Problem `storage-full` */
async function requireRoom({ db, config }: Context, accountId: string, transaction: Transaction): Promise<void> {
  const { vaultBytes } = config.office;
  const [used] = await rows<{ bytes: string; items: number }>(db, 'SELECT bytes, items FROM vault_usage WHERE account_id = $1', [accountId], transaction);
  if (used === undefined || (Number(used.bytes) <= vaultBytes && used.items <= MAX_ITEMS)) return;
  const most = Number(used.bytes) > vaultBytes ? `${Math.round(vaultBytes / 1_000_000)} MB` : `${MAX_ITEMS} things`;
  throw new Problem('storage-full', 507, 'The vault is full', { detail: `Your vault holds ${most}, the most there is for one person, so this was not kept. Delete drafts and messages you no longer need, or ask your administrator for more room.` });
}

/** Stores the next revision. @throws Problem `conflict` when `revision` is not the one that is there; `storage-full` */
export function putItem(context: Context, item: NewItem, transaction?: Transaction): Promise<number> {
  const put = async (within: Transaction): Promise<number> => {
    const { accountId, kind, id, revision, sealed } = item;
    const statement =
      revision === 0
        ? `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, $2, $3, $4::int + 1, $5, $6) ON CONFLICT DO NOTHING RETURNING revision`
        : `UPDATE vault_items SET revision = revision + 1, updated_at = $5, sealed = $6 WHERE account_id = $1 AND kind = $2 AND id = $3 AND revision = $4 RETURNING revision`;
    const [row] = await rows<{ revision: number }>(context.db, statement, [accountId, kind, id, revision, context.clock(), Buffer.from(sealed)], within);
    if (row === undefined) throw new Problem('conflict', 409, 'This was changed elsewhere');
    await requireRoom(context, accountId, within);
    return row.revision;
  };
  return transaction === undefined ? context.db.transaction(put) : put(transaction);
}

export const deleteItem = (context: Context, accountId: string, kind: string, id: string): Promise<number> =>
  run(context.db, 'DELETE FROM vault_items WHERE account_id = $1 AND kind = $2 AND id = $3', [accountId, kind, id]);
