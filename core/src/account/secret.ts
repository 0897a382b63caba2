/**
 * The account's secret: 32 random bytes from which the vault's key comes. The server holds it only wrapped, once under
 * the password and once under the recovery code.
 */
import { type Bytes, randomBytes } from '../bytes';
import { hkdf, seal, sealingKey, unseal } from '../sealing';

export const makeAccountSecret = (): Bytes => randomBytes(32);

const context = (accountId: string): string => `under-lock/account/secret/v1/${accountId}`;

export const wrapSecret = (unlockKey: CryptoKey, secret: Bytes, accountId: string): Promise<Bytes> =>
  seal(unlockKey, secret, context(accountId));

/** Throws SealError `not-opened` when the key is not the one it was wrapped under. */
export const unwrapSecret = (unlockKey: CryptoKey, wrapped: Uint8Array, accountId: string): Promise<Bytes> =>
  unseal(unlockKey, wrapped, context(accountId));

/** AES-256-GCM, not extractable: a browser can keep it across a reload without ever showing its bytes. */
export async function vaultKey(secret: Bytes): Promise<CryptoKey> {
  return sealingKey(await hkdf(secret, 'under-lock/vault/v1', 32));
}
