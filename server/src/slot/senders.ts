/** Whom a slot takes nothing more from. The office keeps keyed hashes of their addresses, and so no list of them. */
import { type askSlotSender } from '@under-lock/contract/slot';
import { type Reply } from '@under-lock/contract/client';
import { addressKey } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, telling } from '../log/log';
import { notFound, Problem } from '../problem';
import { NAMED, peopleBehind } from './slots';

const purpose = (slotId: string): string => `slot-sender/${slotId}`;

/** @throws Problem `not-allowed` */
export async function requireWelcome(context: Context, slotId: string, address: string): Promise<void> {
  if (await isBlocked(context, slotId, address))
    throw new Problem('not-allowed', 403, 'This mail slot takes nothing from this address');
}

async function isBlocked(context: Context, slotId: string, address: string): Promise<boolean> {
  const found = await rows(context.db, 'SELECT 1 FROM slot_blocks WHERE slot_id = $1 AND sender = ANY($2)', [
    slotId,
    context.secrets.keyedHashes(purpose(slotId), addressKey(address)),
  ]);
  return found.length > 0;
}

/** The slot that this mail of the account's was left in, while they are behind it. @throws Problem `not-found` */
async function slotOf(
  context: Context,
  who: AccountRow,
  incomingId: string,
): Promise<{ id: string; name: string; open: boolean }> {
  const [slot] = await rows<{ id: string; name: string; open: boolean }>(
    context.db,
    `SELECT s.id, s.open, s.name FROM incoming i JOIN ${NAMED} s ON s.id = i.slot_id WHERE i.id = $2 AND i.account_id = $3`,
    [context.config.office.name, incomingId, who.id],
  );
  if (slot === undefined || !(await peopleBehind(context, slot.id)).some(({ id }) => id === who.id))
    throw notFound('This mail slot');
  return slot;
}

export async function senderOf(
  context: Context,
  who: AccountRow,
  incomingId: string,
  address: string,
): Promise<Reply<typeof askSlotSender>> {
  const slot = await slotOf(context, who, incomingId);
  const [blocked, answers] = await Promise.all([
    isBlocked(context, slot.id, address),
    answersOfOthers(context, who, incomingId),
  ]);
  return { slot, blocked, answers };
}

/** What was left came to each behind the slot as a mail of their own: who of the others has answered theirs. */
const answersOfOthers = (
  context: Context,
  who: AccountRow,
  incomingId: string,
): Promise<{ name: string; at: Date }[]> =>
  rows<{ name: string; at: Date }>(
    context.db,
    `SELECT a.name, min(m.sent_at) AS at
      FROM slot_left l
        CROSS JOIN jsonb_to_recordset(l.behind) AS b(id uuid, "accountId" uuid)
        JOIN messages m ON m.in_reply_to = b.id AND m.account_id = b."accountId"
        JOIN accounts a ON a.id = m.account_id
      WHERE l.behind @> jsonb_build_array(jsonb_build_object('id', $1::text)) AND m.account_id <> $2
      GROUP BY a.id ORDER BY at`,
    [incomingId, who.id],
  );

export async function setSender(
  context: Context,
  who: AccountRow,
  incomingId: string,
  { address, blocked }: { address: string; blocked: boolean },
): Promise<void> {
  const { id } = await slotOf(context, who, incomingId);
  const key = addressKey(address);
  await telling(
    context,
    {
      kind: blocked ? 'slot-sender-blocked' : 'slot-sender-taken-again',
      actor: byAccount(who.id),
      about: { slot: id },
    },
    (transaction) =>
      blocked
        ? run(
            context.db,
            'INSERT INTO slot_blocks (slot_id, sender, blocked_at, blocked_by) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
            [id, context.secrets.keyedHash(purpose(id), key), context.clock(), who.id],
            transaction,
          )
        : run(
            context.db,
            'DELETE FROM slot_blocks WHERE slot_id = $1 AND sender = ANY($2)',
            [id, context.secrets.keyedHashes(purpose(id), key)],
            transaction,
          ),
  );
}
