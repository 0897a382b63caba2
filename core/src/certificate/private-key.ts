/** Private keys as PKCS#8 (RFC 5958; RFC 8017 A.1.2 for RSA inside). */
import { fieldsOf } from '../asn1/fields';
import { type Element, integerOf, oidOf, readElement } from '../asn1/read';
import { integer, nullValue, octetString, oid, sequence } from '../asn1/write';
import { type Bytes, concat, fromBase64Url } from '../bytes';
import { type Algorithm, algorithmOf, CURVES, KEY } from './algorithm';
import { CertificateError, reading } from './errors';

export interface PrivateKeyInfo {
  algorithm: Algorithm;
  /** The key in its algorithm's own form. */ key: Uint8Array;
}

/** @throws CertificateError `malformed` */
export const readPrivateKey = (pkcs8: Uint8Array): PrivateKeyInfo =>
  reading('private key', () => {
    const fields = fieldsOf(readElement(pkcs8, { maxBytes: 64 * 1024, maxElements: 1000 }));
    fields.next('integer');
    return { algorithm: algorithmOf(fields.any()), key: fields.next('octetString').content };
  });

/** The same key under the plain RSA identifier: engines import no id-RSASSA-PSS keys. */
export const asPlainRsa = (pkcs8: Uint8Array): Bytes =>
  sequence(integer(0), sequence(oid(KEY.rsa), nullValue()), octetString(readPrivateKey(pkcs8).key));

/** An RSA key in its own form (PKCS#1, RFC 8017 A.1.2) as PKCS#8. */
export const fromPkcs1 = (der: Uint8Array): Bytes =>
  sequence(integer(0), sequence(oid(KEY.rsa), nullValue()), octetString(der));

/** An elliptic curve's key in its own form (RFC 5915) as PKCS#8. @throws CertificateError when it names no curve */
export const fromSec1 = (der: Uint8Array): Bytes =>
  reading('private key', () => {
    const fields = fieldsOf(readElement(der, { maxBytes: 64 * 1024, maxElements: 100 }));
    fields.next('integer');
    fields.next('octetString');
    const curve = fields.explicit(0);
    if (curve === undefined) throw new CertificateError('unsupported', 'private key');
    return sequence(integer(0), sequence(oid(KEY.ec), curve.bytes), octetString(der));
  });

export interface RsaPrivateKey {
  n: bigint;
  e: bigint;
  d: bigint;
  p: bigint;
  q: bigint;
  dP: bigint;
  dQ: bigint;
  qInv: bigint;
}

/** @throws CertificateError `malformed` when it is no RSA key of two primes */
export const rsaPrivateKey = (pkcs8: Uint8Array): RsaPrivateKey =>
  reading('private key', () => {
    const fields = fieldsOf(readElement(readPrivateKey(pkcs8).key));
    const [, n, e, d, p, q, dP, dQ, qInv] = Array.from({ length: 9 }, (): Element => fields.next('integer')).map(
      (one) => integerOf(one),
    );
    return { n: n!, e: e!, d: d!, p: p!, q: q!, dP: dP!, dQ: dQ!, qInv: qInv! };
  });

/**
 * The public half's bits, as they stand in a certificate for the same key; undefined for kinds we can't tell. @throws
 * CertificateError `malformed`
 */
export async function publicBitsOf(pkcs8: Uint8Array): Promise<Uint8Array | undefined> {
  const { algorithm } = readPrivateKey(pkcs8);
  if (algorithm.oid === KEY.rsa || algorithm.oid === KEY.rsaPss) {
    const { n, e } = rsaPrivateKey(pkcs8);
    return sequence(integer(n), integer(e));
  }
  const curve =
    algorithm.oid === KEY.ec && algorithm.parameters !== undefined
      ? CURVES[oidOf(algorithm.parameters) as keyof typeof CURVES]
      : undefined;
  const kind =
    curve !== undefined
      ? { name: 'ECDSA', namedCurve: curve }
      : algorithm.oid === KEY.ed25519
        ? { name: 'Ed25519' }
        : undefined;
  if (kind === undefined) return undefined;
  const { subtle } = globalThis.crypto;
  let jwk: JsonWebKey;
  try {
    jwk = await subtle.exportKey('jwk', await subtle.importKey('pkcs8', pkcs8 as Bytes, kind, true, ['sign']));
  } catch (cause) {
    throw new CertificateError('malformed', 'private key', { cause });
  }
  const [x, y] = [fromBase64Url(jwk.x!), jwk.y === undefined ? undefined : fromBase64Url(jwk.y)];
  return y === undefined ? x : concat(Uint8Array.of(4), x, y);
}
