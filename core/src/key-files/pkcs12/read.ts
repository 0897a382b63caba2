/**
 * Reads PKCS#12 files (RFC 7292): keys with their certificates under a password, as mail programs give them. The old
 * schemes with RC2 and triple DES (Appendix C) and today's (RFC 8018 PBES2).
 * Left out: public-key privacy and integrity modes, which nobody uses, and PBMAC1.
 */
import { cbc } from '@noble/ciphers/aes.js';
import { fieldsOf, is, stringOf } from '../../asn1/fields';
import { Asn1Error, type Element, integerOf, octetsOf, oidOf, readElement } from '../../asn1/read';
import { type Bytes, concat, sameBytes, toHex, utf8 } from '../../bytes';
import { CmsError } from '../../cms/errors';
import { CIPHER, CONTENT } from '../../cms/identifiers';
import { oldDecrypt } from '../../cms/old-ciphers';
import { type Algorithm, algorithmOf } from '../../certificate/algorithm';
import { type Certificate, readCertificate } from '../../certificate/certificate';
import { CertificateError } from '../../certificate/errors';
import { publicBitsOf } from '../../certificate/private-key';
import { hashNamed } from '../../certificate/signature';
import { bmp, derive, macOf, roundsFor } from './derive';
import { Pkcs12Error } from './errors';
import { BAG, ENCRYPTED_DATA, FRIENDLY_NAME, LOCAL_KEY_ID, OLD_PBE, PBES2, PBKDF2, PRF, X509 } from './identifiers';
import { type Pace, paceOf } from './pace';

export const MAX_PKCS12_BYTES = 4 * 1024 * 1024;
/** A file that asks for more would only keep the reader busy; programs use two thousand to a million. */
export const MAX_ROUNDS = 5_000_000;

function roundsOf(spelled: Element): number {
  const rounds = integerOf(spelled, 8);
  if (rounds < 1n) throw new Pkcs12Error('malformed');
  if (rounds > BigInt(MAX_ROUNDS)) throw new Pkcs12Error('too-many-rounds');
  return Number(rounds);
}

async function byPbes2(parameters: Element, password: string, body: Uint8Array, pace: Pace): Promise<Uint8Array> {
  const outer = fieldsOf(parameters);
  const [kdf, scheme] = [algorithmOf(outer.any()), algorithmOf(outer.any())];
  if (kdf.oid !== PBKDF2 || kdf.parameters === undefined || scheme.parameters === undefined)
    throw new Pkcs12Error('unsupported');
  const fields = fieldsOf(kdf.parameters);
  const salt = fields.next('octetString').content;
  const iterations = roundsOf(fields.next('integer'));
  fields.optional('integer');
  const prf = fields.optional('sequence');
  const hash = prf === undefined ? 'SHA-1' : PRF[algorithmOf(prf).oid as keyof typeof PRF];
  const name = (['AES-128-CBC', 'AES-192-CBC', 'AES-256-CBC', '3DES-CBC'] as const).find(
    (one) => CIPHER[one] === scheme.oid,
  );
  if (hash === undefined || name === undefined) throw new Pkcs12Error('unsupported');
  const iv = octetsOf(scheme.parameters);
  const keyBytes = name === 'AES-128-CBC' ? 16 : name === 'AES-256-CBC' ? 32 : 24;
  const { subtle } = globalThis.crypto;
  const base = await subtle.importKey('raw', utf8(password), 'PBKDF2', false, ['deriveBits']);
  const key = new Uint8Array(
    await subtle.deriveBits({ name: 'PBKDF2', hash, salt: salt as Bytes, iterations }, base, keyBytes * 8),
  );
  pace.tick(iterations);
  if (name === '3DES-CBC') return oldDecrypt({ name, iv, effectiveBits: 0 }, key, body);
  if (keyBytes === 24) return cbc(key, iv).decrypt(body);
  return new Uint8Array(
    await subtle.decrypt(
      { name: 'AES-CBC', iv: iv as Bytes },
      await subtle.importKey('raw', key, 'AES-CBC', false, ['decrypt']),
      body as Bytes,
    ),
  );
}

