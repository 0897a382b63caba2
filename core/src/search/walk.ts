/** What a page brought: something new, and something that had been met before. */
export interface Met {
  fresh: boolean;
  known: boolean;
}

/**
 * Reads a list by pages from its newest end: back to its other end as long as that was never reached (`whole` is false),
 * from then on until a page brings nothing new and holds something known. Resolves when there is nothing left to read.
 */
export async function walkBack<P extends { next?: string | undefined }>(
  fetch: (before: string | undefined) => Promise<P>,
  take: (page: P) => Promise<Met>,
  whole: boolean,
): Promise<void> {
  for (let before: string | undefined; ;) {
    const page = await fetch(before);
    const { fresh, known } = await take(page);
    if ((whole && known && !fresh) || page.next === undefined) return;
    before = page.next;
  }
}
