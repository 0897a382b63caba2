/** A signed statement of a delivery: who was told, how they were known, who opened it and confirmed having read it. */
import { type SentCopy } from '@under-lock/contract/outgoing';
import {
  type DeliveredAccess,
  type DeliveredCopy,
  DELIVERY_FORMAT,
  type DeliveryStatement,
  type StatementFile,
} from '@under-lock/core/statement/format';
import { defined } from '@under-lock/core/defined';
import { grantsOf, type Seen, seenIn, type ShownGrant } from '../access/grants';
import { type Context } from '../context';
import { type AccountRow } from '../data/models';
import { copiesOf } from '../outgoing/copies';
import { Problem } from '../problem';
import { aboutMessage, openingOf, ownMessage, signed } from './statement';

const iso = (at: Date | null | undefined): string | undefined => at?.toISOString();

function deliveredAccess(row: ShownGrant, seen: Seen, now: Date): DeliveredAccess {
  // Due and not yet swept is over all the same.
  const state = row.state === 'held' && row.closesAt <= now ? 'closed' : row.state;
  return {
    id: row.id,
    reader: { name: row.name, address: row.address },
    told: {
      kind: row.checkKind === 'account' ? 'list' : 'notice',
      state: row.noticeState,
      ...defined({ at: iso(row.noticeAt), answer: row.noticeAnswer ?? undefined }),
    },
    proof: { kind: row.checkKind, question: row.asksQuestion },
    opened: openingOf(seen),
    ...defined({ confirmedAt: iso(seen.confirmed) }),
    state,
    until: (state === 'held' ? row.closesAt : (row.endedAt ?? row.closesAt)).toISOString(),
  };
}

const deliveredCopy = ({ id, name, address, lock, state, at, answer }: SentCopy): DeliveredCopy => ({
  id,
  reader: { name, address },
  lock,
  state,
  ...defined({ at: iso(at), answer }),
});

/** @throws Problem `not-found`, `conflict` before it has left */
export async function makeDelivery(
  context: Context,
  sender: AccountRow,
  messageId: string,
): Promise<StatementFile<DeliveryStatement>> {
  const message = await ownMessage(sender, messageId);
  const now = context.clock();
  if (message.sentAt > now) throw new Problem('conflict', 409, 'This message has not left yet');
  const [all, copies] = await Promise.all([grantsOf(context, [messageId]), copiesOf(context, [messageId])]);
  const seen = seenIn(all);
  const current = all.filter(({ replacedBy }) => replacedBy === null);
  const statement: DeliveryStatement = {
    format: DELIVERY_FORMAT,
    ...(await aboutMessage(context, sender, message)),
    accesses: current.map((row) => deliveredAccess(row, seen(row), now)),
    copies: (copies.get(messageId) ?? []).map(deliveredCopy),
  };
  return signed(context, sender, statement, 'delivery-stated');
}