/** As typed, and as the old schemes spell it. */
interface Password {
  typed: string;
  old: Uint8Array;
}

function roundsAfterSalt(parameters: Element): number {
  const fields = fieldsOf(parameters);
  fields.next('octetString');
  return roundsOf(fields.next('integer'));
}

/** Rounds that {@link unlocked} will run; 0 for what it will refuse. */
function roundsAskedBy({ oid: scheme, parameters }: Algorithm): number {
  try {
    if (scheme === PBES2) return roundsAfterSalt(algorithmOf(fieldsOf(parameters!).any()).parameters!);
    const old = OLD_PBE[scheme as keyof typeof OLD_PBE];
    const rounds = roundsAfterSalt(parameters!);
    return roundsFor({ hash: 'SHA-1', rounds, length: old.keyBytes }) + roundsFor({ hash: 'SHA-1', rounds, length: 8 });
  } catch {
    return 0;
  }
}

async function unlocked(algorithm: Algorithm, password: Password, body: Uint8Array, pace: Pace): Promise<Uint8Array> {
  const { oid: scheme, parameters } = algorithm;
  if (parameters === undefined) throw new Pkcs12Error('unsupported');
  try {
    if (scheme === PBES2) return await byPbes2(parameters, password.typed, body, pace);
    const old = OLD_PBE[scheme as keyof typeof OLD_PBE] as (typeof OLD_PBE)[keyof typeof OLD_PBE] | undefined;
    if (old === undefined) throw new Pkcs12Error('unsupported');
    const fields = fieldsOf(parameters);
    const salt = octetsOf(fields.next('octetString'));
    const rounds = roundsOf(fields.next('integer'));
    const derivation = { hash: 'SHA-1' as const, password: password.old, salt, rounds };
    const derived = await derive({ ...derivation, id: 1, length: old.keyBytes }, pace);
    // Two-key triple DES uses the first key again.
    const key = old.keyBytes === 16 && old.name === '3DES-CBC' ? concat(derived, derived.subarray(0, 8)) : derived;
    const iv = await derive({ ...derivation, id: 2, length: 8 }, pace);
    return oldDecrypt({ name: old.name, iv, effectiveBits: old.bits }, key, body);
  } catch (cause) {
    if (cause instanceof Pkcs12Error) throw cause;
    throw new Pkcs12Error(cause instanceof CmsError && cause.code === 'malformed' ? 'malformed' : 'wrong-password', {
      cause,
    });
  }
}

/**
 * A key under a password by itself (EncryptedPrivateKeyInfo, RFC 5958 §3), as PKCS#8. @throws Pkcs12Error, Asn1Error
 */
export async function unlockedKey(der: Uint8Array, typed: string, told?: (share: number) => void): Promise<Bytes> {
  const parts = fieldsOf(readElement(der, { maxBytes: MAX_PKCS12_BYTES, maxElements: 1000 }));
  const algorithm = algorithmOf(parts.any());
  const pace = paceOf(told);
  pace.expect(roundsAskedBy(algorithm));
  return (
    await unlocked(algorithm, { typed, old: bmp(typed) }, octetsOf(parts.next('octetString')), pace)
  ).slice() as Bytes;
}

interface Named {
  name: string;
  keyId: string;
}
export interface FoundKey extends Named {
  privateKey: Bytes;
}
export interface FoundCertificate extends Named {
  certificate: Certificate;
}
export interface Pkcs12Content {
  /** Each key with its certificate, where the file brings it. */
  identities: readonly { privateKey: Bytes; certificate: Certificate | undefined; name: string }[];
  /** Certificates to which no key came along: the chain, and other people's. */
  others: readonly Certificate[];
  /** Certificates that can't be read. */
  unread: number;
}

