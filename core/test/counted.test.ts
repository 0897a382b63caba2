import fc from 'fast-check';
import { Counted } from '../src/vault/counted';

test('one that was changed is what a map would be, and leaves those it was made of as they were', () => {
  const id = fc.nat(400).map(String);
  const changes = fc.array(fc.tuple(id, fc.option(fc.nat(9), { nil: undefined })), { maxLength: 120 });
  fc.assert(
    fc.property(fc.array(fc.tuple(id, fc.nat(9))), fc.array(changes, { maxLength: 8 }), (first, rounds) => {
      const map = new Map(first);
      let counted = Counted.of(first);
      const before: [Counted, Map<string, number>][] = [];
      for (const round of rounds) {
        before.push([counted, new Map(map)]);
        counted = counted.with(round);
        for (const [key, revision] of round) {
          if (revision === undefined) map.delete(key);
          else map.set(key, revision);
        }
      }
      for (const [is, should] of [...before, [counted, map] as const]) {
        expect(new Map(is)).toEqual(should);
        expect(is.size).toBe(should.size);
        expect(new Set(is.keys())).toEqual(new Set(should.keys()));
        const keys = Array.from({ length: 402 }, (_, key) => String(key));
        expect(keys.map((key) => is.get(key))).toEqual(keys.map((key) => should.get(key)));
      }
    }),
    { numRuns: 60 },
  );
});
