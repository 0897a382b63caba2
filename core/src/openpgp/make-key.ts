/**
 * Key pairs made here, and the passphrases of files that come and go. A key in the vault has none: the vault is sealed
 * as a whole.
 */
import { decryptKey, encryptKey, enums, generateKey, type User } from 'openpgp';
import { type Bytes } from '../bytes';
import { armoured } from './armour';
import { OpenPgpError } from './errors';
import { CONFIG, guarded, NEWEST, type PrivateKey, type Resignable } from './library';

/**
 * `wide`: version 4, Ed25519 and X25519 as every program since about 2017 reads them. `newest`: version 6 of RFC 9580.
 * `rsa`: for who asks for it.
 */
export const OPENPGP_KINDS = ['wide', 'newest', 'rsa'] as const;
export type OpenPgpKind = (typeof OPENPGP_KINDS)[number];

export interface Holder {
  name: string;
  addresses: readonly string[];
}

export interface MadeKey {
  /** The whole secret key, without a passphrase. */
  secret: Bytes;
  fingerprint: string;
  /** Revokes it, whoever publishes it: armoured, for printing and keeping apart. */
  revocation: string;
}

const options = {
  wide: { type: 'ecc', curve: 'curve25519Legacy' },
  newest: { type: 'curve25519' },
  rsa: { type: 'rsa', rsaBits: 3072 },
} as const;

/**
 * SHA-3 among the preferred hashes keeps some programs from reading a key at all; SHA-512 and SHA-256 everybody has.
 */
export async function withPlainHashes(key: PrivateKey): Promise<PrivateKey> {
  const resign = async (user: User): Promise<void> => {
    for (const self of user.selfCertifications as Resignable[]) {
      self.preferredHashAlgorithms = [enums.hash.sha512, enums.hash.sha256];
      await self.sign(
        key.keyPacket as never,
        { userID: user.userID, key: key.keyPacket },
        self.created ?? new Date(),
        false,
        { ...CONFIG, nonDeterministicSignaturesViaNotation: false },
      );
    }
  };
  if (key.keyPacket.version === 4) for (const user of key.users) await resign(user);
  return key;
}

const userIdsOf = ({ name, addresses }: Holder): { name: string; email?: string }[] =>
  addresses.length === 0 ? [{ name }] : addresses.map((email) => ({ name, email }));

/** @param expiresAt Undefined for one without an end. */
export async function makeOpenPgpKey(kind: OpenPgpKind, holder: Holder, now: Date, expiresAt?: Date): Promise<MadeKey> {
  const { privateKey, revocationCertificate } = await generateKey({
    ...options[kind],
    userIDs: userIdsOf(holder),
    date: now,
    format: 'object',
    config: kind === 'newest' ? NEWEST : CONFIG,
    ...(expiresAt === undefined ? {} : { keyExpirationTime: secondsBetween(now, expiresAt) }),
  });
  const key = await withPlainHashes(privateKey);
  return { secret: key.write() as Bytes, fingerprint: key.getFingerprint(), revocation: revocationCertificate };
}

/** Whole seconds, as keys count them. */
export const secondsBetween = (from: Date, to: Date): number =>
  Math.max(1, Math.floor((to.getTime() - from.getTime()) / 1000));

/** @throws OpenPgpError `wrong-passphrase` */
export async function unlockedSecret(key: PrivateKey, passphrase: string): Promise<PrivateKey> {
  if (key.isDecrypted()) return key;
  if (passphrase === '') throw new OpenPgpError('wrong-passphrase');
  return guarded('wrong-passphrase', () => decryptKey({ privateKey: key, passphrase, config: CONFIG }));
}

/**
 * A backup: the whole secret key under a passphrase, armoured, as every OpenPGP program imports it (iterated and salted
 * S2K, RFC 9580 §3.7.1.3).
 */
export async function lockedBackup(key: PrivateKey, passphrase: string): Promise<Bytes> {
  const locked = await encryptKey({ privateKey: key, passphrase, config: CONFIG });
  return armoured('PRIVATE KEY BLOCK', locked.write() as Bytes);
}
