/**
 * Closing choices as an office counts them, worked out in the worker's time zone by luxon, which knows the zones' rules
 * (an hour that daylight saving leaves out moves forward; one that comes twice is the first).
 */
import { DateTime } from 'luxon';
import { type Closing, type OfficeCalendar } from './closing-choice';

export type ClosingProblem = 'past' | 'beyond-maximum' | 'not-a-date';
export type ClosingResult = { ok: true; closesAt: Date } | { ok: false; problem: ClosingProblem; limit?: Date };

function atDayEnd(day: DateTime, dayEnds: string): DateTime {
  const [hour, minute] = dayEnds.split(':').map(Number);
  return day.set({ hour: hour!, minute: minute!, second: 0, millisecond: 0 });
}

function wallClock(closing: Closing, now: DateTime, calendar: OfficeCalendar): DateTime {
  const dayEnd = (day: DateTime): DateTime => atDayEnd(day, calendar.dayEnds);
  /** After the last day of it has ended, the next one's. */
  const endOf = (unit: 'month' | 'quarter'): DateTime => {
    const ends = dayEnd(now.endOf(unit));
    return ends > now ? ends : dayEnd(now.plus({ [unit]: 1 }).endOf(unit));
  };
  switch (closing.kind) {
    case 'end-of-today':
      return dayEnd(now);
    case 'end-of-week': {
      const thisWeek = dayEnd(now.plus({ days: calendar.weekEndsOn - now.weekday }));
      return thisWeek > now ? thisWeek : dayEnd(now.plus({ days: calendar.weekEndsOn - now.weekday + 7 }));
    }
    case 'two-weeks':
      return dayEnd(now.plus({ days: 14 }));
    case 'end-of-month':
      return endOf('month');
    case 'end-of-quarter':
      return endOf('quarter');
    case 'exact':
      return DateTime.fromISO(closing.local, { zone: calendar.zone });
  }
}

/** The latest instant the office allows from `now` on: the end of the day `maxDays` days ahead. */
export function latestClosing(now: Date, calendar: OfficeCalendar): Date {
  return DateTime.fromJSDate(now, { zone: calendar.zone }).plus({ days: calendar.maxDays }).endOf('day').toJSDate();
}

function instantOf(closing: Closing, here: DateTime, calendar: OfficeCalendar): DateTime {
  const wanted = wallClock(closing, here, calendar);
  // Of an hour that comes twice the first: whoever means the second loses an hour, nobody reads longer than meant.
  return wanted.isValid ? DateTime.min(...wanted.getPossibleOffsets())! : wanted;
}

/** The latest instant a choice allows at `now`: its own, also when it has passed, and never beyond the office's. */
export function lastInstant(closing: Closing, now: Date, calendar: OfficeCalendar): Date {
  const own = instantOf(closing, DateTime.fromJSDate(now, { zone: calendar.zone }), calendar);
  const limit = latestClosing(now, calendar);
  return own.isValid && own.toJSDate() < limit ? own.toJSDate() : limit;
}

/** The instant a choice means at `now`. `limit` comes with `beyond-maximum`. */
export function resolveClosing(closing: Closing, now: Date, calendar: OfficeCalendar): ClosingResult {
  const here = DateTime.fromJSDate(now, { zone: calendar.zone });
  const closesAt = instantOf(closing, here, calendar);
  if (!closesAt.isValid) return { ok: false, problem: 'not-a-date' };
  if (closesAt <= here) return { ok: false, problem: 'past' };
  const limit = latestClosing(now, calendar);
  if (closesAt.toJSDate() > limit) return { ok: false, problem: 'beyond-maximum', limit };
  return { ok: true, closesAt: closesAt.toJSDate() };
}

/** The instant of a wall-clock time `yyyy-MM-ddTHH:mm`, or undefined when it is none or has passed. */
export function momentAhead(local: string, now: Date, zone: string): Date | undefined {
  const moment = DateTime.fromISO(local, { zone });
  return moment.isValid && moment.toJSDate() > now ? moment.toJSDate() : undefined;
}

/** The wall-clock spelling of an instant, as an `exact` choice holds it. */
export function toLocal(instant: Date, zone: string): string {
  return DateTime.fromJSDate(instant, { zone }).toFormat("yyyy-MM-dd'T'HH:mm");
}

/** Whole days between the dates of two instants on the calendar of `zone`: 0 is the same day. */
export function calendarDays(from: Date, to: Date, zone: string): number {
  const day = (instant: Date): DateTime => DateTime.fromJSDate(instant, { zone }).startOf('day');
  return Math.round(day(to).diff(day(from), 'days').days);
}
