/**
 * What a password leaves with the server: the hashing, the proof, and the account's secret wrapped under the half that
 * never leaves.
 */
import { type Bytes, randomBytes } from '../bytes';
import { passwordKeys, RECOMMENDED_HASHING, type PasswordHashing } from './password';
import { unwrapSecret, wrapSecret } from './secret';

export interface ProtectedByPassword {
  hashing: PasswordHashing;
  authKey: Bytes;
  wrappedSecret: Bytes;
}

export async function protectWithPassword(
  accountId: string,
  secret: Bytes,
  password: string,
): Promise<ProtectedByPassword> {
  const hashing = { ...RECOMMENDED_HASHING, salt: randomBytes(16) };
  const { authKey, unlockKey } = await passwordKeys(password, hashing);
  return { hashing, authKey, wrappedSecret: await wrapSecret(unlockKey, secret, accountId) };
}

/** From one password to another; the secret stays. @throws SealError `not-opened` when `current` is wrong */
export async function changeProtection(
  accountId: string,
  kept: { hashing: PasswordHashing; wrappedSecret: Bytes },
  current: string,
  next: string,
): Promise<{ currentAuthKey: Bytes; password: ProtectedByPassword }> {
  const keys = await passwordKeys(current, kept.hashing);
  const secret = await unwrapSecret(keys.unlockKey, kept.wrappedSecret, accountId);
  const password = await protectWithPassword(accountId, secret, next);
  secret.fill(0);
  return { currentAuthKey: keys.authKey, password };
}
