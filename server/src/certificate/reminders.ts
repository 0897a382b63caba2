/**
 * Reminds people of the office that their certificate runs out: by mail 30, 14 and 3 days before, once each, and on
 * their desk, there for 30 days after it has, too. A certificate that has been renewed is not reminded of. One that signs
 * for mail programs stands on the desk alone, for as long as the door has it.
 */
import { officePaths } from '@under-lock/contract/office-paths';
import { REMINDER_DAYS, reminderDue } from '@under-lock/core/certificate/reminder';
import { buildRunsOut } from '@under-lock/core/notice/notice';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { officeMail, sendUnfollowed } from '../mail/office-mail';

const DAY_MS = 86_400_000;

/** `c` is not revoked and in use, runs out between $1 and $2, and none that is newer does the same. */
const RUNNING_OUT = `c.revoked_at IS NULL AND c.not_after > $1 AND c.not_after <= $2
  AND NOT EXISTS (SELECT 1 FROM certificates n WHERE n.account_id = c.account_id AND n.revoked_at IS NULL AND n.issued_at > c.issued_at AND n.not_after > c.not_after
    AND n.for_programs = c.for_programs AND n.purpose IN (c.purpose, 'both'))
  AND (NOT c.for_programs OR EXISTS (SELECT 1 FROM door_signers s WHERE s.account_id = c.account_id AND s.fingerprint = c.fingerprint))`;

const FIRST_MS = REMINDER_DAYS[0] * DAY_MS;
const horizon = (now: Date): [Date, Date] => [now, new Date(now.getTime() + FIRST_MS)];

const OF_ACCOUNT: NamedStatement = {
  name: 'certificates-running-out',
  sql: `SELECT fingerprint, not_after AS "notAfter", for_programs AS "forPrograms" FROM certificates c WHERE c.account_id = $3 AND ${RUNNING_OUT} ORDER BY not_after LIMIT 20`,
};

/** Those of one account, the soonest first; also what ran out lately. */
export const runningOut = (
  context: Context,
  accountId: string,
): Promise<{ fingerprint: string; notAfter: Date; forPrograms: boolean }[]> =>
  askedOften(context.db, OF_ACCOUNT, [
    new Date(context.clock().getTime() - FIRST_MS),
    horizon(context.clock())[1],
    accountId,
  ]);

interface Due {
  fingerprint: string;
  not_after: Date;
  reminded_days: number | null;
  name: string;
  address: string;
}

/**
 * The row is marked before the mail goes, so that two processes never remind twice, and set back when the mail host
 * can't take it now.
 */
export async function remindOfCertificates(context: Context): Promise<void> {
  const now = context.clock();
  const found = await rows<Due>(
    context.db,
    `SELECT c.fingerprint, c.not_after, c.reminded_days, a.name, a.address FROM certificates c JOIN accounts a ON a.id = c.account_id WHERE NOT c.for_programs AND ${RUNNING_OUT} ORDER BY c.not_after LIMIT 500`,
    horizon(now),
  );
  const { office, origin } = context.config;
  for (const { fingerprint, not_after, reminded_days, name, address } of found) {
    const due = reminderDue(not_after, now, reminded_days ?? undefined);
    if (due === undefined) continue;
    const marked = await run(
      context.db,
      'UPDATE certificates SET reminded_days = $2 WHERE fingerprint = $1 AND reminded_days IS NOT DISTINCT FROM $3',
      [fingerprint, due, reminded_days],
    );
    if (marked === 0) continue;
    const raw = buildRunsOut({
      ...officeMail(context, { name, address }),
      at: not_after,
      zone: office.calendar.zone,
      link: `${origin}${officePaths.keys()}`,
    });
    const { outcome } = await sendUnfollowed(context, address, raw);
    if (outcome === 'later')
      await run(context.db, 'UPDATE certificates SET reminded_days = $2 WHERE fingerprint = $1', [
        fingerprint,
        reminded_days,
      ]);
  }
}
