/** A thread that reads somebody's file is asked now and then whether it still answers; one that does not is ended. */

export class ThreadStuckError extends Error {
  constructor() {
    super('thread-stuck');
    this.name = 'ThreadStuckError';
  }
}

const ASK_AFTER_MS = 20_000;
const ANSWER_WITHIN_MS = 20_000;

const after = (ms: number): { over: Promise<'over'>; stop(): void } => {
  let timer: ReturnType<typeof setTimeout>;
  const over = new Promise<'over'>((resolve) => (timer = setTimeout(() => resolve('over'), ms)));
  return { over, stop: () => clearTimeout(timer) };
};

/** What `work` comes to, or `over` when it takes longer. */
async function orOver<T>(work: Promise<T>, ms: number): Promise<T | 'over'> {
  const clock = after(ms);
  try {
    return await Promise.race([work, clock.over]);
  } finally {
    clock.stop();
  }
}

/**
 * Waits for `work` for as long as the thread answers `ask`: what is slow may go on, also in a window that nobody looks
 * at. @throws ThreadStuckError, after `end`, when no answer comes
 */
export async function watched<T>(
  work: Promise<T>,
  { ask, end }: { ask: () => Promise<unknown>; end: () => void },
): Promise<T> {
  for (;;) {
    const done = await orOver(
      work.then((value) => ({ value })),
      ASK_AFTER_MS,
    );
    if (done !== 'over') return done.value;
    if (
      (await orOver(
        ask().then(
          () => 'answered',
          () => 'answered',
        ),
        ANSWER_WITHIN_MS,
      )) !== 'over'
    )
      continue;
    end();
    throw new ThreadStuckError();
  }
}
