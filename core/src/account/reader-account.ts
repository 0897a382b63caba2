/**
 * A registered reader's account: the same two keys from one password as for staff, and a key pair whose private half
 * is sealed under the
 * account's secret. There is no recovery code: what was sealed to a forgotten password is given again by its sender.
 */
import { type Bytes } from '../bytes';
import { seal, unseal } from '../sealing';
import { makeKeyPair, openFrom, type PublicKey, sealTo } from './key-pair';
import { type ProtectedByPassword, protectWithPassword } from './protect';
import { makeAccountSecret, vaultKey } from './secret';

export interface NewReaderAccount {
  id: string;
  password: ProtectedByPassword;
  key: PublicKey & { publicKey: Bytes; sealedPrivateKey: Bytes };
}

const privateKeyContext = (readerId: string): string => `under-lock/reader/private-key/v1/${readerId}`;
const writtenContext = (messageId: string): string => `under-lock/reader/written/v1/${messageId}`;

/** `unlocked` opens the private key again without the password. */
export async function makeReaderAccount(
  id: string,
  password: string,
): Promise<{ account: NewReaderAccount; unlocked: CryptoKey }> {
  const secret = makeAccountSecret();
  const unlocked = await vaultKey(secret);
  const { suite, publicKey, privateKey } = await makeKeyPair();
  const account = {
    id,
    password: await protectWithPassword(id, secret, password),
    key: { suite, publicKey, sealedPrivateKey: await seal(unlocked, privateKey, privateKeyContext(id)) },
  };
  secret.fill(0);
  privateKey.fill(0);
  return { account, unlocked };
}

/** @throws SealError */
export const openPrivateKey = (unlocked: CryptoKey, sealedPrivateKey: Uint8Array, readerId: string): Promise<Bytes> =>
  unseal(unlocked, sealedPrivateKey, privateKeyContext(readerId));

/** The content key of a message a reader began, for themselves. */
export const sealWrittenKey = (own: PublicKey, contentKey: Bytes, messageId: string): Promise<Bytes> =>
  sealTo(own, contentKey, writtenContext(messageId));
/** @throws SealError */
export const openWrittenKey = (privateKey: Bytes, sealed: Uint8Array, messageId: string): Promise<Bytes> =>
  openFrom(privateKey, sealed, writtenContext(messageId));