export interface Found {
  keys: FoundKey[];
  certificates: FoundCertificate[];
  unread: number;
}

function namesOf(attributes: Element | undefined): Named {
  const named: Named = { name: '', keyId: '' };
  for (const one of attributes?.children ?? []) {
    const fields = fieldsOf(one);
    const type = oidOf(fields.next('oid'));
    const [value] = fields.next('set').children;
    if (value === undefined) continue;
    if (type === FRIENDLY_NAME) named.name = stringOf(value) ?? '';
    if (type === LOCAL_KEY_ID && is(value, 'octetString')) named.keyId = toHex(value.content);
  }
  return named;
}

const MAX_BAGS = 500;

/** What reading goes on with: the password, what has been found, and how far it is. */
interface Reading {
  password: Password;
  found: Found;
  pace: Pace;
}

/** Rounds that the locked keys of a safe ask for. */
function roundsInSafe(safe: Uint8Array): number {
  try {
    return readElement(safe)
      .children.slice(0, MAX_BAGS)
      .map((bag) => fieldsOf(bag))
      .filter((fields) => oidOf(fields.next('oid')) === BAG.shroudedKey)
      .reduce((sum, fields) => sum + roundsAskedBy(algorithmOf(fieldsOf(fields.explicit(0)!).any())), 0);
  } catch {
    // Whatever is wrong with it is said when it is read.
    return 0;
  }
}

async function bags(safe: Uint8Array, { password, found, pace }: Reading, depth = 0): Promise<void> {
  if (depth > 4) throw new Pkcs12Error('malformed');
  for (const bag of readElement(safe).children) {
    if (found.keys.length + found.certificates.length > MAX_BAGS) throw new Pkcs12Error('malformed');
    const fields = fieldsOf(bag);
    const type = oidOf(fields.next('oid'));
    const value = fields.explicit(0);
    const named = namesOf(fields.optional('set'));
    if (value === undefined) throw new Pkcs12Error('malformed');
    if (type === BAG.safe) await bags(value.bytes, { password, found, pace }, depth + 1);
    if (type === BAG.key) found.keys.push({ ...named, privateKey: value.bytes.slice() as Bytes });
    if (type === BAG.shroudedKey) {
      const parts = fieldsOf(value);
      const algorithm = algorithmOf(parts.any());
      found.keys.push({
        ...named,
        privateKey: (await unlocked(algorithm, password, octetsOf(parts.next('octetString')), pace)).slice() as Bytes,
      });
    }
    if (type === BAG.certificate) {
      const parts = fieldsOf(value);
      const kind = oidOf(parts.next('oid'));
      const inner = parts.explicit(0);
      if (kind !== X509 || inner === undefined) continue;
      try {
        found.certificates.push({ ...named, certificate: readCertificate(octetsOf(inner).slice()) });
      } catch (error) {
        if (!(error instanceof CertificateError)) throw error;
        found.unread += 1;
      }
    }
  }
}

/** The spelling of the password that the MAC is right by. */
async function passwordByMac(
  mac: Element,
  typed: string,
  content: Uint8Array,
  pace: Pace,
): Promise<Password | undefined> {
  const fields = fieldsOf(mac);
  const digestInfo = fieldsOf(fields.any());
  const algorithm = algorithmOf(digestInfo.any()).oid;
  const stated = digestInfo.next('octetString').content;
  const salt = octetsOf(fields.next('octetString'));
  const roundsAt = fields.optional('integer');
  const hash = hashNamed(algorithm);
  if (hash === undefined) throw new Pkcs12Error('unsupported');
  const rounds = roundsAt === undefined ? 1 : roundsOf(roundsAt);
  const spellings = [bmp(typed), ...(typed === '' ? [new Uint8Array(0)] : [])];
  pace.expect(rounds * spellings.length);
  // Without a password some programs leave out the two zero octets.
  for (const old of spellings) {
    if (sameBytes(await macOf({ hash, password: old, salt, rounds, content }, pace), stated)) return { typed, old };
  }
  return undefined;
}

