/**
 * Private keys in the files people have them in: PKCS#12; or, as PEM (RFC 7468) or bare DER, a key of PKCS#8 (RFC
 * 5958, also under a password by RFC 8018), PKCS#1 (RFC 8017) or RFC 5915,
 * with certificates beside it or alone. OpenSSL's own encryption of PEM (`Proc-Type: 4,ENCRYPTED`) is left out: its
 * key comes from one round of MD5.
 */
import { Asn1Error } from '../asn1/read';
import { type Bytes } from '../bytes';
import { CertificateError } from '../certificate/errors';
import { certificatesIn, decoded } from './in-file';
import { Pkcs12Error } from './pkcs12/errors';
import { type Found, matched, type Pkcs12Content, readPkcs12, unlockedKey } from './pkcs12/read';
import { fromPkcs1, fromSec1, publicBitsOf } from '../certificate/private-key';

const KEY_BLOCK = /-----BEGIN ((?:ENCRYPTED |RSA |EC )?PRIVATE KEY)-----((?:[^-]|-(?!----))*)-----END/g;
const MAX_KEYS = 20;

type Told = (share: number) => void;

async function keyIn(label: string, der: Bytes, password: string, told?: Told): Promise<Bytes> {
  switch (label) {
    case 'ENCRYPTED PRIVATE KEY':
      return unlockedKey(der, password, told);
    case 'RSA PRIVATE KEY':
      return fromPkcs1(der);
    case 'EC PRIVATE KEY':
      return fromSec1(der);
    default:
      return der;
  }
}

/** Only what really is a key counts as one: a wrong password may leave something that looks like DER. */
async function checkedKey(pkcs8: Bytes, locked: boolean): Promise<Bytes> {
  try {
    await publicBitsOf(pkcs8);
    return pkcs8;
  } catch (cause) {
    if (!(cause instanceof CertificateError)) throw cause;
    throw new Pkcs12Error(locked ? 'wrong-password' : 'malformed', { cause });
  }
}

async function keysInPem(text: string, password: string, told?: Told): Promise<Found['keys']> {
  const keys: Found['keys'] = [];
  for (const [, label, body] of [...text.matchAll(KEY_BLOCK)].slice(0, MAX_KEYS)) {
    if (/Proc-Type:/.test(body!)) throw new Pkcs12Error('unsupported');
    const der = decoded(body!);
    if (der === undefined) throw new Pkcs12Error('malformed');
    keys.push({
      name: '',
      keyId: '',
      privateKey: await checkedKey(await keyIn(label!, der, password, told), label!.startsWith('ENCRYPTED')),
    });
  }
  return keys;
}

/** Bare DER without saying what it is: under a password, open, or in its algorithm's own form. */
async function keyInDer(bytes: Uint8Array, password: string, told?: Told): Promise<Found['keys']> {
  for (const label of ['ENCRYPTED PRIVATE KEY', 'PRIVATE KEY', 'RSA PRIVATE KEY', 'EC PRIVATE KEY']) {
    try {
      return [
        {
          name: '',
          keyId: '',
          privateKey: await checkedKey(
            await keyIn(label, bytes.slice() as Bytes, password, told),
            label.startsWith('ENCRYPTED'),
          ),
        },
      ];
    } catch (error) {
      if (error instanceof Pkcs12Error && (error.code === 'wrong-password' || error.code === 'too-many-rounds'))
        throw error;
      if (!(error instanceof Pkcs12Error) && !(error instanceof CertificateError) && !(error instanceof Asn1Error))
        throw error;
    }
  }
  return [];
}

/**
 * What is in it, or why it can't be read as such, where it may be something else. @throws Pkcs12Error when it is one,
 * and does not open
 */
async function pkcs12In(bytes: Uint8Array, password: string, told?: Told): Promise<Pkcs12Content | Pkcs12Error> {
  try {
    return await readPkcs12(bytes, password, told);
  } catch (error) {
    if (error instanceof Pkcs12Error && (error.code === 'malformed' || error.code === 'unsupported')) return error;
    throw error;
  }
}

/**
 * Everything a file holds of keys and certificates. `told` is given the share that is done, where deriving keys takes
 * its time. @throws Pkcs12Error; `malformed` when it holds neither
 */
export async function readKeyFile(bytes: Uint8Array, password: string, told?: Told): Promise<Pkcs12Content> {
  const certificates = certificatesIn(bytes).map((certificate) => ({ name: '', keyId: '', certificate }));
  const isDer = bytes[0] === 0x30;
  const asPkcs12 = isDer && certificates.length === 0 ? await pkcs12In(bytes, password, told) : undefined;
  if (asPkcs12 !== undefined && !(asPkcs12 instanceof Pkcs12Error)) return asPkcs12;
  const bare = isDer ? await keyInDer(bytes, password, told) : [];
  const keys = bare.length > 0 ? bare : await keysInPem(new TextDecoder('latin1').decode(bytes), password, told);
  if (keys.length + certificates.length === 0) throw asPkcs12 ?? new Pkcs12Error('malformed');
  return matched({ keys, certificates, unread: 0 });
}
