/**
 * Budgets of tries, counted in the database so that every process sees them. A try is taken before anything is
 * verified, in one statement: however many come at
 * once, only as many are judged as there are. Keys are keyed hashes: the table names nobody.
 */
import { MAX_DELAY_MS } from '@under-lock/core/throttle';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

export interface Throttle {
  purpose: string;
  who: string;
  /** Tries that cost nothing. */
  free: number;
  /** The wait after the first one past these, doubled with each that follows; 2 seconds by default. */
  firstWaitMs?: number;
  /** The longest wait; a quarter of an hour by default. */
  longestWaitMs?: number;
}

const keyOf = (context: Context, { purpose, who }: Throttle): Buffer =>
  context.secrets.keyedHash(`throttle/${purpose}`, who);

const tooMany = (until: Date): Problem =>
  new Problem('too-many-tries', 429, 'Too many tries', { until: until.toISOString() });

/** What was counted a day before its wait was over is forgotten. */
const TAKE = `INSERT INTO throttles AS t (key, failures, blocked_until) VALUES ($1, 1, $2)
  ON CONFLICT (key) DO UPDATE SET
    failures = CASE WHEN t.blocked_until < $2::timestamptz - interval '1 day' THEN 1 ELSE t.failures + 1 END,
    blocked_until = $2::timestamptz + CASE WHEN t.blocked_until < $2::timestamptz - interval '1 day' OR t.failures + 1 <= $3 THEN interval '0'
      ELSE least($5::float8, $4::float8 * power(2, least(t.failures - $3, 30))) * interval '1 millisecond' END
  -- No wait is in force while there are free tries, whatever another machine's clock says, and none is longer than the longest.
  WHERE t.failures <= $3 OR t.blocked_until <= $2 OR t.blocked_until > $2::timestamptz + $5::float8 * interval '1 millisecond' RETURNING failures`;

async function takeOne(context: Context, throttle: Throttle): Promise<Date | undefined> {
  const { free, firstWaitMs = 2000, longestWaitMs = MAX_DELAY_MS } = throttle;
  const [taken] = await rows(context.db, TAKE, [
    keyOf(context, throttle),
    context.clock(),
    free,
    firstWaitMs,
    longestWaitMs,
  ]);
  if (taken !== undefined) return undefined;
  const [blocked] = await rows<{ until: Date }>(
    context.db,
    'SELECT blocked_until AS until FROM throttles WHERE key = $1',
    [keyOf(context, throttle)],
  );
  return blocked?.until ?? context.clock();
}

/** Takes one try of each budget, or none. @throws Problem `too-many-tries` while any of them has none left */
export async function takeTry(context: Context, throttles: readonly Throttle[]): Promise<void> {
  for (const [index, throttle] of throttles.entries()) {
    const until = await takeOne(context, throttle);
    if (until === undefined) continue;
    await giveBack(context, throttles.slice(0, index));
    throw tooMany(until);
  }
}

/** A try that was right costs nothing, and lifts the wait it had brought. */
export async function giveBack(context: Context, throttles: readonly Throttle[]): Promise<void> {
  if (throttles.length === 0) return;
  const keys = throttles.map((throttle) => keyOf(context, throttle));
  await run(
    context.db,
    'UPDATE throttles SET failures = greatest(failures - 1, 0), blocked_until = least(blocked_until, $2) WHERE key = ANY($1)',
    [keys, context.clock()],
  );
}

/** All that went before is forgotten: whoever it was has just proved to be the one. */
export async function forgiveTries(context: Context, throttles: readonly Throttle[]): Promise<void> {
  await run(context.db, 'DELETE FROM throttles WHERE key = ANY($1)', [
    throttles.map((throttle) => keyOf(context, throttle)),
  ]);
}

/** Apart from each other, once there are many. */
const TURN_MS = 1000;
const LONGEST_TURN_MS = 4000;

/**
 * Slows down what anybody in the world can try at one address, and locks nobody out: past the free tries they are
 * judged one a second, each waiting its turn.
 * @throws Problem `too-many-tries` when more are waiting than a person would wait for
 */
export async function waitTurn(context: Context, throttle: Throttle): Promise<void> {
  const now = context.clock();
  const [turn] = await rows<{ at: Date }>(
    context.db,
    `INSERT INTO throttles AS t (key, failures, blocked_until) VALUES ($1, 1, $2)
     ON CONFLICT (key) DO UPDATE SET
       failures = CASE WHEN t.blocked_until < $2::timestamptz - interval '1 day' THEN 1 ELSE t.failures + 1 END,
       blocked_until = CASE WHEN t.failures < $3 OR t.blocked_until < $2::timestamptz - interval '1 day' THEN $2 ELSE greatest(t.blocked_until, $2) + $4 * interval '1 millisecond' END
     WHERE t.blocked_until <= $2::timestamptz + $5 * interval '1 millisecond' RETURNING blocked_until AS at`,
    [keyOf(context, throttle), now, throttle.free, TURN_MS, LONGEST_TURN_MS - TURN_MS],
  );
  if (turn === undefined) throw tooMany(new Date(now.getTime() + LONGEST_TURN_MS));
  const wait = turn.at.getTime() - now.getTime();
  if (wait > 0) await new Promise((done) => setTimeout(done, wait));
}
