/**
 * When a message leaves: at once but for the seconds in which it can be taken back, or at a chosen time. Until then
 * nobody is told and nobody can read.
 */
import { type Context } from '../context';
import { run } from '../data/database';
import { MessageRow } from '../data/models';
import { invalid, notFound, Problem } from '../problem';
import { waitsAgain } from '../submission/handed';

const MAX_AHEAD_DAYS = 90;

/** The instant a message leaves. @throws Problem `invalid-input` */
export function leavingTime(context: Context, wanted: Date | undefined): Date {
  const now = context.clock();
  const soonest = new Date(now.getTime() + context.config.office.undoSeconds * 1000);
  if (wanted === undefined || wanted <= soonest) return soonest;
  if (wanted.getTime() > now.getTime() + MAX_AHEAD_DAYS * 86_400_000)
    throw invalid(`A message can wait for ${MAX_AHEAD_DAYS} days at most.`);
  return wanted;
}

/** Later where a rule of the office makes it wait. */
export const afterWaiting = (context: Context, leavesAt: Date, minutes = 0): Date =>
  new Date(Math.max(leavesAt.getTime(), context.clock().getTime() + minutes * 60_000));

/** @throws Problem `not-found`, `conflict` when it has left */
export async function takeBack(context: Context, accountId: string, id: string): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const message = await MessageRow.findOne({
      where: { id, accountId, senderGrantId: null },
      transaction,
      lock: transaction.LOCK.UPDATE,
    });
    if (message === null) throw notFound('This message');
    if (message.sentAt <= context.clock())
      throw new Problem('conflict', 409, 'It has left already; you can withdraw it');
    await waitsAgain(context, id, transaction);
    // Accesses, waiting notices and events go with it; the sealed content stays with the draft.
    await run(context.db, 'DELETE FROM messages WHERE id = $1', [id], transaction);
    await run(
      context.db,
      `DELETE FROM vault_items WHERE account_id = $1 AND kind = 'sent' AND id = $2`,
      [accountId, id],
      transaction,
    );
  });
}
