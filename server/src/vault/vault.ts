/** The vault's shelves: sealed items by account, kind and id, each with a revision so that two tabs can't overwrite one another. */
import { type VaultItem } from '@under-lock/contract/vault';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { VaultItemRow } from '../data/models';
import { Problem } from '../problem';

const MAX_ITEMS = 5000;

const itemOf = (row: VaultItemRow): VaultItem => ({ id: row.id, revision: row.revision, updatedAt: row.updatedAt, sealed: new Uint8Array(row.sealed) });

export async function listItems(accountId: string, kind: string): Promise<VaultItem[]> {
  return (await VaultItemRow.findAll({ where: { accountId, kind }, order: [['updatedAt', 'DESC']], limit: MAX_ITEMS })).map(itemOf);
}

export async function getItem(accountId: string, kind: string, id: string): Promise<{ item?: VaultItem }> {
  const row = await VaultItemRow.findOne({ where: { accountId, kind, id } });
  return row === null ? {} : { item: itemOf(row) };
}

export interface NewItem { accountId: string; kind: string; id: string; revision: number; sealed: Uint8Array }

/** Stores the next revision. @throws Problem `conflict` when `revision` is not the one that is there. */
export async function putItem(context: Context, { accountId, kind, id, revision, sealed }: NewItem, transaction?: Transaction): Promise<number> {
  const bind = [accountId, kind, id, revision, context.clock(), Buffer.from(sealed)];
  const statement =
    revision === 0
      ? `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, $2, $3, $4::int + 1, $5, $6) ON CONFLICT DO NOTHING RETURNING revision`
      : `UPDATE vault_items SET revision = revision + 1, updated_at = $5, sealed = $6 WHERE account_id = $1 AND kind = $2 AND id = $3 AND revision = $4 RETURNING revision`;
  const [row] = await rows<{ revision: number }>(context.db, statement, bind, transaction);
  if (row === undefined) throw new Problem('conflict', 409, 'This was changed elsewhere');
  return row.revision;
}

export const deleteItem = (context: Context, accountId: string, kind: string, id: string): Promise<number> =>
  run(context.db, 'DELETE FROM vault_items WHERE account_id = $1 AND kind = $2 AND id = $3', [accountId, kind, id]);
