/** Makes a key pair, and the request that asks an authority for a certificate for it (PKCS#10, RFC 2986). */
import { bitString, element, integer, nullValue, octetString, oid, sequence, setOf, utf8String } from '../asn1/write';
import { type Bytes, utf8 } from '../bytes';
import { EXTENSION } from './extensions';
import { ATTRIBUTE } from './name';
import { EXTENSION_REQUEST } from './request';
import { derSignature, SIGNATURE } from './signature';

export const KEY_KINDS = ['rsa-3072', 'p-256', 'p-384'] as const;
export type KeyKind = (typeof KEY_KINDS)[number];

export interface KeyPair {
  kind: KeyKind;
  /** PKCS#8. */
  privateKey: Bytes;
  /** SubjectPublicKeyInfo. */
  publicKey: Bytes;
}

const PARAMETERS: Record<KeyKind, RsaHashedKeyGenParams | EcKeyGenParams> = {
  // 3072 bits for what is to last beyond 2030 (NIST SP 800-57 part 1, table 2; BSI TR-02102-1 §3.5).
  'rsa-3072': {
    name: 'RSASSA-PKCS1-v1_5',
    modulusLength: 3072,
    publicExponent: Uint8Array.of(1, 0, 1),
    hash: 'SHA-256',
  },
  'p-256': { name: 'ECDSA', namedCurve: 'P-256' },
  'p-384': { name: 'ECDSA', namedCurve: 'P-384' },
};

export async function makeKeyPair(kind: KeyKind): Promise<KeyPair> {
  const { subtle } = globalThis.crypto;
  const pair = await subtle.generateKey(PARAMETERS[kind], true, ['sign', 'verify']);
  return {
    kind,
    privateKey: new Uint8Array(await subtle.exportKey('pkcs8', pair.privateKey)),
    publicKey: new Uint8Array(await subtle.exportKey('spki', pair.publicKey)),
  };
}

/**
 * What a certificate is asked for with: who, and every address it is to be good for. The authority decides the rest.
 */
export interface RequestFor {
  name: string;
  addresses: readonly string[];
}

function altNames(addresses: readonly string[]): Bytes {
  const names = addresses.map((address) => element('context', 1, false, utf8(address)));
  return sequence(oid(EXTENSION.subjectAltName), octetString(sequence(...names)));
}

/**
 * A PKCS#10 request in DER, signed with the key itself. @throws RangeError without an address, or with one that is not
 * ASCII
 */
export async function makeRequest(
  { kind, privateKey, publicKey }: KeyPair,
  { name, addresses }: RequestFor,
): Promise<Bytes> {
  if (
    addresses.length === 0 ||
    addresses.some((address) => !/^[\x21-\x7e]+$/.test(address) || !address.slice(1, -1).includes('@'))
  )
    throw new RangeError('A request needs addresses in ASCII');
  const subject = name === '' ? sequence() : sequence(setOf(sequence(oid(ATTRIBUTE.commonName), utf8String(name))));
  const attributes = sequence(oid(EXTENSION_REQUEST), setOf(sequence(altNames(addresses))));
  const body = sequence(integer(0), subject, publicKey, element('context', 0, true, attributes));
  const { subtle } = globalThis.crypto;
  if (kind === 'rsa-3072') {
    const key = await subtle.importKey('pkcs8', privateKey, { name: 'RSASSA-PKCS1-v1_5', hash: 'SHA-256' }, false, [
      'sign',
    ]);
    return sequence(
      body,
      sequence(oid(SIGNATURE['rsa-SHA-256']), nullValue()),
      bitString(new Uint8Array(await subtle.sign('RSASSA-PKCS1-v1_5', key, body))),
    );
  }
  const [curve, hash] = kind === 'p-256' ? (['P-256', 'SHA-256'] as const) : (['P-384', 'SHA-384'] as const);
  const key = await subtle.importKey('pkcs8', privateKey, { name: 'ECDSA', namedCurve: curve }, false, ['sign']);
  return sequence(
    body,
    sequence(oid(SIGNATURE[`ecdsa-${hash}`])),
    bitString(derSignature(new Uint8Array(await subtle.sign({ name: 'ECDSA', hash }, key, body)))),
  );
}
