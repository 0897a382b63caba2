/**
 * The office's key pair: HPKE as an account's. Its secret is sealed to each member's account key, bound to who it is for
 * and to its epoch, the count of keys the office has had.
 */
import { makeKeyPair, openFrom, type PublicKey, sealTo } from '../account/key-pair';
import { type Bytes } from '../bytes';
import { hkdf, sealingKey } from '../sealing';

export interface OfficeKeyPair {
  suite: number;
  publicKey: Bytes;
  secret: Bytes;
}

const context = (epoch: number, accountId: string): string => `under-lock/office-book/member/v1/${epoch}/${accountId}`;

/** Who the door for mail programs is where an account's number stands for others. */
export const DOOR_IN_BOOK = 'door';

export async function makeOfficeKey(): Promise<OfficeKeyPair> {
  const { suite, publicKey, privateKey } = await makeKeyPair();
  return { suite, publicKey, secret: privateKey };
}

/** @throws SealError when the member's key is of no known suite */
export const sealToMember = (member: PublicKey, secret: Bytes, epoch: number, accountId: string): Promise<Bytes> =>
  sealTo(member, secret, context(epoch, accountId));

/** @param privateKey The member's account's. @throws SealError */
export const openAsMember = (privateKey: Bytes, sealed: Uint8Array, epoch: number, accountId: string): Promise<Bytes> =>
  openFrom(privateKey, sealed, context(epoch, accountId));

/** What the book's items are sealed under: AES-256-GCM, not extractable. */
export const bookKey = async (secret: Bytes): Promise<CryptoKey> =>
  sealingKey(await hkdf(secret, 'under-lock/office-book/items/v1', 32));
