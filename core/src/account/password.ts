/**
 * One password, two keys: Argon2id (RFC 9106) stretches it, HKDF splits the result into a key that
 * proves the password to the server and a key that never leaves the browser.
 */
import { argon2id } from 'hash-wasm';
import { type Bytes } from '../bytes';
import { hkdf, sealingKey } from '../sealing';

/** Stored with the account, so that it can be raised later without locking anybody out. */
export interface PasswordHashing {
  salt: Bytes;
  memoryKiB: number;
  iterations: number;
  parallelism: number;
}

/** RFC 9106 §4, second recommended option: 64 MiB, 3 passes, 4 lanes, 128-bit salt. */
export const RECOMMENDED_HASHING = { memoryKiB: 65_536, iterations: 3, parallelism: 4 } as const;

/**
 * What a browser accepts from a server: nothing weaker than recommended (a server must not talk it down), nothing that
 * would hang it.
 */
export function isAcceptableHashing(hashing: PasswordHashing): boolean {
  return (
    hashing.salt.length >= 16 &&
    hashing.memoryKiB >= RECOMMENDED_HASHING.memoryKiB &&
    hashing.memoryKiB <= 1_048_576 &&
    hashing.iterations >= RECOMMENDED_HASHING.iterations &&
    hashing.iterations <= 20 &&
    hashing.parallelism >= 1 &&
    hashing.parallelism <= 16
  );
}

export interface PasswordKeys {
  /** 32 bytes, sent at sign-in; the server keeps a slow hash of it. */
  authKey: Bytes;
  /** AES-256-GCM, not extractable; opens the account's secret. */
  unlockKey: CryptoKey;
}

/** What proves the password to the server, of the 32 octets that Argon2id has stretched it to. */
export const authKeyOf = (stretched: Bytes): Promise<Bytes> => hkdf(stretched, 'under-lock/account/auth/v1', 32);

/**
 * Derives both keys. The password is normalised (NFKC), so that every keyboard spells it alike. Throws RangeError on
 * weak or absurd hashing.
 */
export async function passwordKeys(password: string, hashing: PasswordHashing): Promise<PasswordKeys> {
  if (!isAcceptableHashing(hashing)) throw new RangeError('Password hashing parameters are out of range');
  const stretched = (await argon2id({
    password: password.normalize('NFKC'),
    salt: hashing.salt,
    memorySize: hashing.memoryKiB,
    iterations: hashing.iterations,
    parallelism: hashing.parallelism,
    hashLength: 32,
    outputType: 'binary',
  })) as Bytes;
  const authKey = await authKeyOf(stretched);
  const unlockKey = await sealingKey(await hkdf(stretched, 'under-lock/account/unlock/v1', 32));
  stretched.fill(0);
  return { authKey, unlockKey };
}
