/**
 * Locks one entry by ZIP's AE-2 format ("AES Encryption Information", version 1.04): salt, two octets that tell a
 * wrong password, AES in counter mode, ten octets of HMAC-SHA-1.
 * Keys by PBKDF2-HMAC-SHA-1 of 1,000 rounds. All of it is fixed by the format; over WebCrypto, but for the counter.
 */
import { type Bytes, randomBytes } from '../bytes';
import { countedAes } from './counter';

/** By what the format calls strength. */
const SIZES = { 'aes-128': { strength: 1, key: 16, salt: 8 }, 'aes-256': { strength: 3, key: 32, salt: 16 } } as const;
export type Ae2Cipher = keyof typeof SIZES;

const ROUNDS = 1_000;
const VERIFIER = 2;
const TAG = 10;

export const strengthOf = (cipher: Ae2Cipher): 1 | 3 => SIZES[cipher].strength;

/** What the archive takes as the entry's content, and how many octets that is. */
export interface LockedEntry {
  readable: ReadableStream<Uint8Array>;
  size: number;
}

/** `packed` is the entry's content as it is stored, compressed or not. */
export async function lockEntry(packed: Uint8Array, password: Bytes, cipher: Ae2Cipher): Promise<LockedEntry> {
  const { subtle } = globalThis.crypto;
  const { key, salt: saltLength } = SIZES[cipher];
  const salt = randomBytes(saltLength);
  const material = await subtle.importKey('raw', password, 'PBKDF2', false, ['deriveBits']);
  const derived = new Uint8Array(
    await subtle.deriveBits(
      { name: 'PBKDF2', hash: 'SHA-1', salt, iterations: ROUNDS },
      material,
      (2 * key + VERIFIER) * 8,
    ),
  );
  const locked = await countedAes(derived.subarray(0, key), packed);
  const tagKey = await subtle.importKey('raw', derived.subarray(key, 2 * key), { name: 'HMAC', hash: 'SHA-1' }, false, [
    'sign',
  ]);
  const readable = new ReadableStream<Uint8Array>({
    async start(entry) {
      // Worked out in the engine's own thread while what stands before it is written.
      const tag = subtle.sign('HMAC', tagKey, locked);
      for (const part of [salt, derived.subarray(2 * key), locked]) entry.enqueue(part);
      entry.enqueue(new Uint8Array(await tag).subarray(0, TAG));
      entry.close();
    },
  });
  return { readable, size: saltLength + VERIFIER + locked.length + TAG };
}
