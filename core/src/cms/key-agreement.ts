/**
 * The content key agreed on by ephemeral-static ECDH (RFC 5753 §3.1, §7.2), derived as X9.63 says and wrapped with AES
 * (RFC 3394).
 */
import { aeskw } from '@noble/ciphers/aes.js';
import { bitsOf, type Element, oidOf } from '../asn1/read';
import { bitString, explicit, implicit, octetString, oid, sequence } from '../asn1/write';
import { type Bytes, concat } from '../bytes';
import { type Algorithm, algorithmOf, type Curve, CURVES, KEY, type PublicKeyInfo } from '../certificate/algorithm';
import { readPrivateKey } from '../certificate/private-key';
import { CmsError } from './errors';
import { AGREEMENT, AGREEMENT_SHA256, AGREEMENT_SHA384, WRAP, WRAP_AES_256 } from './identifiers';

type KdfHash = (typeof AGREEMENT)[keyof typeof AGREEMENT];

const uint32 = (value: number): Bytes => {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setUint32(0, value);
  return bytes;
};

/** SEC 1 §3.6.1. */
async function x963(hash: KdfHash, secret: Uint8Array, info: Uint8Array, length: number): Promise<Bytes> {
  const blocks: Bytes[] = [];
  for (let counter = 1, made = 0; made < length; counter++) {
    const block = new Uint8Array(await globalThis.crypto.subtle.digest(hash, concat(secret, uint32(counter), info)));
    blocks.push(block);
    made += block.length;
  }
  return concat(...blocks).slice(0, length);
}

/** ECC-CMS-SharedInfo (§7.2): the wrapping algorithm exactly as it stands in the message. */
const sharedInfo = (wrap: Uint8Array, ukm: Uint8Array | undefined, keyBytes: number): Bytes =>
  sequence(
    wrap,
    ...(ukm === undefined ? [] : [explicit(0, octetString(ukm))]),
    explicit(2, octetString(uint32(keyBytes * 8))),
  );

const curveParameters = (curve: Curve): Bytes => oid(Object.entries(CURVES).find(([, name]) => name === curve)![0]);

const SECRET_BITS: Record<Curve, number> = { 'P-256': 256, 'P-384': 384, 'P-521': 528 };

async function shared(privateKey: CryptoKey, publicKey: CryptoKey, curve: Curve): Promise<Bytes> {
  // 521 bits are asked for as 528, the field's whole octets.
  return new Uint8Array(
    await globalThis.crypto.subtle.deriveBits({ name: 'ECDH', public: publicKey }, privateKey, SECRET_BITS[curve]),
  );
}

/**
 * What comes before the recipient's encrypted key: originator and algorithm, of a key made for this recipient alone.
 */
export async function wrapForEc(
  { key, bytes }: PublicKeyInfo,
  contentKey: Bytes,
): Promise<{ originator: Bytes; algorithm: Bytes; encrypted: Bytes }> {
  if (key.kind !== 'ec') throw new CmsError('unsupported');
  const { subtle } = globalThis.crypto;
  const { curve } = key;
  const theirs = await subtle.importKey('spki', bytes as Bytes, { name: 'ECDH', namedCurve: curve }, false, []);
  const ours = await subtle.generateKey({ name: 'ECDH', namedCurve: curve }, false, ['deriveBits']);
  const wrap = sequence(oid(WRAP_AES_256));
  // The hash as strong as the curve (RFC 5753 §8).
  const [hash, scheme] =
    curve === 'P-256' ? (['SHA-256', AGREEMENT_SHA256] as const) : (['SHA-384', AGREEMENT_SHA384] as const);
  const kek = await x963(hash, await shared(ours.privateKey, theirs, curve), sharedInfo(wrap, undefined, 32), 32);
  const point = new Uint8Array(await subtle.exportKey('raw', ours.publicKey));
  return {
    originator: implicit(1, concat(sequence(oid(KEY.ec), curveParameters(curve)), bitString(point)), true),
    algorithm: sequence(oid(scheme), wrap),
    encrypted: new Uint8Array(aeskw(kek).encrypt(contentKey)),
  };
}

/** @param originator `OriginatorPublicKey` under [1]. @throws CmsError */
export async function unwrapByEc(
  pkcs8: Uint8Array,
  algorithm: Algorithm,
  originator: Element,
  ukm: Uint8Array | undefined,
  encrypted: Uint8Array,
): Promise<Bytes> {
  const hash = AGREEMENT[algorithm.oid as keyof typeof AGREEMENT] as KdfHash | undefined;
  if (hash === undefined || algorithm.parameters === undefined) throw new CmsError('unsupported');
  const keyBytes = WRAP[algorithmOf(algorithm.parameters).oid as keyof typeof WRAP] as number | undefined;
  const { algorithm: own } = readPrivateKey(pkcs8);
  const curve =
    own.parameters === undefined
      ? undefined
      : (CURVES[oidOf(own.parameters) as keyof typeof CURVES] as Curve | undefined);
  const point = originator.children[1];
  if (keyBytes === undefined || own.oid !== KEY.ec || curve === undefined || point === undefined)
    throw new CmsError('unsupported');
  const { subtle } = globalThis.crypto;
  try {
    const ours = await subtle.importKey('pkcs8', pkcs8 as Bytes, { name: 'ECDH', namedCurve: curve }, false, [
      'deriveBits',
    ]);
    // The engine refuses points that are not on the curve.
    const theirs = await subtle.importKey(
      'raw',
      bitsOf(point).bytes as Bytes,
      { name: 'ECDH', namedCurve: curve },
      false,
      [],
    );
    const kek = await x963(
      hash,
      await shared(ours, theirs, curve),
      sharedInfo(algorithm.parameters.bytes, ukm, keyBytes),
      keyBytes,
    );
    return new Uint8Array(aeskw(kek).decrypt(encrypted));
  } catch (cause) {
    throw new CmsError('not-opened', { cause });
  }
}
