/**
 * An OpenPGP key as it is (RFC 9580 §10.1): who it names, what its parts may be used for and until when, whether and
 * why it was revoked. Only what a valid signature of its own
 * says counts; everything else in a key anybody could have added.
 */
import { enums, readKey, readPrivateKey, type Subkey, type User } from 'openpgp';
import { addressKey, checkAddress, cleanName } from '../people/address';
import { type RevocationReason } from '../certificate/extensions';
import { type Bytes } from '../bytes';
import { CONFIG, guarded, type PrivateKey, type PublicKey, type SignaturePacket } from './library';
import { OpenPgpError } from './errors';
import { packetHeads } from './packets';

export const MAX_KEY_BYTES = 512 * 1024;
const MAX_KEY_PACKETS = 2000;

export type KeyUse = 'sign' | 'encrypt';

export interface Revocation {
  at: Date;
  reason: RevocationReason;
}

export interface KeyPart {
  /** Lower-case hex, as the key's own. */
  fingerprint: string;
  /** As `Ed25519` or `RSA 3072`. */
  algorithm: string;
  weak: boolean;
  primary: boolean;
  sign: boolean;
  encrypt: boolean;
  createdAt: Date;
  expiresAt: Date | undefined;
  revocation: Revocation | undefined;
  /** The signature that says what it is for rests on a hash that can be forged. */
  weakHash: boolean;
}

export interface KeyUser {
  name: string;
  /** Empty when it names none. */
  address: string;
  createdAt: Date;
  /** Taken back by the holder. */
  retiredAt: Date | undefined;
  primary: boolean;
  weakHash: boolean;
}

export interface OpenPgpKey {
  readonly material: PublicKey;
  /** Without anything secret. */
  bytes: Bytes;
  fingerprint: string;
  version: number;
  createdAt: Date;
  expiresAt: Date | undefined;
  revocation: Revocation | undefined;
  /** Those its holder vouches for. */
  users: readonly KeyUser[];
  /** The primary one first. */
  parts: readonly KeyPart[];
  /** Its holder's program reads authenticated encryption (SEIPD version 2, RFC 9580 §5.13.2). */
  readsNewest: boolean;
}

/** RFC 9580 §5.2.3.31, in the words certificates have for the same. */
const REASONS: Partial<Record<number, RevocationReason>> = {
  1: 'superseded',
  2: 'keyCompromise',
  3: 'cessationOfOperation',
};

const CURVES: Partial<Record<string, string>> = {
  ed25519Legacy: 'Ed25519',
  curve25519Legacy: 'X25519',
  ed25519: 'Ed25519',
  curve25519: 'X25519',
  nistP256: 'P-256',
  nistP384: 'P-384',
  nistP521: 'P-521',
  secp256k1: 'secp256k1',
};

function algorithmOf({ algorithm, bits, curve }: { algorithm: string; bits?: number; curve?: string }): {
  algorithm: string;
  weak: boolean;
} {
  if (bits !== undefined) {
    const name = algorithm.startsWith('rsa') ? 'RSA' : algorithm.startsWith('dsa') ? 'DSA' : 'ElGamal';
    // RFC 9580 §9.1: below 2048 bits nothing is accepted any more; DSA and ElGamal are on their way out whatever their
    // size.
    return { algorithm: `${name} ${bits}`, weak: name !== 'RSA' || bits < 2048 };
  }
  if (curve !== undefined) return { algorithm: CURVES[curve] ?? curve, weak: false };
  const plain: Partial<Record<string, string>> = { ed25519: 'Ed25519', x25519: 'X25519', ed448: 'Ed448', x448: 'X448' };
  return { algorithm: plain[algorithm] ?? algorithm, weak: plain[algorithm] === undefined };
}

const WEAK_HASHES: readonly (number | null)[] = [enums.hash.md5, enums.hash.sha1, enums.hash.ripemd];
const isWeakHash = ({ hashAlgorithm }: SignaturePacket): boolean => WEAK_HASHES.includes(hashAlgorithm);

