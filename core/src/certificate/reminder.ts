/** Days before its end at which the holder of a certificate is reminded: in good time, then again, then urgently. */
export const REMINDER_DAYS = [30, 14, 3] as const;
const DAY_MS = 86_400_000;

/** Which reminder has come due and was not given yet; `reminded` is the latest that was. */
export function reminderDue(notAfter: Date, now: Date, reminded: number | undefined): number | undefined {
  if (notAfter <= now) return undefined;
  const due = [...REMINDER_DAYS].reverse().find((days) => notAfter.getTime() - now.getTime() <= days * DAY_MS);
  return due === undefined || (reminded !== undefined && reminded <= due) ? undefined : due;
}

/** Within the time in which reminders are given. */
export const runsOutSoon = ({ notAfter }: { notAfter: Date }, now: Date): boolean =>
  reminderDue(notAfter, now, undefined) !== undefined;
