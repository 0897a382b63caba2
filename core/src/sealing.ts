/**
 * The two primitives everything sealed under a symmetric key is made of: HKDF (RFC 5869) and
 * AES-256-GCM with a random 96-bit nonce (NIST SP 800-38D §8.2.2), both WebCrypto's.
 * A sealed value is `version(1) ‖ nonce(12) ‖ ciphertext ‖ tag(16)`; the version is 1.
 */
import { type Bytes, concat, randomBytes, utf8 } from './bytes';

const VERSION = 1;
const NONCE = 12;
export const TAG = 16;

/** `code` is what screens and tests rely on. `not-opened` covers wrong key, wrong context and altered bytes alike. */
export class SealError extends Error {
  constructor(readonly code: 'not-opened' | 'malformed') {
    super(`Sealed value: ${code}`);
    this.name = 'SealError';
  }
}

/** HKDF-SHA-256 to `length` bytes. `info` separates uses of one secret; `salt` may be empty (RFC 5869 §2.2). */
export async function hkdf(
  secret: Bytes | CryptoKey,
  info: string,
  length: number,
  salt: Bytes = new Uint8Array(0),
): Promise<Bytes> {
  const { subtle } = globalThis.crypto;
  const key =
    secret instanceof Uint8Array ? await subtle.importKey('raw', secret, 'HKDF', false, ['deriveBits']) : secret;
  return new Uint8Array(
    await subtle.deriveBits({ name: 'HKDF', hash: 'SHA-256', salt, info: utf8(info) }, key, length * 8),
  );
}

/** A non-extractable AES-256-GCM key from 32 bytes. */
export function sealingKey(raw: Bytes): Promise<CryptoKey> {
  return globalThis.crypto.subtle.importKey('raw', raw, 'AES-GCM', false, ['encrypt', 'decrypt']);
}

/** Seals `plain` so that it opens only under the same key and the same `context` (bound as additional data). */
export async function seal(key: CryptoKey, plain: Bytes, context: string): Promise<Bytes> {
  const iv = randomBytes(NONCE);
  const sealed = await globalThis.crypto.subtle.encrypt(
    { name: 'AES-GCM', iv, additionalData: utf8(context) },
    key,
    plain,
  );
  return concat(Uint8Array.of(VERSION), iv, new Uint8Array(sealed));
}

/** A sealed value's nonce, and its ciphertext with the tag of 16 at its end. Throws SealError `malformed`. */
export function sealedParts(sealed: Uint8Array): { nonce: Bytes; body: Bytes } {
  if (sealed.length < 1 + NONCE + TAG || sealed[0] !== VERSION) throw new SealError('malformed');
  return { nonce: sealed.slice(1, 1 + NONCE) as Bytes, body: sealed.subarray(1 + NONCE) as Bytes };
}

/** Opens what {@link seal} made. Throws SealError. */
export async function unseal(key: CryptoKey, sealed: Uint8Array, context: string): Promise<Bytes> {
  const { nonce: iv, body } = sealedParts(sealed);
  try {
    return new Uint8Array(
      await globalThis.crypto.subtle.decrypt({ name: 'AES-GCM', iv, additionalData: utf8(context) }, key, body),
    );
  } catch {
    throw new SealError('not-opened');
  }
}
