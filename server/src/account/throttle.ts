/** Counting failures in the database, so that every process sees them. Keys are keyed hashes: the table names nobody. */
import { delayAfter } from '@under-lock/core/throttle';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

export interface Throttle {
  purpose: string;
  who: string;
  /** Failures that cost nothing. */
  free: number;
}

const keyOf = (context: Context, { purpose, who }: Throttle): Buffer => context.secrets.keyedHash(`throttle/${purpose}`, who);

/** @throws Problem `too-many-tries` while any of them is blocked. */
export async function refuseWhileBlocked(context: Context, throttles: Throttle[]): Promise<void> {
  const keys = throttles.map((throttle) => keyOf(context, throttle));
  const [row] = await rows<{ until: Date | null }>(context.db, 'SELECT max(blocked_until) AS until FROM throttles WHERE key = ANY($1)', [keys]);
  const until = row?.until;
  if (until && until > context.clock()) {
    throw new Problem('too-many-tries', 429, 'Too many tries', { until: until.toISOString() });
  }
}

/** One statement, so that parallel guesses are all counted. */
export async function countFailure(context: Context, throttles: Throttle[]): Promise<void> {
  for (const throttle of throttles) {
    const key = keyOf(context, throttle);
    const [row] = await rows<{ failures: number }>(
      context.db,
      `INSERT INTO throttles AS t (key, failures, blocked_until) VALUES ($1, 1, $2)
       ON CONFLICT (key) DO UPDATE SET failures = t.failures + 1 RETURNING failures`,
      [key, context.clock()],
    );
    const until = new Date(context.clock().getTime() + delayAfter(row!.failures, throttle.free));
    await run(context.db, 'UPDATE throttles SET blocked_until = greatest(blocked_until, $2) WHERE key = $1', [key, until]);
  }
}

export async function forgiveFailures(context: Context, throttles: Throttle[]): Promise<void> {
  await run(context.db, 'DELETE FROM throttles WHERE key = ANY($1)', [throttles.map((throttle) => keyOf(context, throttle))]);
}
