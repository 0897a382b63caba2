/**
 * The vault's shelf as the threads use it: over the server's endpoints, with what this browser has met kept beside the
 * vault's key.
 */
import { createClient } from '@under-lock/contract/client';
import { vaultDoor } from '@under-lock/contract/vault';
import { newest, type Revisions } from '@under-lock/core/vault/manifest';
import { type Memory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { keyShelf } from '@under-lock/reader/key-shelf';
import { type OpenVault } from './vault-key';

/** Numbers only, so they stay when the vault is locked and the worker signs out. */
export function memoryOf(accountId: string): Memory {
  const shelf = keyShelf<Revisions>('under-lock', `met/${accountId}`);
  return {
    met: async () => (await shelf.kept()) ?? {},
    raise: (revisions) =>
      shelf.change((before = {}) => {
        const next = newest(before, revisions);
        // Most of the time nothing is: then nothing is written.
        return next === before ? undefined : next;
      }),
    forget: async () => void (await shelf.forget()),
  };
}

let open: { accountId: string; shelf: Shelf } | undefined;

/** One for each account and thread; `vault` rejects once the vault is locked. */
export async function shelfOf(vault: () => Promise<OpenVault>): Promise<Shelf> {
  const { accountId } = await vault();
  if (open?.accountId !== accountId) {
    const key = async (): Promise<CryptoKey> => (await vault()).key;
    open = {
      accountId,
      shelf: createShelf({ door: vaultDoor(createClient(self.location.origin)), memory: memoryOf(accountId), key }),
    };
  }
  return open.shelf;
}
