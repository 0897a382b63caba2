/**
 * A journal of endings outside of the database. Whoever restores a database from a backup brings back accesses that had
 * ended since; the journal ends them again before any door opens. Each ending is put down in its own transaction first,
 * and carried into the file right after it: nothing stands in the file that did not happen, and nothing that happened
 * stays out of it for longer than a moment.
 */
import { open } from 'node:fs/promises';
import { z } from 'zod';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';

export const journalLine = z.object({ access: z.uuid(), state: z.enum(['closed', 'withdrawn']), at: z.iso.datetime() });
export type Line = z.infer<typeof journalLine>;

const LOT = 500;

/** Transactions after which it is carried over: once, however many of their steps end something. */
const carrying = new WeakSet<Transaction>();

/**
 * Within the transaction that ends them, and into the file right after it: whoever it is that ends them waits for no
 * disk.
 */
export async function putDown(
  context: Context,
  ended: readonly { id: string }[],
  { state, at }: { state: Line['state']; at: Date },
  transaction: Transaction,
): Promise<void> {
  if (context.config.journal === undefined || ended.length === 0) return;
  await run(
    context.db,
    'INSERT INTO endings_to_journal (access, state, at) SELECT unnest($1::uuid[]), $2, $3 ON CONFLICT DO NOTHING',
    [ended.map(({ id }) => id), state, at],
    transaction,
  );
  if (carrying.has(transaction)) return;
  carrying.add(transaction);
  transaction.afterCommit(() => void carrySoon(context));
}

/** A disk that is full or away for a moment: tried again before the hour's own round. */
const AGAIN_MS = [2_000, 10_000, 60_000];

async function carrySoon(context: Context, tries = 0): Promise<void> {
  try {
    await carryOver(context);
  } catch (error) {
    context.log.error('journal', error);
    const wait = AGAIN_MS[tries];
    if (wait !== undefined) setTimeout(() => void carrySoon(context, tries + 1), wait).unref();
  }
}

/** Carries into the file what is not there yet. Where the file can't be written, what is to be carried waits. */
export async function carryOver(context: Context): Promise<number> {
  const { journal } = context.config;
  if (journal === undefined) return 0;
  let count = 0;
  for (let done = LOT; done === LOT; count += done) {
    done = await context.db.transaction(async (transaction) => {
      const waiting = await rows<{ access: string; state: Line['state']; at: Date }>(
        context.db,
        `SELECT access, state, at FROM endings_to_journal ORDER BY at LIMIT ${LOT} FOR UPDATE SKIP LOCKED`,
        [],
        transaction,
      );
      if (waiting.length === 0) return 0;
      await appended(
        journal,
        waiting.map(({ access, state, at }) => `${JSON.stringify({ access, state, at: at.toISOString() })}\n`).join(''),
      );
      // A crash between the two writes a line twice, which says the same.
      await run(
        context.db,
        'DELETE FROM endings_to_journal WHERE access = ANY($1)',
        [waiting.map(({ access }) => access)],
        transaction,
      );
      return waiting.length;
    });
  }
  return count;
}

async function appended(path: string, text: string): Promise<void> {
  const file = await open(path, 'a', 0o600);
  try {
    await file.write(text);
    await file.sync();
  } finally {
    await file.close();
  }
}
