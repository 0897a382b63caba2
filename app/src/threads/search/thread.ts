/** Searching: the index of what the vault opens, in a thread of its own, so that typing waits for nothing. */
import { type Asked, type Found, type SearchRecord } from '@under-lock/core/search/scan';
import { expose } from 'comlink';
import '../errors';
import { openVault } from '../opened/vault';
import { type KeptIndex, openIndex } from './kept';
import { dropClosed, renewIndex } from './renew';

let open: { accountId: string; kept: Promise<KeptIndex> } | undefined;
let renewing: Promise<void> | undefined;

/** @throws VaultLockedError: then nothing of the index stays in memory */
async function kept(): Promise<KeptIndex> {
  const vault = await openVault().catch((error: unknown) => {
    open = undefined;
    throw error;
  });
  if (open?.accountId !== vault.accountId) open = { accountId: vault.accountId, kept: openIndex(vault) };
  return open.kept;
}

const search = {
  /** Brings it up to date; one at a time. `told` when more can be found. @throws ApiProblem, VaultLockedError */
  async renew(told: () => void): Promise<void> {
    const index = await kept();
    renewing ??= openVault()
      .then((vault) => renewIndex(vault, index, told))
      .finally(() => (renewing = undefined));
    await renewing;
  },
  /** How many messages can be found by now. */
  size: async (): Promise<number> => (await kept()).index.size,
  async find(asked: Asked, page: { offset: number; limit: number }): Promise<Found> {
    const index = await kept();
    dropClosed(index, Date.now());
    return index.index.find(asked, page);
  },
  /** What is held for this account was opened here, and its reader may copy its text. */
  async note(record: SearchRecord): Promise<void> {
    const index = await kept();
    index.put(record);
    await index.flush();
  },
  /** It is not there any more. */
  async drop(ids: readonly string[]): Promise<void> {
    const index = await kept();
    for (const id of ids) index.drop(id);
    await index.flush();
  },
};
export type SearchDoor = typeof search;

expose(search);
