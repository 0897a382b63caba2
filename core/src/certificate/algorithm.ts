/** An AlgorithmIdentifier (RFC 5280 §4.1.1.2) and the public keys it names (RFC 3279, 4055, 5480, 8410). */
import { fieldsOf } from '../asn1/fields';
import { bitsOf, type Element, integerOf, oidOf, readElement } from '../asn1/read';

export interface Algorithm {
  oid: string;
  parameters: Element | undefined;
  bytes: Uint8Array;
}

export function algorithmOf(element: Element): Algorithm {
  const fields = fieldsOf(element);
  const oid = oidOf(fields.next('oid'));
  const parameters = fields.more ? fields.any() : undefined;
  fields.end();
  return { oid, parameters, bytes: element.bytes };
}

export const KEY = {
  rsa: '1.2.840.113549.1.1.1',
  rsaPss: '1.2.840.113549.1.1.10',
  rsaOaep: '1.2.840.113549.1.1.7',
  dsa: '1.2.840.10040.4.1',
  ec: '1.2.840.10045.2.1',
  x25519: '1.3.101.110',
  ed25519: '1.3.101.112',
} as const;

export const CURVES = { '1.2.840.10045.3.1.7': 'P-256', '1.3.132.0.34': 'P-384', '1.3.132.0.35': 'P-521' } as const;
export type Curve = (typeof CURVES)[keyof typeof CURVES];
const CURVE_BITS: Record<Curve, number> = { 'P-256': 256, 'P-384': 384, 'P-521': 521 };

export interface DsaParameters {
  p: bigint;
  q: bigint;
  g: bigint;
}
export type PublicKey =
  | { kind: 'rsa'; bits: number; modulus: bigint; exponent: bigint; /** The key is for PSS alone. */ pss: boolean }
  | { kind: 'ec'; curve: Curve; bits: number; point: Uint8Array }
  | { kind: 'ed25519' | 'x25519'; bits: 256; raw: Uint8Array }
  /** Undefined parameters are inherited from the issuer's key (RFC 3279 §2.3.2). */
  | { kind: 'dsa'; bits: number; y: bigint; parameters: DsaParameters | undefined }
  | { kind: 'unknown'; oid: string };

const bitLength = (value: bigint): number => value.toString(2).length;

export interface PublicKeyInfo {
  /** SubjectPublicKeyInfo as it stands: what WebCrypto imports. */
  bytes: Uint8Array;
  algorithm: Algorithm;
  /** The bits of the key itself: what key identifiers are hashed over. */
  keyBits: Uint8Array;
  key: PublicKey;
}

function keyOf({ oid, parameters }: Algorithm, bits: Uint8Array): PublicKey {
  switch (oid) {
    case KEY.rsa:
    case KEY.rsaPss: {
      const fields = fieldsOf(readElement(bits));
      const [modulus, exponent] = [integerOf(fields.next('integer')), integerOf(fields.next('integer'))];
      return { kind: 'rsa', bits: bitLength(modulus), modulus, exponent, pss: oid === KEY.rsaPss };
    }
    case KEY.ec: {
      const named = parameters === undefined || parameters.tag !== 6 ? undefined : oidOf(parameters);
      const curve = CURVES[named as keyof typeof CURVES] as Curve | undefined;
      return curve === undefined
        ? { kind: 'unknown', oid: named ?? oid }
        : { kind: 'ec', curve, bits: CURVE_BITS[curve], point: bits };
    }
    case KEY.ed25519:
      return { kind: 'ed25519', bits: 256, raw: bits };
    case KEY.x25519:
      return { kind: 'x25519', bits: 256, raw: bits };
    case KEY.dsa: {
      const y = integerOf(readElement(bits));
      if (parameters === undefined || !parameters.constructed)
        return { kind: 'dsa', bits: bitLength(y), y, parameters: undefined };
      const fields = fieldsOf(parameters);
      const [p, q, g] = [fields.next('integer'), fields.next('integer'), fields.next('integer')].map((one) =>
        integerOf(one),
      ) as [bigint, bigint, bigint];
      return { kind: 'dsa', bits: bitLength(p), y, parameters: { p, q, g } };
    }
    default:
      return { kind: 'unknown', oid };
  }
}

export function publicKeyOf(element: Element): PublicKeyInfo {
  const fields = fieldsOf(element);
  const algorithm = algorithmOf(fields.any());
  const { bytes: keyBits } = bitsOf(fields.next('bitString'));
  fields.end();
  return { bytes: element.bytes, algorithm, keyBits, key: keyOf(algorithm, keyBits) };
}
