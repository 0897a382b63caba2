/**
 * Challenges for proof of work: the server's own, for one slot, good once and for an hour. A challenge is
 * `nonce (16) ‖ until (8, milliseconds) ‖ keyed hash of both (32)`, so that nothing is kept of those nobody answers.
 */
import { type Bytes } from '@under-lock/core/bytes';
import { isSolved, type Puzzles, SLOT_PUZZLES } from '@under-lock/core/slot/work';
import { randomBytes } from 'node:crypto';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { Problem } from '../problem';

const NONCE_BYTES = 16;
const SAID_BYTES = NONCE_BYTES + 8;
const LIFE_MS = 60 * 60_000;
const PURPOSE = 'slot-work';

const said = (slotId: string, start: Buffer): string => `${slotId}|${start.toString('base64url')}`;

export function makeWork(context: Context, slotId: string): Puzzles {
  const start = Buffer.alloc(SAID_BYTES);
  randomBytes(NONCE_BYTES).copy(start);
  start.writeBigUInt64BE(BigInt(context.clock().getTime() + LIFE_MS), NONCE_BYTES);
  const mark = context.secrets.keyedHash(PURPOSE, said(slotId, start));
  return { challenge: new Uint8Array(Buffer.concat([start, mark])), ...SLOT_PUZZLES };
}

const refused = (): Problem =>
  new Problem('conflict', 409, 'The work that comes with it is used up or too old', {
    detail: 'Load the page again, or press once more.',
  });

/** Takes the work that was done for it. @throws Problem `conflict` when it is none, too old, or was taken before */
export async function spendWork(
  context: Context,
  slotId: string,
  { challenge, solution }: { challenge: Uint8Array; solution: Uint8Array },
): Promise<void> {
  if (challenge.length < SAID_BYTES) throw refused();
  const start = Buffer.from(challenge.subarray(0, SAID_BYTES));
  if (!context.secrets.matches(Buffer.from(challenge.subarray(SAID_BYTES)), PURPOSE, said(slotId, start)))
    throw refused();
  const until = Number(start.readBigUInt64BE(NONCE_BYTES));
  if (until < context.clock().getTime() || !isSolved({ challenge: challenge as Bytes, ...SLOT_PUZZLES }, solution))
    throw refused();
  const taken = await rows(
    context.db,
    'INSERT INTO slot_work (nonce, until) VALUES ($1, $2) ON CONFLICT DO NOTHING RETURNING nonce',
    [start.subarray(0, NONCE_BYTES), new Date(until)],
  );
  if (taken.length === 0) throw refused();
}

export const forgetWork = (context: Context): Promise<number> =>
  run(context.db, 'DELETE FROM slot_work WHERE until < $1', [context.clock()]);
