/**
 * Tells workers by mail what their mail programs sent: at once or once a day, as they chose, and in any case where they
 * have to tell somebody a password. It names what went how, to whom, until when, and nothing of what it says.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { type reportLeft as reporting } from '@under-lock/contract/submission';
import { type LockName } from '@under-lock/core/locks/index';
import { buildLeft } from '@under-lock/core/notice/notice';
import { leftInWords, type LeftMail, waysInWords } from '@under-lock/core/submission/left';
import { isForOwner } from '@under-lock/core/submission/owner';
import { timeInWords } from '@under-lock/core/when';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { invalid, notFound, Problem } from '../problem';
import { putItem } from '../vault/vault';

interface LineRow {
  id: string;
  sent_at: Date;
  address: string;
  lock: LockName;
  closes_at: Date | null;
  clear: boolean;
}

/** Whom each of these messages goes to and how, in the order of their writing; message by message. */
async function leftMails({ db }: Context, ids: readonly string[]): Promise<LeftMail[]> {
  const lines = await rows<LineRow>(
    db,
    `SELECT * FROM (
       SELECT m.id, m.sent_at, g.address, CASE WHEN g.carried THEN 'carried' ELSE 'room' END AS lock, g.closes_at, false AS clear, g.position
         FROM messages m JOIN grants g ON g.message_id = m.id WHERE m.id = ANY($1) AND g.parent_id IS NULL
       UNION ALL
       SELECT m.id, m.sent_at, r.address, c.lock, NULL, (m.handling->>'clear')::boolean, 10000
         FROM messages m JOIN copies c ON c.message_id = m.id JOIN copy_recipients r ON r.copy_id = c.id WHERE m.id = ANY($1)) l
     ORDER BY sent_at, id, position, address`,
    [ids],
  );
  const byMessage = new Map<string, LineRow[]>();
  for (const line of lines) byMessage.set(line.id, [...(byMessage.get(line.id) ?? []), line]);
  return [...byMessage.values()].map((all) => ({
    leavesAt: all[0]!.sent_at,
    to: all.map(({ address, lock, closes_at: closesAt, clear }) => ({
      address,
      lock,
      isClear: clear,
      ...(closesAt === null ? {} : { closesAt }),
    })),
  }));
}

interface Told {
  account: { name: string; address: string };
  subject: string;
  sentences: readonly string[];
  path: string;
}

/** Resolves with whether the mail host will have it, or never will. */
async function tell(context: Context, { account, subject, sentences, path }: Told): Promise<boolean> {
  const { origin } = context.config;
  const raw = buildLeft({
    ...officeMail(context, account),
    subject,
    sentences,
    link: `${origin}${path}`,
  });
  const { outcome } = await sendUnfollowed(context, account.address, raw);
  return outcome !== 'later';
}

/** Only what the door wrote itself: a browser that was there meanwhile knows better. */
async function replaceSummary(context: Context, accountId: string, id: string, sealed: Uint8Array): Promise<void> {
  if (!isForOwner(sealed)) throw invalid('This is not sealed to its writer.');
  await putItem(context, { accountId, kind: 'sent', id, revision: 1, sealed }).catch((error: unknown) => {
    if (!(error instanceof Problem && error.code === 'conflict')) throw error;
  });
}

