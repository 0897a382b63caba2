/**
 * What the door for mail programs has of its own: a key pair and a word that the server knows it by, both from its one
 * secret. So it keeps nothing, and after a crash it is the same.
 */
import { deriveKeyPair, type PublicKey } from '../account/key-pair';
import { type Bytes, toBase64Url } from '../bytes';
import { hkdf } from '../sealing';

export const SUBMISSION_SECRET_BYTES = 32;

export interface DoorKeys extends PublicKey {
  publicKey: Bytes;
  privateKey: Bytes;
  /** 43 characters of base64url: what it says to the server with each request. */
  token: string;
}

/** @param secret {@link SUBMISSION_SECRET_BYTES} random octets. */
export async function doorKeys(secret: Bytes): Promise<DoorKeys> {
  const pair = await deriveKeyPair(await hkdf(secret, 'under-lock/submission/key-pair/v1', 32));
  return { ...pair, token: toBase64Url(await hkdf(secret, 'under-lock/submission/token/v1', 32)) };
}
