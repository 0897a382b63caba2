/**
 * Checks one signature by the algorithm its identifier names: RSASSA-PKCS1-v1_5 and PSS (RFC 8017, 4055), ECDSA (RFC
 * 5758) and Ed25519 (RFC 8410) by WebCrypto,
 * DSA (FIPS 186-4) by a library, for the old certificates of the test suites. Left out on purpose: MD5 and MD2, which
 * anybody can forge.
 */
import { sha1 } from '@noble/hashes/legacy.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { DSA } from 'micro-rsa-dsa-dh/dsa.js';
import { fieldsOf } from '../asn1/fields';
import { Asn1Error, type Element, integerOf, oidOf, readElement } from '../asn1/read';
import { bitString, integer, nullValue, oid as oidDer, sequence } from '../asn1/write';
import { type Bytes } from '../bytes';
import { type Algorithm, type Curve, type DsaParameters, KEY, type PublicKeyInfo } from './algorithm';

export const HASH = {
  'SHA-1': '1.3.14.3.2.26',
  'SHA-256': '2.16.840.1.101.3.4.2.1',
  'SHA-384': '2.16.840.1.101.3.4.2.2',
  'SHA-512': '2.16.840.1.101.3.4.2.3',
} as const;
export type Hash = keyof typeof HASH;
export const hashNamed = (oid: string): Hash | undefined =>
  (Object.keys(HASH) as Hash[]).find((name) => HASH[name] === oid);

export type Scheme =
  | { kind: 'rsa' | 'ecdsa'; hash: Hash }
  | { kind: 'dsa'; hash: 'SHA-1' | 'SHA-256' }
  | { kind: 'pss'; hash: Hash; saltLength: number }
  | { kind: 'ed25519' };

export const SIGNATURE = {
  'rsa-SHA-1': '1.2.840.113549.1.1.5',
  'rsa-SHA-256': '1.2.840.113549.1.1.11',
  'rsa-SHA-384': '1.2.840.113549.1.1.12',
  'rsa-SHA-512': '1.2.840.113549.1.1.13',
  'rsa-pss': KEY.rsaPss,
  'ecdsa-SHA-1': '1.2.840.10045.4.1',
  'ecdsa-SHA-256': '1.2.840.10045.4.3.2',
  'ecdsa-SHA-384': '1.2.840.10045.4.3.3',
  'ecdsa-SHA-512': '1.2.840.10045.4.3.4',
  'dsa-SHA-1': '1.2.840.10040.4.3',
  'dsa-SHA-256': '2.16.840.1.101.3.4.3.2',
} as const;

function pssOf(parameters: Element | undefined): Scheme | undefined {
  if (parameters === undefined) return undefined;
  const fields = fieldsOf(parameters);
  const [hashAt, maskAt, saltAt, trailerAt] = [
    fields.explicit(0),
    fields.explicit(1),
    fields.explicit(2),
    fields.explicit(3),
  ];
  fields.end();
  const hash = hashAt === undefined ? 'SHA-1' : hashNamed(oidOf(fieldsOf(hashAt).next('oid')));
  const mask = maskAt === undefined ? 'SHA-1' : hashNamed(oidOf(fieldsOf(maskAt.children[1]).next('oid')));
  const saltLength = saltAt === undefined ? 20 : Number(integerOf(saltAt, 2));
  // WebCrypto masks with the same hash, and so does everybody who writes them.
  if (hash === undefined || mask !== hash || (trailerAt !== undefined && integerOf(trailerAt, 2) !== 1n))
    return undefined;
  return { kind: 'pss', hash, saltLength };
}

/**
 * Undefined for what we don't check. `digest` is for identifiers that leave the hash to be named elsewhere, as CMS
 * does. @throws Asn1Error
 */
export function schemeOf(
  { oid, parameters }: Pick<Algorithm, 'oid' | 'parameters'>,
  digest?: Hash,
): Scheme | undefined {
  switch (oid) {
    case KEY.rsa:
      return digest === undefined ? undefined : { kind: 'rsa', hash: digest };
    case KEY.ec:
      return digest === undefined ? undefined : { kind: 'ecdsa', hash: digest };
    case KEY.dsa:
      return digest === 'SHA-1' || digest === 'SHA-256' ? { kind: 'dsa', hash: digest } : undefined;
    case KEY.ed25519:
      return { kind: 'ed25519' };
    case KEY.rsaPss:
      return pssOf(parameters);
    default: {
      const name = (Object.keys(SIGNATURE) as (keyof typeof SIGNATURE)[]).find((one) => SIGNATURE[one] === oid);
      if (name === undefined) return undefined;
      const [kind, ...hash] = name.split('-') as ['rsa' | 'ecdsa' | 'dsa', ...string[]];
      return { kind, hash: hash.join('-') } as Scheme;
    }
  }
}

const FIELD_BYTES: Record<Curve, number> = { 'P-256': 32, 'P-384': 48, 'P-521': 66 };

const fixed = (value: bigint, length: number): Bytes => {
  const out = new Uint8Array(length);
  let rest = value;
  for (let at = length - 1; at >= 0; at--) {
    out[at] = Number(rest & 0xffn);
    rest >>= 8n;
  }
  return out;
};

