/**
 * The desk: what needs the worker, and what can still be read by whom until when. Both read only accesses that are
 * held, through a partial index, however much was ever sent.
 */
import { type getDesk, type Grant, type NEED_KINDS, type SentCopy } from '@under-lock/contract/outgoing';
import { type Reply } from '@under-lock/contract/client';
import { PASSCODE_BUDGET } from '@under-lock/core/identity/passcode';
import { runningOut } from '../certificate/reminders';
import { type Context } from '../context';
import { askedOften, type NamedStatement } from '../data/database';
import { sentSummaries } from '../vault/vault';
import { invalid } from '../problem';
import { answeredRequests } from '../incoming/incoming';
import { countUnread } from '../received/received';
import { isZone } from '@under-lock/core/when';
import { grantOf, grantsOf, seenIn } from '../access/grants';

type NeedKind = (typeof NEED_KINDS)[number];

const SHOWN_NEEDS = 20;
const SHOWN_OPEN = 50;
const CLOSING_SOON_MS = 2 * 86_400_000;
const AHEAD_DAYS = 30;

const NEEDS: NamedStatement = {
  name: 'desk-needs',
  sql: `SELECT * FROM (
       SELECT g.id, g.message_id, m.sent_at, g.closes_at, CASE
         WHEN g.give_again_asked_at IS NOT NULL THEN 'give-again'
         WHEN g.not_for_me_at IS NOT NULL THEN 'not-for-me'
         WHEN g.other_way_at IS NOT NULL THEN 'other-way'
         WHEN g.passcode_paused_until > $2 OR g.passcode_spent >= ${PASSCODE_BUDGET} THEN 'passcode-paused'
         WHEN m.sent_at > $2 THEN NULL
         WHEN g.open_count = 0 AND g.notice_state IN ('refused', 'bounced', 'junk') THEN 'notice-failed'
         WHEN g.open_count = 0 AND g.closes_at < $3 AND m.sent_at < $2::timestamptz - interval '4 hours' THEN 'closing-unopened'
         WHEN g.open_count = 0 AND m.sent_at < $4 THEN 'not-opened'
       END AS kind
       FROM grants g JOIN messages m ON m.id = g.message_id
       WHERE g.account_id = $1 AND g.state = 'held' AND g.closes_at > $2 AND m.sender_grant_id IS NULL
     ) AS needs WHERE kind IS NOT NULL ORDER BY closes_at, id`,
};

async function findNeeds(
  context: Context,
  accountId: string,
): Promise<{ id: string; message_id: string; kind: NeedKind; sent_at: Date }[]> {
  const now = context.clock();
  const unopenedSince = new Date(now.getTime() - context.config.office.unopenedAfterDays * 86_400_000);
  return askedOften(context.db, NEEDS, [accountId, now, new Date(now.getTime() + CLOSING_SOON_MS), unopenedSince]);
}

/**
 * Long enough to be seen, short enough not to stay for ever: nothing more can be done about a copy than to send it
 * anew.
 */
const FAILED_SHOWN_MS = 14 * 86_400_000;
type FailedCopy = Omit<SentCopy, 'at'> & { message_id: string; sent_at: Date; at: Date };

const FAILED: NamedStatement = {
  name: 'desk-failed-copies',
  sql: `SELECT c.message_id, m.sent_at, r.id, c.lock, r.address, r.name, r.role, r.state, r.at, coalesce(r.answer, '') AS answer FROM copy_recipients r JOIN copies c ON c.id = r.copy_id JOIN messages m ON m.id = c.message_id
     WHERE r.state IN ('refused', 'bounced') AND r.at > $2 AND c.account_id = $1 ORDER BY r.at DESC LIMIT ${SHOWN_NEEDS}`,
};

const failedCopies = (context: Context, accountId: string): Promise<FailedCopy[]> =>
  askedOften(context.db, FAILED, [accountId, new Date(context.clock().getTime() - FAILED_SHOWN_MS)]);

interface OpenRow {
  message_id: string;
  sent_at: Date;
  closes_at: Date;
  readers: number;
  opened: number;
  names: string[];
}

