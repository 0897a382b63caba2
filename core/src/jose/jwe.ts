/**
 * A JSON Web Encryption in its compact form (RFC 7516 §3.1) under a password: PBES2-HS512+A256KW (RFC 7518 §4.8) and
 * A256GCM (§5.3), over WebCrypto. Nothing else of the standard is
 * written or read here.
 */
import { type Bytes, concat, fromBase64Url, fromUtf8, randomBytes, toBase64Url, utf8 } from '../bytes';
import { fastBase64Url, fromFastBase64Url } from './base64url';

export type JweErrorCode = 'malformed' | 'unsupported' | 'wrong-password';
export class JweError extends Error {
  constructor(
    readonly code: JweErrorCode,
    options?: ErrorOptions,
  ) {
    super(`JWE: ${code}`, options);
    this.name = 'JweError';
  }
}

const ALGORITHM = 'PBES2-HS512+A256KW';
const ENCRYPTION = 'A256GCM';
/**
 * Rounds of PBKDF2-HMAC-SHA-512: three times the 210,000 that OWASP's Password Storage Cheat Sheet (2023) asks for,
 * since a file can be tried without limit.
 */
export const ROUNDS = 600_000;
/** Somebody else's file must not keep a browser busy for minutes. */
const MAX_ROUNDS = 5_000_000;
const TAG = 16;

interface Header {
  alg: string;
  enc: string;
  p2s: string;
  p2c: number;
  cty?: string;
}

/** RFC 7518 §4.8.1.1: the salt carries the algorithm's name. */
async function wrappingKey(password: string, salt: Uint8Array, rounds: number): Promise<CryptoKey> {
  const material = await crypto.subtle.importKey('raw', utf8(password.normalize('NFC')), 'PBKDF2', false, [
    'deriveKey',
  ]);
  return crypto.subtle.deriveKey(
    { name: 'PBKDF2', hash: 'SHA-512', salt: concat(utf8(ALGORITHM), new Uint8Array(1), salt), iterations: rounds },
    material,
    { name: 'AES-KW', length: 256 },
    false,
    ['wrapKey', 'unwrapKey'],
  );
}

export async function sealJwe(bytes: Bytes, password: string, contentType: string): Promise<string> {
  const salt = randomBytes(16);
  const header: Header = { alg: ALGORITHM, enc: ENCRYPTION, p2s: toBase64Url(salt), p2c: ROUNDS, cty: contentType };
  const protectedHeader = toBase64Url(utf8(JSON.stringify(header)));
  const key = await crypto.subtle.generateKey({ name: 'AES-GCM', length: 256 }, true, ['encrypt']);
  const wrapped = new Uint8Array(
    await crypto.subtle.wrapKey('raw', key, await wrappingKey(password, salt, ROUNDS), 'AES-KW'),
  );
  const iv = randomBytes(12);
  const sealed = new Uint8Array(
    await crypto.subtle.encrypt({ name: 'AES-GCM', iv, additionalData: utf8(protectedHeader) }, key, bytes),
  );
  return [
    protectedHeader,
    toBase64Url(wrapped),
    toBase64Url(iv),
    fastBase64Url(sealed.subarray(0, sealed.length - TAG)),
    toBase64Url(sealed.subarray(sealed.length - TAG)),
  ].join('.');
}

/** @throws JweError */
export function readJweHeader(jwe: string): Header {
  try {
    const header = JSON.parse(
      fromUtf8(fromBase64Url(jwe.slice(0, Math.max(0, jwe.indexOf('.'))))),
    ) as Partial<Header> | null;
    if (
      typeof header?.alg !== 'string' ||
      typeof header.enc !== 'string' ||
      typeof header.p2s !== 'string' ||
      typeof header.p2c !== 'number' ||
      !Number.isSafeInteger(header.p2c)
    )
      throw new JweError('malformed');
    return header as Header;
  } catch (cause) {
    throw cause instanceof JweError ? cause : new JweError('malformed', { cause });
  }
}

function partsOf(jwe: string): { protectedHeader: string; wrapped: Bytes; iv: Bytes; sealed: Bytes } {
  const parts = jwe.split('.');
  if (parts.length !== 5) throw new JweError('malformed');
  const [protectedHeader, wrapped, iv, ciphertext, tag] = parts as [string, string, string, string, string];
  try {
    return {
      protectedHeader,
      wrapped: fromBase64Url(wrapped),
      iv: fromBase64Url(iv),
      sealed: concat(fromFastBase64Url(ciphertext), fromBase64Url(tag)),
    };
  } catch (cause) {
    throw new JweError('malformed', { cause });
  }
}

/** @throws JweError */
export async function openJwe(jwe: string, password: string): Promise<Bytes> {
  const { alg, enc, p2s, p2c } = readJweHeader(jwe);
  if (alg !== ALGORITHM || enc !== ENCRYPTION || p2c < 1 || p2c > MAX_ROUNDS) throw new JweError('unsupported');
  const { protectedHeader, wrapped, iv, sealed } = partsOf(jwe);
  if (wrapped.length !== 40 || iv.length !== 12 || sealed.length < TAG) throw new JweError('malformed');
  let salt: Bytes;
  try {
    salt = fromBase64Url(p2s);
  } catch (cause) {
    throw new JweError('malformed', { cause });
  }
  let key: CryptoKey;
  try {
    key = await crypto.subtle.unwrapKey(
      'raw',
      wrapped,
      await wrappingKey(password, salt, p2c),
      'AES-KW',
      { name: 'AES-GCM' },
      false,
      ['decrypt'],
    );
  } catch (cause) {
    throw new JweError('wrong-password', { cause });
  }
  try {
    return new Uint8Array(
      await crypto.subtle.decrypt({ name: 'AES-GCM', iv, additionalData: utf8(protectedHeader) }, key, sealed),
    );
  } catch (cause) {
    throw new JweError('malformed', { cause });
  }
}
