/** What stands in pieces reads as if it were one: between any two places, coded, and sealed. */
import fc from 'fast-check';
import { between, concat, lengthOf, piecesOf } from '../src/bytes';
import { openContent, sealAsItGoes, sealContent, sealInPieces } from '../src/locks/room/content';

const pieces = fc.array(fc.uint8Array({ maxLength: 40 }), { maxLength: 6 });

test('between any two places stands what stands there in the whole', () => {
  fc.assert(
    fc.property(pieces, fc.nat(250), fc.nat(250), (parts, one, other) => {
      const whole = concat(...parts);
      expect(lengthOf(parts)).toBe(whole.length);
      const [from, to] = [Math.min(one, other), Math.max(one, other)];
      expect([...between(parts, from, to)]).toEqual([...whole.subarray(from, to)]);
    }),
  );
});

test('sealed from pieces it is the same packet as sealed from one, and opens', async () => {
  await fc.assert(
    fc.asyncProperty(pieces, fc.uint8Array({ minLength: 64, maxLength: 64 }), async (parts, random) => {
      const key = { key: new Uint8Array(random.subarray(0, 32)), salt: new Uint8Array(random.subarray(32)) };
      const whole = concat(...parts);
      const sealed = concat(...(await sealInPieces(parts, key, 0)));
      expect([...sealed]).toEqual([...(await sealContent(whole, key, 0))]);
      expect([...(await openContent(sealed, key.key))]).toEqual([...whole]);
    }),
    { numRuns: 50 },
  );
});

test('sealed while it is taken it is that packet too, as long as was said; what takes it slowly has no more of it sealed', async () => {
  const [key, salt] = [new Uint8Array(32).fill(1), new Uint8Array(32).fill(2)];
  const content = new Uint8Array(64 * 40).map((_, index) => index);
  const { length, pieces: sealed } = sealAsItGoes([content.subarray(0, 100), content.subarray(100)], { key, salt }, 0);
  const encrypt = jest.spyOn(globalThis.crypto.subtle, 'encrypt');
  const taken: Uint8Array[] = [];
  for await (const piece of sealed) {
    taken.push(piece);
    expect(encrypt.mock.calls.length).toBeLessThanOrEqual(taken.length + 4);
  }
  encrypt.mockRestore();
  const whole = concat(...taken);
  expect(whole.length).toBe(length);
  expect([...whole]).toEqual([...(await sealContent(content, { key, salt }, 0))]);
});

test('what fails to be sealed is told where its turn comes', async () => {
  const encrypt = jest.spyOn(globalThis.crypto.subtle, 'encrypt').mockRejectedValue(new Error('no memory'));
  const { pieces: sealed } = sealAsItGoes(
    [new Uint8Array(1000)],
    { key: new Uint8Array(32), salt: new Uint8Array(32) },
    0,
  );
  await expect(piecesOf({ length: 0, pieces: sealed })).rejects.toThrow('no memory');
  encrypt.mockRestore();
});
