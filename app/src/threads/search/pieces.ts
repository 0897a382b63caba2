/** Where the search index lies on this device: pieces, each sealed under the vault's key. */
import { openItem, sealItem } from '@under-lock/core/vault/item';
import { inStore } from '@under-lock/reader/key-shelf';
import { type OpenVault } from '../vault-key';

const inPieces = <R>(mode: IDBTransactionMode, act: (store: IDBObjectStore) => IDBRequest<R>): Promise<R> =>
  inStore('under-lock-search', 'pieces', mode, act);

const context = (number: number): string => `piece/${number}`;

/**
 * All that this vault opens; whatever else lies there, another vault's or damaged, is deleted. `lost` when something of
 * this account's own was.
 */
export async function readPieces({ accountId, key }: OpenVault): Promise<{
  pieces: Map<number, unknown>;
  lost: boolean;
}> {
  const keys = await inPieces('readonly', (store) => store.getAllKeys());
  const pieces = new Map<number, unknown>();
  let lost = false;
  for (const name of keys.map(String)) {
    const [whose, number] = name.split('/');
    const isOwn = whose === accountId;
    const sealed = await inPieces<Uint8Array>('readonly', (store) => store.get(name));
    const value = isOwn
      ? await openItem(key, 'index', context(Number(number)), sealed).catch(() => undefined)
      : undefined;
    if (value !== undefined) pieces.set(Number(number), value);
    else {
      await inPieces('readwrite', (store) => store.delete(name));
      lost ||= isOwn;
    }
  }
  return { pieces, lost };
}

export async function writePiece({ accountId, key }: OpenVault, number: number, value: unknown): Promise<void> {
  const sealed = await sealItem(key, 'index', context(number), value);
  await inPieces('readwrite', (store) => store.put(sealed, `${accountId}/${number}`));
}