/**
 * ECDSA-Sig-Value (RFC 3279 §2.2.3) as WebCrypto wants it: r and s, each as long as the field. Undefined when they
 * don't fit.
 */
function rawSignature(signature: Uint8Array, curve: Curve): Bytes | undefined {
  const fields = fieldsOf(readElement(signature));
  const [r, s] = [integerOf(fields.next('integer'), 67), integerOf(fields.next('integer'), 67)];
  fields.end();
  const length = FIELD_BYTES[curve];
  if (r <= 0n || s <= 0n || r >> BigInt(length * 8) > 0n || s >> BigInt(length * 8) > 0n) return undefined;
  const raw = new Uint8Array(length * 2);
  raw.set(fixed(r, length));
  raw.set(fixed(s, length), length);
  return raw;
}

function importParameters(
  scheme: Scheme,
  { key, bytes, keyBits }: PublicKeyInfo,
): { algorithm: { name: string; hash?: Hash; namedCurve?: Curve }; spki: Uint8Array } | undefined {
  if ((scheme.kind === 'rsa' || scheme.kind === 'pss') && key.kind === 'rsa') {
    if (key.pss && scheme.kind === 'rsa') return undefined;
    // An id-RSASSA-PSS key under the plain identifier: the engines import no other.
    const spki = key.pss ? sequence(sequence(oidDer(KEY.rsa), nullValue()), bitString(keyBits)) : bytes;
    return { spki, algorithm: { name: scheme.kind === 'rsa' ? 'RSASSA-PKCS1-v1_5' : 'RSA-PSS', hash: scheme.hash } };
  }
  if (scheme.kind === 'ecdsa' && key.kind === 'ec')
    return { spki: bytes, algorithm: { name: 'ECDSA', namedCurve: key.curve } };
  if (scheme.kind === 'ed25519' && key.kind === 'ed25519') return { spki: bytes, algorithm: { name: 'Ed25519' } };
  return undefined;
}

function verifyDsa(
  scheme: Extract<Scheme, { kind: 'dsa' }>,
  y: bigint,
  parameters: DsaParameters,
  signed: Uint8Array,
  signature: Uint8Array,
): boolean {
  const { p, q, g } = parameters;
  // A library call must not be made to count for minutes.
  if (p >> 4096n > 0n || q >> 512n > 0n || y <= 1n || y >= p || g <= 1n || g >= p) return false;
  try {
    return DSA({ p, q, g, hash: scheme.hash === 'SHA-1' ? sha1 : sha256 }).verify(y, signed, signature);
  } catch {
    return false;
  }
}

export type SignatureCheck = 'valid' | 'invalid' | 'unsupported';

/** @param inherited The issuer's DSA parameters, for a key that states none. */
export async function checkSignature(
  scheme: Scheme | undefined,
  publicKey: PublicKeyInfo,
  signed: Uint8Array,
  signature: Uint8Array,
  inherited?: DsaParameters,
): Promise<SignatureCheck> {
  if (scheme === undefined) return 'unsupported';
  const { key } = publicKey;
  if (scheme.kind === 'dsa') {
    const parameters = key.kind === 'dsa' ? (key.parameters ?? inherited) : undefined;
    if (key.kind !== 'dsa' || parameters === undefined) return 'unsupported';
    return verifyDsa(scheme, key.y, parameters, signed, signature) ? 'valid' : 'invalid';
  }
  const imported = importParameters(scheme, publicKey);
  if (imported === undefined) return 'unsupported';
  const { subtle } = globalThis.crypto;
  let verified: CryptoKey;
  try {
    verified = await subtle.importKey('spki', imported.spki as Bytes, imported.algorithm, false, ['verify']);
  } catch {
    return 'unsupported';
  }
  let raw: Uint8Array | undefined = signature;
  if (scheme.kind === 'ecdsa' && key.kind === 'ec') {
    try {
      raw = rawSignature(signature, key.curve);
    } catch (error) {
      if (error instanceof Asn1Error) return 'invalid';
      throw error;
    }
    if (raw === undefined) return 'invalid';
  }
  const parameters =
    scheme.kind === 'pss'
      ? { name: 'RSA-PSS', saltLength: scheme.saltLength }
      : scheme.kind === 'ecdsa'
        ? { name: 'ECDSA', hash: scheme.hash }
        : { name: imported.algorithm.name };
  try {
    return (await subtle.verify(parameters, verified, raw as Bytes, signed as Bytes)) ? 'valid' : 'invalid';
  } catch {
    // The engine refuses what can't be a signature, such as a salt longer than the key.
    return 'invalid';
  }
}

/** ECDSA's r and s from WebCrypto, as certificates and CMS carry them. */
export function derSignature(raw: Uint8Array): Bytes {
  const half = raw.length / 2;
  const number = (bytes: Uint8Array): bigint => bytes.reduce((value, octet) => value * 256n + BigInt(octet), 0n);
  return sequence(integer(number(raw.subarray(0, half))), integer(number(raw.subarray(half))));
}
