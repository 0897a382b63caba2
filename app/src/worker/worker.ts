/** The one door to core's secrets: what runs here has the keys, the page has not. */
import { openItem, sealItem, type VaultItemKind } from '@under-lock/core/vault/item';
import { type Bytes } from '@under-lock/core/bytes';
import { expose } from 'comlink';
import './errors';
import { account, openedVault } from './account';
import { message } from './message';
import { received } from './received';

/** Private keys are opened where they are used and never handed to a page. */
type ForPages = Exclude<VaultItemKind, 'account-key' | 'key'>;
const KEPT_BACK: readonly VaultItemKind[] = ['account-key', 'key'];
function forPages(kind: VaultItemKind): void {
  if (KEPT_BACK.includes(kind)) throw new RangeError('Private keys stay in the worker thread');
}

const vault = {
  async seal(kind: ForPages, id: string, value: unknown): Promise<Bytes> {
    forPages(kind);
    return sealItem(openedVault().key, kind, id, value);
  },
  /** Opens several items; one that does not open is undefined, and the others are not lost with it. */
  async open(kind: ForPages, items: { id: string; sealed: Uint8Array }[]): Promise<(unknown | undefined)[]> {
    forPages(kind);
    const { key } = openedVault();
    return Promise.all(items.map(({ id, sealed }) => openItem(key, kind, id, sealed).catch(() => undefined)));
  },
};

const door = { account, vault, message, received };
export type Door = typeof door;

expose(door);
