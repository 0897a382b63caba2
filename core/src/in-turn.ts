/**
 * So many at once, each when its turn comes: no more of them lie ready than are under way.
 * @param each By number, from 0.
 */
export async function* inTurn<T>(
  count: number,
  atOnce: number,
  each: (index: number) => Promise<T>,
): AsyncGenerator<T> {
  const underWay: Promise<T>[] = [];
  for (let next = 0; next < count || underWay.length > 0;) {
    while (next < count && underWay.length < atOnce) {
      const begun = each(next++);
      // Told where its turn comes; until then nobody is listening.
      begun.catch(() => undefined);
      underWay.push(begun);
    }
    yield await underWay.shift()!;
  }
}
