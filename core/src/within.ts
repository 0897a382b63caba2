/** What has a time to be done in: whoever makes it take longer is given up. */
export class TooSlowError extends Error {}

/** @throws TooSlowError, and what `work` throws */
export async function within<T>(work: Promise<T>, milliseconds: number): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const over = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new TooSlowError()), milliseconds);
  });
  try {
    return await Promise.race([work, over]);
  } finally {
    clearTimeout(timer);
  }
}