const OPEN: NamedStatement = {
  name: 'desk-open',
  sql: `SELECT g.message_id, m.sent_at, max(g.closes_at) AS closes_at, count(*)::int AS readers, count(*) FILTER (WHERE g.open_count > 0)::int AS opened,
         (array_agg(CASE WHEN g.name = '' THEN g.address ELSE g.name END ORDER BY g.position))[1:3] AS names
       FROM grants g JOIN messages m ON m.id = g.message_id
       WHERE g.account_id = $1 AND g.state = 'held' AND g.closes_at > $2 AND m.sender_grant_id IS NULL GROUP BY g.message_id, m.sent_at ORDER BY max(g.closes_at), g.message_id`,
};

const PER_DAY: NamedStatement = {
  name: 'desk-closing-per-day',
  sql: `SELECT to_char(d, 'YYYY-MM-DD') AS day, (SELECT count(*)::int FROM grants g JOIN messages m ON m.id = g.message_id WHERE g.account_id = $1 AND m.sender_grant_id IS NULL AND g.state = 'held' AND g.closes_at > $2
         AND g.closes_at >= d AT TIME ZONE $3 AND g.closes_at < (d + interval '1 day') AT TIME ZONE $3) AS count
       FROM generate_series(date_trunc('day', $2::timestamptz AT TIME ZONE $3), date_trunc('day', $2::timestamptz AT TIME ZONE $3) + interval '${AHEAD_DAYS - 1} days', interval '1 day') AS d ORDER BY d`,
};

type Summaries = Awaited<ReturnType<typeof sentSummaries>>;

const failedAs =
  (summary: Summaries) =>
  ({ message_id, sent_at, ...copy }: FailedCopy): Reply<typeof getDesk>['copiesFailed'][number] => ({
    messageId: message_id,
    sentAt: sent_at,
    summary: summary(message_id),
    copy,
  });

const openAs =
  (summary: Summaries) =>
  (row: OpenRow): Reply<typeof getDesk>['open'][number] => ({
    messageId: row.message_id,
    sentAt: row.sent_at,
    closesAt: row.closes_at,
    readers: row.readers,
    opened: row.opened,
    names: row.names,
    summary: summary(row.message_id),
  });

export async function desk(
  context: Context,
  accountId: string,
  zone = context.config.office.calendar.zone,
): Promise<Reply<typeof getDesk>> {
  if (!isZone(zone)) throw invalid('This time zone is not known.');
  const now = context.clock();
  const [needs, failed, answers, ending, open, perDay, unread] = await Promise.all([
    findNeeds(context, accountId),
    failedCopies(context, accountId),
    answeredRequests(context, accountId, SHOWN_NEEDS),
    runningOut(context, accountId),
    askedOften<OpenRow>(context.db, OPEN, [accountId, now]),
    askedOften<{ day: string; count: number }>(context.db, PER_DAY, [accountId, now, zone]),
    countUnread(context, accountId),
  ]);
  const shownNeeds = needs.slice(0, SHOWN_NEEDS);
  const shownOpen = open.slice(0, SHOWN_OPEN);
  const all = await grantsOf(context, [...new Set(shownNeeds.map((need) => need.message_id))]);
  const grants = new Map(all.map((row) => [row.id, row]));
  const seen = seenIn(all);
  const messageIds = [
    ...new Set([
      ...shownOpen.map((row) => row.message_id),
      ...shownNeeds.map((row) => row.message_id),
      ...failed.map((row) => row.message_id),
    ]),
  ];
  const summary = await sentSummaries(context, accountId, messageIds);
  return {
    needs: shownNeeds.flatMap(({ id, kind, sent_at }) => {
      const row = grants.get(id);
      if (row === undefined) return [];
      const grant: Grant = grantOf(row, now, seen(row));
      return [{ kind, messageId: row.messageId, grant, summary: summary(row.messageId), sentAt: sent_at }];
    }),
    needsTotal: needs.length + failed.length + answers.length + ending.length,
    copiesFailed: failed.map(failedAs(summary)),
    answers,
    runningOut: ending,
    open: shownOpen.map(openAs(summary)),
    openTotal: open.length,
    unread,
    accessTotal: open.reduce((sum, row) => sum + row.readers, 0),
    closingPerDay: perDay,
  };
}
