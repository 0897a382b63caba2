/**
 * Keeps the vault open across a reload, until sign-out or the idle lock: the key lies there with the time at which it
 * ends, and is looked at with that only.
 */
import { keyShelf } from '@under-lock/reader/key-shelf';

export interface OpenVault {
  accountId: string;
  key: CryptoKey;
}

interface Kept extends OpenVault {
  /** By the clock, so that a closed tab and a sleeping machine count. */
  endsAt: number;
}

const shelf = keyShelf<Kept>('under-lock', 'vault');
export const { forget: forgetVaultKey } = shelf;

export const keepVaultKey = ({ accountId, key }: OpenVault, endsAt: number): Promise<unknown> =>
  shelf.keep({ accountId, key, endsAt });

/** Undefined when there is none, or its time is over: then it is forgotten, too. */
export async function keptVaultKey(now = Date.now()): Promise<OpenVault | undefined> {
  const kept = await shelf.kept();
  if (kept === undefined) return undefined;
  if (!(kept.endsAt > now)) {
    await shelf.forget();
    return undefined;
  }
  return { accountId: kept.accountId, key: kept.key };
}

/** Puts its end off, while somebody is at work. What has ended stays ended. */
export const extendVaultKey = (endsAt: number, now = Date.now()): Promise<void> =>
  shelf.change((kept) => (kept !== undefined && kept.endsAt > now ? { ...kept, endsAt } : undefined));
