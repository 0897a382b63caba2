/**
 * Whoever wrote in a mail program learns there what did not arrive, as they are used to: by a delivery report (RFC 3464),
 * once for each recipient, of what stands in our own record.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { buildDeliveryReport } from '@under-lock/core/message/delivery-report';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { officeMail } from '../mail/office-mail';

const AT_ONCE = 50;

interface Failed {
  id: string;
  message_id: string;
  recipient: string;
  answer: string | null;
  bounced: boolean;
  sent_at: Date;
  name: string;
  address: string;
}

const OF = {
  copy_recipients: `UPDATE copy_recipients r SET failure_told_at = $1 FROM copies c, messages m, accounts a
    WHERE r.id IN (SELECT d.id FROM copy_recipients d JOIN copies dc ON dc.id = d.copy_id JOIN messages dm ON dm.id = dc.message_id
        WHERE d.state IN ('refused', 'bounced') AND d.failure_told_at IS NULL AND dm.by_program IS NOT NULL
        ORDER BY d.at LIMIT ${AT_ONCE} FOR UPDATE OF d SKIP LOCKED)
      AND c.id = r.copy_id AND m.id = c.message_id AND a.id = m.account_id AND a.ended_at IS NULL
    RETURNING r.id, m.id AS message_id, r.address AS recipient, r.answer, r.state = 'bounced' AS bounced, m.sent_at, a.name, a.address`,
  grants: `UPDATE grants r SET failure_told_at = $1 FROM messages m, accounts a
    WHERE r.id IN (SELECT d.id FROM grants d JOIN messages dm ON dm.id = d.message_id
        WHERE d.notice_state IN ('refused', 'bounced') AND d.failure_told_at IS NULL AND dm.by_program IS NOT NULL
        ORDER BY d.notice_at LIMIT ${AT_ONCE} FOR UPDATE OF d SKIP LOCKED)
      AND m.id = r.message_id AND a.id = m.account_id AND a.ended_at IS NULL
    RETURNING r.id, m.id AS message_id, r.address AS recipient, r.notice_answer AS answer, r.notice_state = 'bounced' AS bounced, m.sent_at, a.name, a.address`,
} as const;

/** Marked before the report goes, so that two processes never tell twice; unmarked when it can't go now. */
export async function tellFailures(context: Context): Promise<void> {
  const { office, origin } = context.config;
  const now = context.clock();
  for (const table of ['copy_recipients', 'grants'] as const)
    for (const failed of await rows<Failed>(context.db, OF[table], [now])) {
      const raw = buildDeliveryReport({
        ...officeMail(context, failed),
        host: office.mailDomain,
        zone: office.calendar.zone,
        recipient: failed.recipient,
        sentAt: failed.sent_at,
        answer: failed.answer ?? '',
        after: failed.bounced ? 'taken' : 'asked',
        link: `${origin}${officePaths.sent(failed.message_id)}`,
      });
      // Nothing comes back of a report (RFC 3464 §2).
      const { outcome } = await context.mail.send({ from: '', to: failed.address }, raw);
      if (outcome === 'later')
        await run(context.db, `UPDATE ${table} SET failure_told_at = NULL WHERE id = $1`, [failed.id]);
    }
}
