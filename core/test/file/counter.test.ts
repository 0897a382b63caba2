/**
 * The counter against the standard's own blocks and against another implementation, at every length and both key sizes.
 */
import { createCipheriv, createHash } from 'node:crypto';
import { unsafe } from '@noble/ciphers/aes.js';
import { fromBase64Url, randomBytes } from '../../src/bytes';
import { countedAes } from '../../src/zip/counter';
import * as counter from '../../src/zip/counter-wasm';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const byAnother = (key: Uint8Array, bytes: Uint8Array): Uint8Array => {
  const nonce = new Uint8Array(16);
  nonce[0] = 1;
  return unsafe.ctr32(unsafe.expandKeyLE(key), true, nonce, bytes);
};

/** The block that comes out for a counter, by the engine's own AES. */
function blockOf(key: Uint8Array, counted: number): Buffer {
  const block = Buffer.alloc(16);
  block.writeUInt32LE(counted);
  return createCipheriv(`aes-${key.length * 8}-ecb`, key, null)
    .setAutoPadding(false)
    .update(block);
}

test.each([16, 32])('with a key of %i bytes every block is AES of its number, counted from one', async (length) => {
  const key = randomBytes(length);
  const stream = await countedAes(key, new Uint8Array(70_000)); // beyond the module's room, and past 65,536 octets
  for (const counted of [1, 2, 3, 8, 9, 255, 256, 257, 4_095, 4_096, 4_097, 4_375])
    expect(Buffer.compare(stream.subarray((counted - 1) * 16, counted * 16), blockOf(key, counted))).toBe(0);
});

test.each([0, 1, 15, 16, 17, 127, 128, 129, 65_535, 65_536, 65_537, 131_072, 1_000_003])(
  '%i bytes are as another implementation has them, and come back',
  async (length) => {
    for (const key of [randomBytes(16), randomBytes(32)]) {
      const bytes = new Uint8Array(length).map((_, at) => (at * 31) & 255);
      const locked = await countedAes(key, bytes);
      expect(Buffer.compare(locked, byAnother(key, bytes))).toBe(0);
      expect(Buffer.compare(await countedAes(key, locked), bytes)).toBe(0);
    }
  },
);

test('what is given stays as it was, and several at once do not meet', async () => {
  const keys = Array.from({ length: 8 }, () => randomBytes(32));
  const bytes = randomBytes(50_000);
  const before = Buffer.from(bytes);
  const all = await Promise.all(keys.map((key) => countedAes(key, bytes)));
  all.forEach((locked, index) => expect(Buffer.compare(locked, byAnother(keys[index]!, bytes))).toBe(0));
  expect(Buffer.compare(bytes, before)).toBe(0);
});

test.each([0, 15, 24, 33])('a key of %i bytes is refused', async (length) =>
  expect(countedAes(new Uint8Array(length), new Uint8Array(1))).rejects.toThrow(RangeError),
);

test('the module is the one whose sum is written beside it', () => {
  const [, written] = /SHA-256 of the module: ([\da-f]{64})/.exec(
    readFileSync(join(__dirname, '../../src/zip/counter-wasm.ts'), 'utf8'),
  )!;
  expect(createHash('sha256').update(fromBase64Url(counter.COUNTER_WASM)).digest('hex')).toBe(written);
});