type Signed = { key: PublicKey['keyPacket']; userID?: User['userID']; bind?: Subkey['keyPacket'] };

/**
 * The signatures of a kind that really are the primary key's, oldest first. At no particular time: what had an end is
 * looked at by who asks.
 */
async function genuine(
  signatures: readonly SignaturePacket[],
  types: readonly enums.signature[],
  signed: Signed,
): Promise<SignaturePacket[]> {
  const checked = await Promise.all(
    signatures.slice(0, 100).map(async (one) => {
      if (one.signatureType === null || !types.includes(one.signatureType)) return [];
      try {
        await one.verify(signed.key, one.signatureType, signed, null as unknown as Date, false, CONFIG);
        return [one];
      } catch {
        // Not theirs, or not to be relied on: as if it were not there.
        return [];
      }
    }),
  );
  return checked.flat().sort((a, b) => (a.created?.getTime() ?? 0) - (b.created?.getTime() ?? 0));
}

const revocationIn = (signatures: readonly SignaturePacket[]): Revocation | undefined => {
  const all = signatures.map((one): Revocation => ({
    at: one.created ?? new Date(0),
    reason: REASONS[one.reasonForRevocationFlag ?? 0] ?? 'unspecified',
  }));
  // The gravest counts: after a key got into other hands, what it says itself may be the thief's word.
  return all.find(({ reason }) => reason === 'keyCompromise' || reason === 'unspecified') ?? all[0];
};

const endOf = (createdAt: Date, signature: SignaturePacket | undefined): Date | undefined => {
  const seconds = signature?.keyExpirationTime;
  return signature === undefined ||
    signature.keyNeverExpires === true ||
    seconds === null ||
    seconds === undefined ||
    seconds === 0
    ? undefined
    : new Date(createdAt.getTime() + seconds * 1000);
};

const has = (signature: SignaturePacket | undefined, flag: number): boolean =>
  ((signature?.keyFlags?.[0] ?? 0) & flag) !== 0;
const SIGNS: readonly string[] = ['rsaEncryptSign', 'rsaSign', 'dsa', 'ecdsa', 'eddsaLegacy', 'ed25519', 'ed448'];
const ENCRYPTS: readonly string[] = ['rsaEncryptSign', 'rsaEncrypt', 'elgamal', 'ecdh', 'x25519', 'x448'];
const ENCRYPT_FLAGS = enums.keyFlags.encryptCommunication | enums.keyFlags.encryptStorage;

/** §5.2.3.32. */
const READS_NEWEST = 0x08;

const CERTIFICATIONS: readonly enums.signature[] = [
  enums.signature.certGeneric,
  enums.signature.certPersona,
  enums.signature.certCasual,
  enums.signature.certPositive,
];

/** A name that holds an address could pass for one: it is left out, and the address speaks. */
const safeName = (name: string): string => (name.includes('@') ? '' : cleanName(name));

async function userOf(key: PublicKey, user: User): Promise<{ user: KeyUser; self: SignaturePacket } | undefined> {
  if (user.userID === null) return undefined;
  const signed: Signed = { key: key.keyPacket, userID: user.userID };
  const self = (await genuine(user.selfCertifications, CERTIFICATIONS, signed)).at(-1);
  if (self === undefined) return undefined;
  const retired = (await genuine(user.revocationSignatures, [enums.signature.certRevocation], signed)).at(-1);
  // Named again after it was taken back: it is there again.
  const retiredAt =
    retired !== undefined && (retired.created ?? new Date(0)) >= (self.created ?? new Date(0))
      ? (retired.created ?? new Date(0))
      : undefined;
  const address = checkAddress(user.userID.email);
  return {
    self,
    user: {
      name: safeName(user.userID.name === '' && !address.ok ? user.userID.userID : user.userID.name),
      address: address.ok ? address.address : '',
      createdAt: self.created ?? new Date(0),
      retiredAt,
      primary: self.isPrimaryUserID === true,
      weakHash: isWeakHash(self),
    },
  };
}

