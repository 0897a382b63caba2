/** What stands in pieces reads as if it were one: between any two places, coded, and sealed. */
import fc from 'fast-check';
import { between, concat, lengthOf } from '../src/bytes';
import { openContent, sealContent, sealInPieces } from '../src/locks/room/content';

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
