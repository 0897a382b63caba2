/**
 * Tells people of the office by mail that messages are held for them, or were left in a mail slot: only who has not been here since, once until they
 * have been here again, and nothing of what it is. Whoever is at work sees it in Received anyway.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { buildWaiting } from '@under-lock/core/notice/notice';
import { addressKey, isAtDomain } from '@under-lock/core/people/address';
import { accountAt } from '../account/addresses';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { invalid } from '../problem';

/**
 * For so long somebody at work may take to see it: sessions say no more often than once a minute that they are used.
 */
const WAIT_MINUTES = 3;

interface Due {
  id: string;
  name: string;
  address: string;
  count: number;
  before: Date | null;
}

/** @throws Problem `invalid-input` for an address whose mail comes in here: each mail would bring the next one */
export async function setTold(
  context: Context,
  account: AccountRow,
  { byMail, address }: { byMail: boolean; address?: string | undefined },
): Promise<void> {
  const key = addressKey(address ?? '');
  const comesHere = isAtDomain(key, context.config.office.mailDomain) || (await accountAt(context, key)) !== null;
  if (address !== undefined && comesHere)
    throw invalid('Mail to this address comes in here. Give one that you read in another program.');
  await account.update({ toldByMail: byMail, toldAddress: address ?? null });
}

/**
 * An account is marked before the mail goes, so that two processes never tell twice, and set back when the mail host
 * can't take it now.
 */
export async function tellWaiting(context: Context): Promise<void> {
  const now = context.clock();
  const due = await rows<Due>(
    context.db,
    `WITH waiting AS (
       SELECT a.id, a.told_at, count(*)::int AS count FROM accounts a
       JOIN (SELECT reader_account_id AS account_id, arrived_at FROM grants WHERE reader_kind = 'account' AND state = 'held' AND open_count = 0 AND closes_at > $1
             -- What was left in a mail slot; other mail for those alone who are told where they read theirs.
             UNION ALL SELECT i.account_id, i.arrived_at FROM incoming i JOIN accounts o ON o.id = i.account_id
               WHERE (i.sealed_proof IS NOT NULL OR o.told_address IS NOT NULL) AND i.unread AND i.deleted_at IS NULL) w ON w.account_id = a.id
       WHERE a.told_by_mail AND a.ended_at IS NULL AND a.auth_hash IS NOT NULL
         AND w.arrived_at > GREATEST(a.told_at, (SELECT max(s.last_seen_at) FROM sessions s WHERE s.account_id = a.id), a.created_at)
         AND w.arrived_at <= $1::timestamptz - make_interval(mins => ${WAIT_MINUTES})
       GROUP BY a.id)
     UPDATE accounts a SET told_at = $1 FROM waiting w WHERE a.id = w.id AND a.told_at IS NOT DISTINCT FROM w.told_at
     RETURNING a.id, a.name, coalesce(a.told_address, a.address) AS address, w.count, w.told_at AS before`,
    [now],
  );
  const { origin } = context.config;
  for (const { id, name, address, count, before } of due) {
    const raw = buildWaiting({
      ...officeMail(context, { name, address }),
      count,
      link: `${origin}${officePaths.receivedList()}`,
    });
    const { outcome } = await sendUnfollowed(context, address, raw);
    if (outcome === 'later') await run(context.db, 'UPDATE accounts SET told_at = $2 WHERE id = $1', [id, before]);
  }
}
