/** Mails about what waits to be let go: to who may decide, once, and to its sender when it is decided. */
import { officePaths } from '@under-lock/contract/office-paths';
import { buildReleaseAsked, buildReleaseEnded } from '@under-lock/core/notice/notice';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { officeMail, sendUnfollowed } from '../mail/office-mail';

interface Asked {
  release_id: string;
  account_id: string;
  name: string;
  address: string;
  sender: string;
  people: number;
  rules: string[];
}

interface Ended {
  id: string;
  state: 'let-go' | 'sent-back';
  asked_at: Date;
  name: string;
  address: string;
  by_name: string | null;
}

async function tellReleasers(context: Context): Promise<void> {
  const due = await rows<Asked>(
    context.db,
    `UPDATE release_keys k SET told_at = $1 FROM releases r, accounts s, accounts a
     WHERE (k.release_id, k.account_id) IN (
       SELECT d.release_id, d.account_id FROM release_keys d WHERE d.told_at IS NULL LIMIT 100 FOR UPDATE OF d SKIP LOCKED)
     AND r.id = k.release_id AND s.id = r.account_id AND a.id = k.account_id
     RETURNING k.release_id, k.account_id, a.name, a.address, s.name AS sender, r.people, r.rules`,
    [context.clock()],
  );
  for (const one of due) {
    const { sender, people, rules, release_id: id, account_id: accountId } = one;
    const link = `${context.config.origin}${officePaths.waiting(id)}`;
    const raw = buildReleaseAsked({
      ...officeMail(context, one, `release-${id}-${accountId}`),
      sender,
      people,
      rules,
      link,
    });
    const { outcome } = await sendUnfollowed(context, one.address, raw);
    if (outcome === 'later')
      await run(context.db, 'UPDATE release_keys SET told_at = NULL WHERE release_id = $1 AND account_id = $2', [
        id,
        accountId,
      ]);
  }
}

async function tellSenders(context: Context): Promise<void> {
  const due = await rows<Ended>(
    context.db,
    `UPDATE releases r SET told_at = $1 FROM accounts s
     WHERE r.id IN (SELECT d.id FROM releases d WHERE d.state <> 'waiting' AND d.told_at IS NULL LIMIT 100 FOR UPDATE OF d SKIP LOCKED)
     AND s.id = r.account_id
     RETURNING r.id, r.state, r.asked_at, s.name, s.address, (SELECT b.name FROM accounts b WHERE b.id = r.decided_by) AS by_name`,
    [context.clock()],
  );
  const { origin, office } = context.config;
  for (const one of due) {
    const raw = buildReleaseEnded({
      ...officeMail(context, one, `released-${one.id}-${one.state}`),
      end: one.state,
      by: one.by_name ?? undefined,
      askedAt: one.asked_at,
      zone: office.calendar.zone,
      link: `${origin}${one.state === 'let-go' ? officePaths.sent(one.id) : officePaths.waiting(one.id)}`,
    });
    const { outcome } = await sendUnfollowed(context, one.address, raw);
    if (outcome === 'later') await run(context.db, 'UPDATE releases SET told_at = NULL WHERE id = $1', [one.id]);
  }
}

/** Marked before each mail goes, so that two processes never tell twice; unmarked when the mail host can't take it now. */
export async function tellOfReleases(context: Context): Promise<void> {
  await tellReleasers(context);
  await tellSenders(context);
}
