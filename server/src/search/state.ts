/** Sent messages by what the server knows of them: who can read them still, what came back, which locks they went under. */
import { type State } from '@under-lock/contract/search';
import { type LockName } from '@under-lock/core/locks/index';
import { type Context } from '../context';
import { rows } from '../data/database';

export interface Wanted {
  states?: State[] | undefined;
  locks?: LockName[] | undefined;
  closingBefore?: Date | undefined;
}

const HELD = `g.state = 'held' AND g.closes_at > $2 AND g.replaced_by IS NULL`;
const some = (condition: string): string => `EXISTS (SELECT FROM grants g WHERE g.message_id = m.id AND ${condition})`;
const someCopy = (condition: string): string =>
  `EXISTS (SELECT FROM copies c JOIN copy_recipients r ON r.copy_id = c.id WHERE c.message_id = m.id AND ${condition})`;

const isSo: Record<State, string> = {
  open: some(HELD),
  unopened: some(`${HELD} AND g.open_count = 0`),
  bounced: `(${some(`${HELD} AND g.notice_state IN ('refused', 'bounced')`)} OR ${someCopy(`r.state IN ('refused', 'bounced')`)})`,
};

const MOST = 10_000;

export async function findByState(
  context: Context,
  accountId: string,
  { states = [], locks = [], closingBefore }: Wanted,
): Promise<{ ids: string[] }> {
  const found = await rows<{ id: string }>(
    context.db,
    `SELECT m.id FROM messages m WHERE m.account_id = $1 AND m.sender_grant_id IS NULL
       ${states.map((state) => `AND ${isSo[state]}`).join(' ')}
       AND ($3::timestamptz IS NULL OR (${isSo.open} AND NOT ${some(`${HELD} AND g.closes_at > $3`)}))
       AND (cardinality($4::text[]) = 0
         OR ${some(`CASE WHEN g.carried THEN 'carried' ELSE 'room' END = ANY($4)`)} OR ${someCopy('c.lock = ANY($4)')})
     ORDER BY m.sent_at DESC LIMIT ${MOST}`,
    [accountId, context.clock(), closingBefore ?? null, locks],
  );
  return { ids: found.map(({ id }) => id) };
}