/**
 * A subkey that signs must itself say that it belongs here (§5.2.1.9): else somebody could take another's signatures
 * for their own.
 */
async function confirmedSigner(subkey: Subkey, binding: SignaturePacket, key: PublicKey): Promise<boolean> {
  const { embeddedSignature } = binding;
  if (embeddedSignature === null) return false;
  try {
    await embeddedSignature.verify(
      subkey.keyPacket,
      enums.signature.keyBinding,
      { key: key.keyPacket, bind: subkey.keyPacket },
      null as unknown as Date,
      false,
      CONFIG,
    );
    return true;
  } catch {
    return false;
  }
}

async function subkeyOf(key: PublicKey, subkey: Subkey): Promise<KeyPart | undefined> {
  const signed: Signed = { key: key.keyPacket, bind: subkey.keyPacket };
  const binding = (await genuine(subkey.bindingSignatures, [enums.signature.subkeyBinding], signed)).at(-1);
  if (binding === undefined) return undefined;
  const { algorithm: name } = subkey.getAlgorithmInfo();
  const createdAt = subkey.getCreationTime();
  return {
    fingerprint: subkey.getFingerprint(),
    ...algorithmOf(subkey.getAlgorithmInfo()),
    primary: false,
    createdAt,
    expiresAt: endOf(createdAt, binding),
    weakHash: isWeakHash(binding),
    sign:
      SIGNS.includes(name) && has(binding, enums.keyFlags.signData) && (await confirmedSigner(subkey, binding, key)),
    encrypt: ENCRYPTS.includes(name) && has(binding, ENCRYPT_FLAGS),
    revocation: revocationIn(await genuine(subkey.revocationSignatures, [enums.signature.subkeyRevocation], signed)),
  };
}

/** Facts about a key at hand. */
export async function factsOf(key: PublicKey): Promise<OpenPgpKey> {
  const [named, parts, direct, revoked] = await Promise.all([
    Promise.all(key.users.map((user) => userOf(key, user))),
    Promise.all(key.subkeys.map((subkey) => subkeyOf(key, subkey))),
    genuine((key as PublicKey & { directSignatures: SignaturePacket[] }).directSignatures, [enums.signature.key], {
      key: key.keyPacket,
    }),
    genuine(key.revocationSignatures, [enums.signature.keyRevocation], { key: key.keyPacket }),
  ]);
  const users = named.filter((one) => one !== undefined);
  const standing = users.filter(({ user }) => user.retiredAt === undefined);
  const primaryUser = [...standing].sort(
    (a, b) =>
      Number(b.user.primary) - Number(a.user.primary) || b.user.createdAt.getTime() - a.user.createdAt.getTime(),
  )[0];
  // §5.2.3.10: version 6 keys speak by a signature over the key itself, earlier ones by that over the primary user id.
  const saying = direct.at(-1) ?? primaryUser?.self;
  const { algorithm: name } = key.getAlgorithmInfo();
  const createdAt = key.getCreationTime();
  const expiresAt = endOf(createdAt, saying);
  const revocation = revocationIn(revoked);
  const primary: KeyPart = {
    fingerprint: key.getFingerprint(),
    ...algorithmOf(key.getAlgorithmInfo()),
    primary: true,
    createdAt,
    expiresAt,
    revocation,
    weakHash: saying !== undefined && isWeakHash(saying),
    sign:
      SIGNS.includes(name) &&
      (has(saying, enums.keyFlags.signData) || (saying !== undefined && saying.keyFlags === null)),
    encrypt: ENCRYPTS.includes(name) && has(saying, ENCRYPT_FLAGS),
  };
  return {
    material: key,
    bytes: key.toPublic().write() as Bytes,
    fingerprint: key.getFingerprint(),
    version: key.keyPacket.version,
    createdAt,
    expiresAt,
    revocation,
    users: [...users].sort((a, b) => Number(b === primaryUser) - Number(a === primaryUser)).map(({ user }) => user),
    parts: [primary, ...parts.filter((one) => one !== undefined)],
    readsNewest: ((saying?.features?.[0] ?? 0) & READS_NEWEST) !== 0,
  };
}

