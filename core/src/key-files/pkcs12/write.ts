/**
 * Writes PKCS#12 files (RFC 7292) with PBES2, PBKDF2-HMAC-SHA-256 and AES-256: what current programs write and all of
 * the last decade read.
 */
import { sha1 } from '@noble/hashes/legacy.js';
import { element, explicit, implicit, integer, nullValue, octetString, oid, sequence, setOf } from '../../asn1/write';
import { type Bytes, randomBytes, utf8 } from '../../bytes';
import { CIPHER, CONTENT } from '../../cms/identifiers';
import { type Certificate } from '../../certificate/certificate';
import { HASH } from '../../certificate/signature';
import { bmp, macOf } from './derive';
import { paceOf } from './pace';
import { isPortablePassword } from './password';
import { BAG, ENCRYPTED_DATA, FRIENDLY_NAME, HMAC_SHA256, LOCAL_KEY_ID, PBES2, PBKDF2, X509 } from './identifiers';

/** OWASP's count for PBKDF2-HMAC-SHA-256 (2023): a backup lies about for years. */
const WRITE_ROUNDS = 600_000;
/**
 * The MAC repeats the derivation with plain hashing, which other programs do slowly; it only guards what is encrypted
 * anyway.
 */
const MAC_ROUNDS = 10_000;

async function locked(password: string, plain: Uint8Array): Promise<{ algorithm: Bytes; body: Bytes }> {
  const { subtle } = globalThis.crypto;
  const [salt, iv] = [randomBytes(16), randomBytes(16)];
  const base = await subtle.importKey('raw', utf8(password), 'PBKDF2', false, ['deriveKey']);
  const key = await subtle.deriveKey(
    { name: 'PBKDF2', hash: 'SHA-256', salt, iterations: WRITE_ROUNDS },
    base,
    { name: 'AES-CBC', length: 256 },
    false,
    ['encrypt'],
  );
  const kdf = sequence(
    oid(PBKDF2),
    sequence(octetString(salt), integer(WRITE_ROUNDS), sequence(oid(HMAC_SHA256), nullValue())),
  );
  return {
    algorithm: sequence(oid(PBES2), sequence(kdf, sequence(oid(CIPHER['AES-256-CBC']), octetString(iv)))),
    body: new Uint8Array(await subtle.encrypt({ name: 'AES-CBC', iv }, key, plain as Bytes)),
  };
}

export interface Pkcs12Input {
  privateKey: Uint8Array;
  certificate: Certificate;
  chain: readonly Certificate[];
  /** What other programs list it under. */
  name: string;
}

/**
 * A key with its certificate and chain. @throws RangeError on an empty password, or one with characters some programs
 * spell otherwise
 */
export async function writePkcs12(
  { privateKey, certificate, chain, name }: Pkcs12Input,
  password: string,
): Promise<Bytes> {
  if (!isPortablePassword(password)) throw new RangeError('The password must be of ASCII characters');
  const id = sha1(certificate.bytes);
  const attributes = setOf(
    sequence(oid(FRIENDLY_NAME), setOf(element('universal', 30, false, bmp(name).subarray(0, -2)))),
    sequence(oid(LOCAL_KEY_ID), setOf(octetString(id))),
  );
  const bag = (one: Certificate, ...rest: Bytes[]): Bytes =>
    sequence(oid(BAG.certificate), explicit(0, sequence(oid(X509), explicit(0, octetString(one.bytes)))), ...rest);
  const key = await locked(password, privateKey);
  const certificates = await locked(password, sequence(bag(certificate, attributes), ...chain.map((one) => bag(one))));
  const content = sequence(
    sequence(
      oid(ENCRYPTED_DATA),
      explicit(
        0,
        sequence(
          integer(0),
          sequence(oid(CONTENT.data), certificates.algorithm, implicit(0, certificates.body, false)),
        ),
      ),
    ),
    sequence(
      oid(CONTENT.data),
      explicit(
        0,
        octetString(
          sequence(
            sequence(oid(BAG.shroudedKey), explicit(0, sequence(key.algorithm, octetString(key.body))), attributes),
          ),
        ),
      ),
    ),
  );
  const salt = randomBytes(16);
  const mac = await macOf({ hash: 'SHA-256', password: bmp(password), salt, rounds: MAC_ROUNDS, content }, paceOf());
  return sequence(
    integer(3),
    sequence(oid(CONTENT.data), explicit(0, octetString(content))),
    sequence(
      sequence(sequence(oid(HASH['SHA-256']), nullValue()), octetString(mac)),
      octetString(salt),
      integer(MAC_ROUNDS),
    ),
  );
}
