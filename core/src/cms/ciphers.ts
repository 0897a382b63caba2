/**
 * Content encryption (RFC 3565, 5084, 3370): AES by WebCrypto; AES-192, which Chromium refuses, by a library; triple
 * DES and RC2 only to read what old programs wrote.
 */
import { cbc, gcm } from '@noble/ciphers/aes.js';
import { fieldsOf } from '../asn1/fields';
import { integerOf, octetsOf } from '../asn1/read';
import { integer, octetString, oid, sequence } from '../asn1/write';
import { type Bytes, concat, randomBytes } from '../bytes';
import { type Algorithm } from '../certificate/algorithm';
import { CmsError } from './errors';
import { CIPHER, type CipherName } from './identifiers';
import { oldDecrypt } from './old-ciphers';

export const KEY_BYTES: Record<CipherName, number> = {
  'AES-128-CBC': 16,
  'AES-192-CBC': 24,
  'AES-256-CBC': 32,
  'AES-128-GCM': 16,
  'AES-192-GCM': 24,
  'AES-256-GCM': 32,
  '3DES-CBC': 24,
  'RC2-CBC': 16,
};
export type SealingCipher = 'AES-256-GCM' | 'AES-256-CBC';
export const isAuthenticated = (name: CipherName): boolean => name.endsWith('GCM');
/** Broken or near it: what is read from them is read with a warning. */
export const isOld = (name: CipherName): boolean => name === '3DES-CBC' || name === 'RC2-CBC';

const NONCE = 12; // RFC 5084 §3.2: recommended
const TAG = 16;
const BLOCK = 16;

export interface Sealed {
  algorithm: Bytes;
  body: Bytes;
  /** Of an authenticated cipher. */ tag: Bytes | undefined;
}

/** A key must serve one content only; nonce and vector are made here. */
export async function encrypt(name: SealingCipher, key: Bytes, plain: Uint8Array): Promise<Sealed> {
  const { subtle } = globalThis.crypto;
  if (name === 'AES-256-GCM') {
    const iv = randomBytes(NONCE);
    const imported = await subtle.importKey('raw', key, 'AES-GCM', false, ['encrypt']);
    const sealed = new Uint8Array(
      await subtle.encrypt({ name: 'AES-GCM', iv, tagLength: TAG * 8 }, imported, plain as Bytes),
    );
    // The tag's length is stated: left out it would mean 12 (RFC 5084 §3.2).
    return {
      algorithm: sequence(oid(CIPHER[name]), sequence(octetString(iv), integer(TAG))),
      body: sealed.subarray(0, -TAG),
      tag: sealed.slice(-TAG),
    };
  }
  const iv = randomBytes(BLOCK);
  const imported = await subtle.importKey('raw', key, 'AES-CBC', false, ['encrypt']);
  return {
    algorithm: sequence(oid(CIPHER[name]), octetString(iv)),
    body: new Uint8Array(await subtle.encrypt({ name: 'AES-CBC', iv }, imported, plain as Bytes)),
    tag: undefined,
  };
}

export interface Cipher {
  name: CipherName;
  iv: Uint8Array;
  /** Octets of the tag; 0 without one. */ tagLength: number;
  /** Of RC2, which allows fewer than its key has. */ effectiveBits: number;
}

/** RFC 2268 §6 spells some strengths by numbers of its own. */
const RC2_VERSIONS: Record<number, number> = { 160: 40, 120: 64, 58: 128 };

/** @throws CmsError `unsupported`; Asn1Error */
export function cipherOf({ oid: type, parameters }: Algorithm): Cipher {
  const name = (Object.keys(CIPHER) as CipherName[]).find((one) => CIPHER[one] === type);
  if (name === undefined || parameters === undefined) throw new CmsError('unsupported');
  if (isAuthenticated(name)) {
    const fields = fieldsOf(parameters);
    const iv = octetsOf(fields.next('octetString'));
    const length = fields.optional('integer');
    const tagLength = length === undefined ? 12 : Number(integerOf(length, 1));
    if (iv.length === 0 || tagLength < 12 || tagLength > 16) throw new CmsError('malformed');
    return { name, iv, tagLength, effectiveBits: 0 };
  }
  if (name === 'RC2-CBC') {
    const fields = fieldsOf(parameters);
    const version = fields.optional('integer');
    const stated = version === undefined ? 32 : Number(integerOf(version, 2));
    return {
      name,
      iv: octetsOf(fields.next('octetString')),
      tagLength: 0,
      effectiveBits: RC2_VERSIONS[stated] ?? (stated >= 256 ? stated : 32),
    };
  }
  const iv = octetsOf(parameters);
  if (iv.length !== (name === '3DES-CBC' ? 8 : BLOCK)) throw new CmsError('malformed');
  return { name, iv, tagLength: 0, effectiveBits: 0 };
}

async function byEngine(
  { name, iv, tagLength }: Cipher,
  key: Bytes,
  body: Uint8Array,
  additionalData: Uint8Array,
): Promise<Uint8Array> {
  const algorithm = isAuthenticated(name)
    ? { name: 'AES-GCM', iv: iv as Bytes, tagLength: tagLength * 8, additionalData: additionalData as Bytes }
    : { name: 'AES-CBC', iv: iv as Bytes };
  const imported = await globalThis.crypto.subtle.importKey('raw', key, algorithm.name, false, ['decrypt']);
  return new Uint8Array(await globalThis.crypto.subtle.decrypt(algorithm, imported, body as Bytes));
}

/** @throws CmsError `not-opened`, for a wrong key and for changed bytes alike. */
export async function decrypt(
  cipher: Cipher,
  key: Bytes,
  body: Uint8Array,
  tag: Uint8Array,
  additionalData: Uint8Array,
): Promise<Uint8Array> {
  const { name, iv, tagLength } = cipher;
  if (tag.length !== tagLength) throw new CmsError('malformed');
  const whole = tagLength === 0 ? body : concat(body, tag);
  try {
    if (isOld(name)) return oldDecrypt(cipher, key, body);
    if (KEY_BYTES[name] === 24)
      return isAuthenticated(name) ? gcm(key, iv, additionalData).decrypt(whole) : cbc(key, iv).decrypt(body);
    return await byEngine(cipher, key, whole, additionalData);
  } catch (cause) {
    if (cause instanceof CmsError) throw cause;
    throw new CmsError('not-opened', { cause });
  }
}
