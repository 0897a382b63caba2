/**
 * The content key under an RSA key: OAEP (RFC 3560, 4055) by WebCrypto, and PKCS#1 v1.5 (RFC 3370 §4.2.1), which
 * WebCrypto lacks and most programs still want, by libraries.
 */
import { sha1 } from '@noble/hashes/legacy.js';
import { sha256, sha384, sha512 } from '@noble/hashes/sha2.js';
import { mgf1, OAEP, PKCS1_KEM } from 'micro-rsa-dsa-dh/rsa.js';
import { fieldsOf } from '../asn1/fields';
import { oidOf } from '../asn1/read';
import { explicit, nullValue, oid, sequence } from '../asn1/write';
import { type Bytes, concat, randomBytes } from '../bytes';
import { type Algorithm, type PublicKeyInfo } from '../certificate/algorithm';
import { asPlainRsa, readPrivateKey, rsaPrivateKey } from '../certificate/private-key';
import { type Hash, HASH, hashNamed } from '../certificate/signature';
import { CmsError } from './errors';
import { KEY_ENCRYPTION } from './identifiers';

export type Transport = 'oaep' | 'pkcs1';

/** @throws CmsError `unsupported` when it is no RSA key */
export async function wrapForRsa(
  { key, bytes }: PublicKeyInfo,
  contentKey: Bytes,
  transport: Transport,
): Promise<{ algorithm: Bytes; encrypted: Bytes }> {
  if (key.kind !== 'rsa' || key.pss) throw new CmsError('unsupported');
  if (transport === 'pkcs1') {
    return {
      algorithm: sequence(oid(KEY_ENCRYPTION.rsa), nullValue()),
      encrypted: new Uint8Array(PKCS1_KEM.encrypt({ n: key.modulus, e: key.exponent }, contentKey)),
    };
  }
  const { subtle } = globalThis.crypto;
  const imported = await subtle.importKey('spki', bytes as Bytes, { name: 'RSA-OAEP', hash: 'SHA-256' }, false, [
    'encrypt',
  ]);
  const hash = sequence(oid(HASH['SHA-256']));
  return {
    algorithm: sequence(
      oid(KEY_ENCRYPTION.rsaOaep),
      sequence(explicit(0, hash), explicit(1, sequence(oid(KEY_ENCRYPTION.mgf1), hash))),
    ),
    encrypted: new Uint8Array(await subtle.encrypt('RSA-OAEP', imported, contentKey)),
  };
}

function oaepOf({ parameters }: Algorithm): { hash: Hash; mask: Hash } {
  if (parameters === undefined) return { hash: 'SHA-1', mask: 'SHA-1' };
  const fields = fieldsOf(parameters);
  const [hashAt, maskAt, labelAt] = [fields.explicit(0), fields.explicit(1), fields.explicit(2)];
  fields.end();
  const hash = hashAt === undefined ? 'SHA-1' : hashNamed(oidOf(fieldsOf(hashAt).next('oid')));
  const mask = maskAt === undefined ? 'SHA-1' : hashNamed(oidOf(fieldsOf(maskAt.children[1]).next('oid')));
  // A label of one's own is allowed by the standard and used by nobody.
  if (
    hash === undefined ||
    mask === undefined ||
    (labelAt !== undefined && (labelAt.children[1]?.content.length ?? 0) > 0)
  )
    throw new CmsError('unsupported');
  return { hash, mask };
}

const HASHES = { 'SHA-1': sha1, 'SHA-256': sha256, 'SHA-384': sha384, 'SHA-512': sha512 } as const;

/** As long as the modulus (RFC 8017 §7.2.2): some programs leave out noughts in front. */
function filled(encrypted: Uint8Array, modulus: bigint): Uint8Array {
  const length = Math.ceil(modulus.toString(16).length / 2);
  return encrypted.length >= length ? encrypted : concat(new Uint8Array(length - encrypted.length), encrypted);
}

/**
 * @param expected Octets the content's cipher wants; a key of another length can't be one.
 * @throws CmsError `unsupported`, `not-opened` (OAEP only)
 */
export async function unwrapByRsa(
  pkcs8: Uint8Array,
  algorithm: Algorithm,
  encrypted: Uint8Array,
  expected: number,
): Promise<Bytes> {
  if (algorithm.oid === KEY_ENCRYPTION.rsa) {
    // On bad padding on with a random key, never an error of its own (RFC 3218 §2.3.2): the answer must not tell what
    // the padding was like.
    let key = randomBytes(expected);
    try {
      const secret = rsaPrivateKey(pkcs8);
      const opened = new Uint8Array(PKCS1_KEM.decrypt(secret, filled(encrypted, secret.n)));
      if (opened.length === expected) key = opened;
    } catch {
      return key;
    }
    return key;
  }
  if (algorithm.oid !== KEY_ENCRYPTION.rsaOaep) throw new CmsError('unsupported');
  const { hash, mask } = oaepOf(algorithm);
  try {
    // WebCrypto masks with the hash itself; a mixed pair is the library's.
    if (hash !== mask) {
      const secret = rsaPrivateKey(pkcs8);
      return new Uint8Array(OAEP(HASHES[hash], mgf1(HASHES[mask])).decrypt(secret, filled(encrypted, secret.n)));
    }
    const { subtle } = globalThis.crypto;
    const plain = readPrivateKey(pkcs8).algorithm.oid === KEY_ENCRYPTION.rsa ? (pkcs8 as Bytes) : asPlainRsa(pkcs8);
    const imported = await subtle.importKey('pkcs8', plain, { name: 'RSA-OAEP', hash }, false, ['decrypt']);
    return new Uint8Array(await subtle.decrypt('RSA-OAEP', imported, encrypted as Bytes));
  } catch (cause) {
    throw new CmsError('not-opened', { cause });
  }
}
