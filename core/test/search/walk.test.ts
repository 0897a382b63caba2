/** Reading a list back until it is known: nothing is left out, however often the reading was broken off. */
import fc from 'fast-check';
import { walkBack } from '../../src/search/walk';

const PAGE = 3;

/** A list of numbers, the newest last; `ended` ones are never kept. */
function listOf(count: number, ended: ReadonlySet<number>, kept: Set<number>, breaksAfter = Infinity) {
  let pages = 0;
  return {
    pages: () => pages,
    fetch: async (before: string | undefined) => {
      if (++pages > breaksAfter) throw new Error('the line is cut');
      const from = before === undefined ? count : Number(before);
      const items = Array.from({ length: Math.min(PAGE, from) }, (_, at) => from - 1 - at);
      return { items, ...(from > PAGE ? { next: String(from - PAGE) } : {}) };
    },
    take: async ({ items }: { items: number[] }) => {
      const known = items.some((one) => kept.has(one));
      const fresh = items.filter((one) => !kept.has(one) && !ended.has(one));
      for (const one of fresh) kept.add(one);
      return { fresh: fresh.length > 0, known };
    },
  };
}

test('a reading that was broken off goes on to the end the next time, and stops early only once it had been there', async () => {
  const kept = new Set<number>();
  const first = listOf(12, new Set(), kept, 2);
  await expect(walkBack(first.fetch, first.take, false)).rejects.toThrow('the line is cut');
  expect(kept.size).toBe(6);
  const second = listOf(12, new Set(), kept);
  await walkBack(second.fetch, second.take, false);
  expect([kept.size, second.pages()]).toEqual([12, 4]);
  const third = listOf(13, new Set(), kept);
  await walkBack(third.fetch, third.take, true);
  expect([kept.size, third.pages()]).toEqual([13, 2]);
});

test('pages of nothing but what has ended hide nothing behind them', async () => {
  const kept = new Set([0, 1, 2]);
  const list = listOf(12, new Set([6, 7, 8, 9, 10, 11]), kept);
  await walkBack(list.fetch, list.take, true);
  expect([...kept].sort((a, b) => a - b)).toEqual([0, 1, 2, 3, 4, 5]);
});

test('whatever has ended and wherever it was broken off, in the end all others are kept', async () => {
  await fc.assert(
    fc.asyncProperty(fc.nat(40), fc.uniqueArray(fc.nat(39)), fc.nat(10), async (count, over, breaksAfter) => {
      const [kept, ended] = [new Set<number>(), new Set(over)];
      const broken = listOf(count, ended, kept, breaksAfter);
      const whole = await walkBack(broken.fetch, broken.take, false).then(
        () => true,
        () => false,
      );
      const again = listOf(count, ended, kept);
      await walkBack(again.fetch, again.take, whole);
      return Array.from({ length: count }, (_, one) => one).every((one) => ended.has(one) || kept.has(one));
    }),
  );
});
