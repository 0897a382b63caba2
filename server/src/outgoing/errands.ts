/**
 * Mails beside the notice: reminders before closing, and receipts to the sender. Neither holds a link or anything of
 * the content.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { buildReceipt, buildReminder } from '@under-lock/core/notice/notice';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { record } from '../access/grants';

interface Due {
  id: string;
  message_id: string;
  name: string;
  address: string;
  closes_at: Date;
  notice_at: Date;
  sender_name: string;
  sender_address: string;
  language: string;
}

/**
 * Reminds whoever has not opened what closes within their message's hours, once. The row is marked before the mail
 * goes, so that two processes
 * never remind twice, and unmarked when the mail host can't take it now.
 */
export async function remindDue(context: Context): Promise<void> {
  const now = context.clock();
  const due = await rows<Due>(
    context.db,
    `UPDATE grants g SET reminded_at = $1 FROM messages m, accounts a
     WHERE g.id IN (
       SELECT d.id FROM grants d JOIN messages dm ON dm.id = d.message_id
       WHERE d.state = 'held' AND d.reader_kind <> 'account' AND d.lost_at IS NULL AND d.open_count = 0 AND d.reminded_at IS NULL AND d.notice_state = 'accepted' AND dm.remind_hours > 0
         AND d.closes_at > $1 AND d.closes_at <= $1::timestamptz + make_interval(hours => dm.remind_hours)
         -- Whoever was told within the same hours has just read the date.
         AND d.notice_at < d.closes_at - make_interval(hours => dm.remind_hours)
       ORDER BY d.closes_at LIMIT 200 FOR UPDATE OF d SKIP LOCKED)
     AND m.id = g.message_id AND a.id = g.account_id
     RETURNING g.id, g.message_id, g.name, g.address, g.closes_at, g.notice_at, g.language, a.name AS sender_name, coalesce(m.sender_address, a.address) AS sender_address`,
    [now],
  );
  const { office } = context.config;
  for (const one of due) {
    const raw = buildReminder({
      ...officeMail(context, one, `reminder-${one.id}`),
      language: one.language,
      sender: { name: one.sender_name, address: one.sender_address },
      closesAt: one.closes_at,
      zone: office.calendar.zone,
      noticeAt: one.notice_at,
    });
    const { outcome } = await sendUnfollowed(context, one.address, raw);
    if (outcome === 'later') await run(context.db, 'UPDATE grants SET reminded_at = NULL WHERE id = $1', [one.id]);
    else if (outcome === 'accepted')
      await record(context, { messageId: one.message_id, grantId: one.id, kind: 'reminded' });
  }
}

/**
 * Mails the sender that an access was opened. Returns the seconds to wait before another try, or undefined when it is
 * settled.
 */
export async function sendReceipt(context: Context, grantId: string): Promise<number | undefined> {
  const [row] = await rows<{
    message_id: string;
    name: string;
    address: string;
    first_opened_at: Date | null;
    reference: string;
    sender_name: string;
    sender_address: string;
    sent: boolean;
  }>(
    context.db,
    `SELECT g.message_id, g.name, g.address, g.first_opened_at, m.reference, a.name AS sender_name, a.address AS sender_address,
       EXISTS (SELECT 1 FROM events e WHERE e.grant_id = g.id AND e.kind = 'receipt-sent') AS sent
     FROM grants g JOIN messages m ON m.id = g.message_id JOIN accounts a ON a.id = g.account_id WHERE g.id = $1`,
    [grantId],
  );
  if (row === undefined || row.first_opened_at === null || row.sent) return undefined;
  const { office, origin } = context.config;
  const raw = buildReceipt({
    ...officeMail(context, { name: row.sender_name, address: row.sender_address }, `receipt-${grantId}`),
    reader: { name: row.name, address: row.address },
    openedAt: row.first_opened_at,
    zone: office.calendar.zone,
    reference: row.reference,
    link: `${origin}${officePaths.sent(row.message_id)}`,
  });
  const { outcome } = await sendUnfollowed(context, row.sender_address, raw);
  if (outcome === 'later') return 60;
  if (outcome === 'accepted') await record(context, { messageId: row.message_id, grantId, kind: 'receipt-sent' });
  return undefined;
}