/** @throws Problem `not-found` for what no mail program handed in */
export async function reportLeft(
  context: Context,
  account: AccountRow,
  id: string,
  { toTell, asWritten, summary }: z.output<typeof reporting.body>,
): Promise<void> {
  const now = context.clock();
  const [mail] = await rows<{ handed_at: Date; before: Date | null }>(
    context.db,
    `UPDATE handed_in h SET reported_at = $3 FROM (SELECT id, reported_at AS before FROM handed_in WHERE id = $1 FOR UPDATE) b
      WHERE h.id = b.id AND h.account_id = $2 AND h.state = 'done' RETURNING h.handed_at, b.before`,
    [id, account.id, now],
  );
  if (mail === undefined) throw notFound('This mail');
  if (mail.before !== null) return;
  if (summary !== undefined) await replaceSummary(context, account.id, id, summary);
  const isWanted = account.toldLeft === 'always' || (account.toldLeft === 'changed' && !asWritten);
  if (!isWanted && toTell.length === 0) return;
  const { zone } = context.config.office.calendar;
  const [left] = await leftMails(context, [id]);
  if (left === undefined) return; // somebody else has to release it first: its page says so
  const at = timeInWords(mail.handed_at, zone);
  const verb = left.leavesAt > now ? 'leaves' : 'has left';
  const sentences = [
    `What your mail program handed in at ${at} ${verb}${left.leavesAt > now ? ` at ${timeInWords(left.leavesAt, zone)}` : ''}: ${waysInWords(left, now, zone).join('; ')}.`,
    ...(toTell.length === 0
      ? []
      : [`Tell them the password: ${toTell.join(', ')}. You find it with the message, under Sent.`]),
  ];
  const subject = toTell.length === 0 ? `Your mail of ${at} ${verb}` : `Your mail of ${at}: a password is to be told`;
  await tell(context, { account, subject, sentences, path: officePaths.sent(id) });
}

/** From then on, in the office's day, what left since the last time is told. */
const DAILY_HOUR = 16;
const MOST_LINES = 50;

interface Due {
  id: string;
  name: string;
  address: string;
  since: Date;
}

async function tellDay(context: Context, { id, since, ...account }: Due): Promise<boolean> {
  const now = context.clock();
  const { zone } = context.config.office.calendar;
  const ids = await rows<{ id: string }>(
    context.db,
    'SELECT id FROM messages WHERE account_id = $1 AND by_program IS NOT NULL AND sent_at > $2 AND sent_at <= $3 ORDER BY sent_at',
    [id, since, now],
  );
  const mails = await leftMails(
    context,
    ids.slice(0, MOST_LINES).map((one) => one.id),
  );
  const rest = ids.length - MOST_LINES;
  const count = ids.length === 1 ? 'One mail' : `${ids.length} mails`;
  const sentences = [
    `${count} that your mail programs handed in ${ids.length === 1 ? 'has' : 'have'} left:`,
    mails.map((mail) => `– ${leftInWords(mail, now, zone)}`).join('\n'),
    ...(rest > 0 ? [`and ${rest} more; all of them stand under Sent.`] : []),
  ];
  return tell(context, {
    account,
    subject: `${count} left by your mail programs`,
    sentences,
    path: officePaths.sentList(),
  });
}

/** An account is marked before its mail goes, so that two processes never tell twice, and set back where it can't go now. */
export async function tellLeft(context: Context): Promise<void> {
  const now = context.clock();
  const due = await rows<Due>(
    context.db,
    `WITH due AS (
       SELECT a.id, a.told_left_until AS since FROM accounts a
       WHERE a.told_left = 'daily' AND a.ended_at IS NULL AND extract(hour FROM $1::timestamptz AT TIME ZONE $2) >= ${DAILY_HOUR}
         AND (a.told_left_until AT TIME ZONE $2)::date < ($1::timestamptz AT TIME ZONE $2)::date
         AND EXISTS (SELECT FROM messages m WHERE m.account_id = a.id AND m.by_program IS NOT NULL AND m.sent_at > a.told_left_until AND m.sent_at <= $1))
     UPDATE accounts a SET told_left_until = $1 FROM due d WHERE a.id = d.id AND a.told_left_until = d.since
     RETURNING a.id, a.name, a.address, d.since`,
    [now, context.config.office.calendar.zone],
  );
  for (const one of due)
    if (!(await tellDay(context, one)))
      await run(context.db, 'UPDATE accounts SET told_left_until = $2 WHERE id = $1 AND told_left_until = $3', [
        one.id,
        one.since,
        now,
      ]);
}