function requireModest(bytes: Uint8Array): void {
  if (bytes.length > MAX_KEY_BYTES || packetHeads(bytes).length > MAX_KEY_PACKETS) throw new OpenPgpError('too-large');
}

/** @param bytes One key, binary; a secret one gives its public half. @throws OpenPgpError */
export async function readOpenPgpKey(bytes: Uint8Array): Promise<OpenPgpKey> {
  requireModest(bytes);
  return factsOf(
    await guarded('malformed', async () => (await readKey({ binaryKey: bytes, config: CONFIG })).toPublic()),
  );
}

/** @throws OpenPgpError */
export async function readSecretKey(bytes: Uint8Array): Promise<PrivateKey> {
  requireModest(bytes);
  return guarded('malformed', () => readPrivateKey({ binaryKey: bytes, config: CONFIG }));
}

/**
 * Everything known of one key: what either copy of it says, so that a poorer copy never takes a revocation away.
 * @throws OpenPgpError when they are two keys
 */
export async function mergedKeys(kept: Uint8Array, found: Uint8Array): Promise<OpenPgpKey> {
  const [old, fresh] = [await readOpenPgpKey(kept), await readOpenPgpKey(found)];
  if (old.fingerprint !== fresh.fingerprint) throw new OpenPgpError('malformed');
  return factsOf(await guarded('malformed', () => old.material.update(fresh.material, undefined, CONFIG)));
}

/** Its holder's user id with this address, when it stands. */
export const userAt = ({ users }: Pick<OpenPgpKey, 'users'>, address: string): KeyUser | undefined =>
  users.find(
    (one) => one.retiredAt === undefined && one.address !== '' && addressKey(one.address) === addressKey(address),
  );

export const addressesOfKey = ({ users }: Pick<OpenPgpKey, 'users'>): string[] => [
  ...new Set(
    users.filter(({ retiredAt, address }) => retiredAt === undefined && address !== '').map(({ address }) => address),
  ),
];
export const nameOfKey = ({ users }: Pick<OpenPgpKey, 'users'>): string =>
  users.find(({ name, retiredAt }) => name !== '' && retiredAt === undefined)?.name ?? users[0]?.address ?? '';

const isOpen = (end: Date | undefined, at: Date): boolean => end === undefined || at < end;

/** The part that serves a use at a time; the newest of several. */
export const partFor = (
  { parts, expiresAt }: Pick<OpenPgpKey, 'parts' | 'expiresAt'>,
  use: KeyUse,
  at: Date,
): KeyPart | undefined =>
  parts
    .filter(
      (part) =>
        part[use] &&
        part.createdAt <= at &&
        isOpen(part.expiresAt, at) &&
        isOpen(expiresAt, at) &&
        (part.revocation === undefined || part.primary),
    )
    .sort((a, b) => Number(a.primary) - Number(b.primary) || b.createdAt.getTime() - a.createdAt.getTime())[0];

/** Until when it can be used for something as it stands; undefined when nothing ends it. */
export function usableUntil(key: Pick<OpenPgpKey, 'parts' | 'expiresAt'>, use: KeyUse, now: Date): Date | undefined {
  const serving = key.parts.filter(
    (part) => part[use] && part.createdAt <= now && (part.revocation === undefined || part.primary),
  );
  const open = serving.some(({ expiresAt }) => expiresAt === undefined);
  const last = open ? undefined : new Date(Math.max(...serving.map(({ expiresAt }) => expiresAt!.getTime())));
  const ends = [key.expiresAt, serving.length === 0 ? undefined : last].filter((one) => one !== undefined);
  return ends.length === 0 ? undefined : new Date(Math.min(...ends.map((one) => one.getTime())));
}
