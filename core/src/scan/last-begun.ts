/**
 * Which of `count` things that begin one after the other has begun last at `offset`: its index, -1 before the first.
 * Found by halves.
 */
export function lastBegun(count: number, beginOf: (index: number) => number, offset: number): number {
  let low = 0;
  let high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (beginOf(middle) <= offset) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