type Part = { kind: 'open'; safe: Uint8Array } | { kind: 'locked'; algorithm: Algorithm; body: Uint8Array };

/** A part of the file's content: a safe, or a safe under a password. @throws Pkcs12Error, Asn1Error */
function partOf(info: Element): Part {
  const fields = fieldsOf(info);
  const type = oidOf(fields.next('oid'));
  const part = fields.explicit(0);
  if (part === undefined) throw new Pkcs12Error('malformed');
  if (type === CONTENT.data) return { kind: 'open', safe: octetsOf(part) };
  if (type !== ENCRYPTED_DATA) throw new Pkcs12Error('unsupported');
  const encrypted = fieldsOf(part);
  encrypted.next('integer');
  const parts = fieldsOf(encrypted.any());
  parts.next('oid');
  const algorithm = algorithmOf(parts.any());
  const body = parts.context(0);
  if (body === undefined) throw new Pkcs12Error('malformed');
  return { kind: 'locked', algorithm, body: octetsOf(body) };
}

/** `told` is given the share that is done, where deriving keys takes its time. @throws Pkcs12Error */
export async function readPkcs12(
  bytes: Uint8Array,
  typed: string,
  told?: (share: number) => void,
): Promise<Pkcs12Content> {
  try {
    const outer = fieldsOf(readElement(bytes, { maxBytes: MAX_PKCS12_BYTES, maxElements: 50_000 }));
    outer.next('integer');
    const safe = fieldsOf(outer.any());
    if (oidOf(safe.next('oid')) !== CONTENT.data) throw new Pkcs12Error('unsupported');
    const inside = safe.explicit(0);
    if (inside === undefined) throw new Pkcs12Error('malformed');
    const content = octetsOf(inside);
    const mac = outer.optional('sequence');
    const pace = paceOf(told);
    const parts = readElement(content).children.map(partOf);
    for (const part of parts)
      pace.expect(part.kind === 'locked' ? roundsAskedBy(part.algorithm) : roundsInSafe(part.safe));
    const password = mac === undefined ? { typed, old: bmp(typed) } : await passwordByMac(mac, typed, content, pace);
    if (password === undefined) throw new Pkcs12Error('wrong-password');
    const found: Found = { keys: [], certificates: [], unread: 0 };
    const reading = { password, found, pace };
    for (const part of parts) {
      if (part.kind === 'open') await bags(part.safe, reading);
      else {
        const opened = await unlocked(part.algorithm, password, part.body, pace);
        await bags(opened, reading).catch((cause: unknown) => {
          // Without a MAC one wrong password in 256 has its padding right by chance.
          throw mac === undefined && cause instanceof Asn1Error ? new Pkcs12Error('wrong-password', { cause }) : cause;
        });
      }
    }
    return await matched(found);
  } catch (cause) {
    if (cause instanceof Pkcs12Error) throw cause;
    throw new Pkcs12Error('malformed', { cause });
  }
}

/** By the public half; what the file says belongs together is only a hint. */
export async function matched({ keys, certificates, unread }: Found): Promise<Pkcs12Content> {
  const taken = new Set<Certificate>();
  const identities = [];
  for (const { privateKey, name } of keys) {
    const bits = await publicBitsOf(privateKey);
    const own =
      bits === undefined
        ? undefined
        : certificates.find(({ certificate }) => sameBytes(certificate.publicKey.keyBits, bits));
    if (own !== undefined) taken.add(own.certificate);
    identities.push({ privateKey, certificate: own?.certificate, name: name || (own?.name ?? '') });
  }
  return {
    identities,
    others: certificates.map(({ certificate }) => certificate).filter((one) => !taken.has(one)),
    unread,
  };
}
