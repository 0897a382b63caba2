/** The one door to core's secrets: what runs here has the keys, the page has not. */
import { openKept } from '@under-lock/core/submission/owner';
import { type GuardedKind, sealItem, type VaultItemKind } from '@under-lock/core/vault/item';
import { type ShelfItem } from '@under-lock/core/vault/opened';
import { type Words } from '@under-lock/core/search/words';
import { type Bytes } from '@under-lock/core/bytes';
import { createClient } from '@under-lock/contract/client';
import { vaultDoor } from '@under-lock/contract/vault';
import { expose } from 'comlink';
import '../errors';
import { account, openedVault } from './account';
import { book } from './book';
import { message } from './message';
import { handed } from './handed';
import { privateKey, received } from './received';
import { release } from './release';
import { shelfOf } from '../shelf';

/** Private keys are opened where they are used and never handed to a page. */
type ForPages = Exclude<VaultItemKind, 'account-key' | 'key'>;
const KEPT_BACK: readonly VaultItemKind[] = ['account-key', 'key'];
function forPages(kind: VaultItemKind): void {
  if (KEPT_BACK.includes(kind)) throw new RangeError('Private keys stay in the worker thread');
}

const shelf = () => shelfOf(async () => openedVault());

/** The vault's own, or what the door for mail programs sealed to this account; undefined where it does not open. */
const openedSent = (id: string, sealed: Uint8Array): Promise<unknown> =>
  openKept({ key: openedVault().key, privateKey }, 'sent', id, sealed).catch(() => undefined);

async function readSent(id: string): Promise<ShelfItem | undefined> {
  const { item } = await vaultDoor(createClient(self.location.origin)).read('sent', id, 0);
  if (item === undefined) return undefined;
  const { sealed, revision, updatedAt } = item;
  return { id, revision, updatedAt, value: await openedSent(id, sealed) };
}

const vault = {
  /** @throws ApiProblem, VaultOldError */
  async list(kind: ForPages & GuardedKind): Promise<ShelfItem[]> {
    forPages(kind);
    return (await shelf()).list(kind);
  },
  async read(kind: ForPages, id: string): Promise<ShelfItem | undefined> {
    forPages(kind);
    return kind === 'sent' ? readSent(id) : (await shelf()).read(kind, id);
  },
  async keep(kind: ForPages, id: string, revision: number, value: unknown): Promise<number> {
    forPages(kind);
    return (await shelf()).keep(kind, id, revision, value);
  },
  async drop(kind: ForPages & GuardedKind, id: string): Promise<void> {
    forPages(kind);
    return (await shelf()).drop(kind, id);
  },
  /** See {@link Shelf.accept}. */
  accept: async (): Promise<void> => (await shelf()).accept(),
  /** What a sent message keeps for its sender leaves with the message itself. */
  sealSent: (id: string, value: unknown): Promise<Bytes> => sealItem(openedVault().key, 'sent', id, value),
  sealWords: (id: string, words: Words): Promise<Bytes> => sealItem(openedVault().key, 'words', id, words),
  /** One that does not open is undefined, and the others are not lost with it. */
  async openSent(items: { id: string; sealed: Uint8Array }[]): Promise<(unknown | undefined)[]> {
    return Promise.all(items.map(({ id, sealed }) => openedSent(id, sealed)));
  },
};

const door = { account, book, vault, message, received, handed, release };
export type Door = typeof door;

expose(door);
