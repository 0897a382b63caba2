/** How many of `total` are still open now and after each of the days. Never below none, whatever the counts say. */
export function stillOpen(total: number, perDay: readonly { count: number }[]): number[] {
  const open = [total];
  for (const { count } of perDay) open.push(Math.max(0, open.at(-1)! - count));
  return open;
}
