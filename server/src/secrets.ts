/**
 * What the server seals at rest, under keys from the one secret that lives outside the database: channels (phone numbers, second addresses),
 * house shares, notices that wait, and the keyed hashes of passcodes. A copied database holds none of them readable.
 */
import { createHmac } from 'node:crypto';
import { type Bytes, fromUtf8, utf8 } from '@under-lock/core/bytes';
import { hkdf, seal, sealingKey, unseal } from '@under-lock/core/sealing';

export interface Secrets {
  sealText(text: string, context: string): Promise<Buffer>;
  openText(sealed: Buffer, context: string): Promise<string>;
  sealBytes(plain: Uint8Array, context: string): Promise<Buffer>;
  openBytes(sealed: Buffer, context: string): Promise<Bytes>;
  /** HMAC-SHA-256 (RFC 2104) of `text` for one `purpose`. */
  keyedHash(purpose: string, text: string): Buffer;
}

export async function createSecrets(secret: Buffer): Promise<Secrets> {
  const root = new Uint8Array(secret);
  const key = await sealingKey(await hkdf(root, 'under-lock/server/at-rest/v1', 32));
  const hashKey = await hkdf(root, 'under-lock/server/keyed-hash/v1', 32);
  const sealBytes = async (plain: Uint8Array, context: string): Promise<Buffer> => Buffer.from(await seal(key, new Uint8Array(plain), context));
  const openBytes = (sealed: Buffer, context: string): Promise<Bytes> => unseal(key, new Uint8Array(sealed), context);
  return {
    sealBytes,
    openBytes,
    sealText: (text, context) => sealBytes(utf8(text), context),
    openText: async (sealed, context) => fromUtf8(await openBytes(sealed, context)),
    keyedHash: (purpose, text) => createHmac('sha256', hashKey).update(`${purpose}\0${text}`).digest(),
  };
}
