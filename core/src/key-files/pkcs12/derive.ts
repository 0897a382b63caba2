/**
 * From a password to key, vector or MAC key as PKCS#12 does it (RFC 7292 Appendix B), by a library's synchronous
 * hashes: fifty thousand rounds one by one through WebCrypto take seconds.
 */
import { createSHA1, createSHA256, createSHA384, createSHA512 } from 'hash-wasm';
import { type Bytes, concat } from '../../bytes';
import { type Hash } from '../../certificate/signature';
import { type Pace } from './pace';

const HASHES = {
  'SHA-1': createSHA1,
  'SHA-256': createSHA256,
  'SHA-384': createSHA384,
  'SHA-512': createSHA512,
} as const;

const DIGEST_BYTES: Record<Hash, number> = { 'SHA-1': 20, 'SHA-256': 32, 'SHA-384': 48, 'SHA-512': 64 };

/** A BMPString with two zero octets at its end (Appendix B.1). */
export function bmp(password: string): Bytes {
  const bytes = new Uint8Array(password.length * 2 + 2);
  for (let at = 0; at < password.length; at++) new DataView(bytes.buffer).setUint16(at * 2, password.charCodeAt(at));
  return bytes;
}

const repeated = (bytes: Uint8Array, block: number): Uint8Array => {
  const out = new Uint8Array(block * Math.ceil(bytes.length / block));
  for (let at = 0; at < out.length; at++) out[at] = bytes[at % bytes.length]!;
  return out;
};

/** A loop of so many rounds runs between two reports. */
const LOT = 20_000;

export interface Derivation {
  hash: Hash;
  /** 1 key, 2 vector, 3 MAC. */
  id: 1 | 2 | 3;
  password: Uint8Array;
  salt: Uint8Array;
  rounds: number;
  /** Octets. */
  length: number;
}

/** Rounds in all that {@link derive} runs. */
export const roundsFor = ({ hash, rounds, length }: Pick<Derivation, 'hash' | 'rounds' | 'length'>): number =>
  rounds * Math.ceil(length / DIGEST_BYTES[hash]);

/** Appendix B.2. */
export async function derive({ hash, id, password, salt, rounds, length }: Derivation, pace: Pace): Promise<Bytes> {
  const hasher = await HASHES[hash]();
  const digestOf = (bytes: Uint8Array): Uint8Array => hasher.init().update(bytes).digest('binary');
  const { blockSize: block, digestSize: size } = hasher;
  const input = concat(repeated(salt, block), repeated(password, block));
  const diversifier = new Uint8Array(block).fill(id);
  const out: Uint8Array[] = [];
  for (let made = 0; made < length; made += size) {
    let digest = digestOf(concat(diversifier, input));
    for (let left = rounds - 1; left > 0; left -= LOT) {
      for (let round = Math.min(left, LOT); round > 0; round--) digest = digestOf(digest);
      pace.tick(Math.min(left, LOT));
    }
    out.push(digest);
    const addend = repeated(digest, block);
    for (let from = 0; from < input.length; from += block) {
      let carry = 1;
      for (let at = block - 1; at >= 0; at--) {
        carry += input[from + at]! + addend[at]!;
        input[from + at] = carry & 0xff;
        carry >>= 8;
      }
    }
  }
  return concat(...out).slice(0, length);
}

/** The MAC over a file's content (§4, Appendix B.4). */
export async function macOf(
  {
    hash,
    password,
    salt,
    rounds,
    content,
  }: Pick<Derivation, 'hash' | 'password' | 'salt' | 'rounds'> & { content: Uint8Array },
  pace: Pace,
): Promise<Uint8Array> {
  const { subtle } = globalThis.crypto;
  const key = await subtle.importKey(
    'raw',
    await derive({ hash, id: 3, password, salt, rounds, length: DIGEST_BYTES[hash] }, pace),
    { name: 'HMAC', hash },
    false,
    ['sign'],
  );
  return new Uint8Array(await subtle.sign('HMAC', key, content as Bytes));
}
