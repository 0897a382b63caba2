/**
 * The vault's shelves: sealed items by account, kind and id, each with a revision so that two tabs can't overwrite one
 * another.
 */
import { isGuarded, type VaultItemKind } from '@under-lock/core/vault/item';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows } from '../data/database';
import { Problem } from '../problem';
import {
  atOnce,
  deleteItem,
  itemPage,
  type NextManifest,
  oneItem,
  type PageAsked,
  replaceItem,
  replaceManifest,
  type ShelfTable,
} from './shelf-table';

const MAX_ITEMS = 50_000;

const VAULT: ShelfTable = {
  items: 'vault_items',
  manifests: 'vault_manifests',
  steps: 'vault_manifest_steps',
  owner: 'account_id',
  pageItems: 200,
  isSigned: false,
  name: 'The vault',
};

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

export const listItems = (context: Context, accountId: string, kind: string, asked: PageAsked) =>
  atOnce(context, (transaction) => itemPage(context, VAULT, accountId, kind, asked, transaction));

export const getItem = (context: Context, accountId: string, kind: string, id: string, known?: number) =>
  atOnce(context, (transaction) => oneItem(context, VAULT, accountId, { kind, id, known }, transaction));

export interface NewItem {
  accountId: string;
  kind: VaultItemKind;
  id: string;
  revision: number;
  sealed: Uint8Array;
  manifest?: NextManifest | undefined;
}

/** @throws Problem `manifest-behind` when `revision` is not the one that is there */
export const putManifest = (
  context: Context,
  accountId: string,
  kind: string,
  next: NextManifest,
  transaction?: Transaction,
): Promise<void> =>
  transaction === undefined
    ? context.db.transaction((within) => replaceManifest(context, VAULT, accountId, kind, next, within))
    : replaceManifest(context, VAULT, accountId, kind, next, transaction);

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
export function putItem(
  context: Context,
  { accountId, manifest, ...item }: NewItem,
  transaction?: Transaction,
): Promise<number> {
  const put = async (within: Transaction): Promise<number> => {
    if (manifest !== undefined) await putManifest(context, accountId, item.kind, manifest, within);
    // A page from before manifests would leave the vault in a state that its other pages refuse.
    else if (isGuarded(item.kind))
      throw new Problem('invalid-input', 400, 'This page is from an earlier version; load it again');
    const under = manifest === undefined ? undefined : manifest.revision + 1;
    const revision = await replaceItem(context, VAULT, accountId, { ...item, under }, within);
    await requireRoom(context, accountId, within);
    return revision;
  };
  return transaction === undefined ? context.db.transaction(put) : put(transaction);
}

export const dropItem = (
  context: Context,
  { accountId, kind, id, manifest }: Pick<NewItem, 'accountId' | 'kind' | 'id'> & { manifest: NextManifest },
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await putManifest(context, accountId, kind, manifest, transaction);
    await deleteItem(context, VAULT, accountId, { kind, id }, transaction);
  });
