/** Keeps the vault open across a reload, until sign-out or the idle lock. */
import { keyShelf } from '@under-lock/reader/key-shelf';

export interface OpenVault {
  accountId: string;
  key: CryptoKey;
}

const shelf = keyShelf<OpenVault>('under-lock', 'vault');
export const { keep: keepVaultKey, kept: keptVaultKey, forget: forgetVaultKey } = shelf;
