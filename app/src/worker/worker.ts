/** The one door to core's secrets: what runs here has the keys, the page has not. */
import { openItem, sealItem, type VaultItemKind } from '@under-lock/core/vault/item';
import { type Bytes } from '@under-lock/core/bytes';
import { expose } from 'comlink';
import './errors';
import { account, openedVault } from './account';
import { message } from './message';
import { received } from './received';

const vault = {
  seal: (kind: VaultItemKind, id: string, value: unknown): Promise<Bytes> => sealItem(openedVault().key, kind, id, value),
  /** Opens several items; one that does not open is undefined, and the others are not lost with it. */
  async open(kind: VaultItemKind, items: { id: string; sealed: Uint8Array }[]): Promise<(unknown | undefined)[]> {
    const { key } = openedVault();
    return Promise.all(items.map(({ id, sealed }) => openItem(key, kind, id, sealed).catch(() => undefined)));
  },
};

const door = { account, vault, message, received };
export type Door = typeof door;

expose(door);
