/** What is looked for, as it stands in the address: `/mail?q=teal&state=open&lock=room`. */
import { type State, STATES } from '@under-lock/contract/search';
import { type LockName, LOCKS } from '@under-lock/core/locks/index';

export const SIDES = ['sent', 'received'] as const;
export const TIMES = ['week', 'month', 'year'] as const;
export type Time = (typeof TIMES)[number];

export interface Asked {
  query: string;
  side?: (typeof SIDES)[number] | undefined;
  states: readonly State[];
  /** The last reader loses it within seven days. */
  closing: boolean;
  locks: readonly LockName[];
  /** An address, or a domain after an "@". */
  who?: string | undefined;
  /** Sent or come within the last week, month or year. */
  time?: Time | undefined;
  /** Likewise from this day on, and until this one, as yyyy-MM-dd where the worker is. */
  from?: string | undefined;
  until?: string | undefined;
}

/** A day there is, as yyyy-MM-dd. */
export const isDay = (text: string): boolean =>
  /^[12]\d{3}-\d\d-\d\d$/.test(text) &&
  !Number.isNaN(Date.parse(text)) &&
  new Date(text).toISOString().startsWith(text);

type Given = Readonly<Record<string, string | string[] | undefined>>;
type Params = Record<'q' | 'in' | 'state' | 'closing' | 'lock' | 'who' | 'time' | 'from' | 'until', string | undefined>;

const one = (value: string | string[] | undefined): string => (Array.isArray(value) ? value.join(',') : (value ?? ''));
const known = <T extends string>(all: readonly T[], value: string | undefined): T | undefined =>
  all.find((each) => each === value);
const day = (value: string): string | undefined => (isDay(value) ? value : undefined);
const several = <T extends string>(all: readonly T[], value: string): T[] =>
  all.filter((each) => value.split(',').includes(each));

/** Whatever an address says that is none of it is passed over. */
export const readAsked = (given: Given): Asked => ({
  query: one(given['q']).slice(0, 200),
  side: known(SIDES, one(given['in'])),
  states: several(STATES, one(given['state'])),
  closing: one(given['closing']) === 'week',
  locks: several(LOCKS, one(given['lock'])),
  who: one(given['who']).slice(0, 254) || undefined,
  time: known(TIMES, one(given['time'])),
  from: day(one(given['from'])),
  until: day(one(given['until'])),
});

export const isNarrowed = ({ side, states, closing, locks, who, time, from, until }: Asked): boolean =>
  closing || states.length > 0 || locks.length > 0 || [side, who, time, from, until].some((one) => one !== undefined);
/** Whether anything is looked for at all. */
export const isAsking = (asked: Asked): boolean => asked.query.trim() !== '' || isNarrowed(asked);

const orNothing = (text: string): string | undefined => (text === '' ? undefined : text);

export const paramsOf = ({ query, side, states, closing, locks, who, time, from, until }: Asked): Params => ({
  q: orNothing(query),
  in: side,
  state: orNothing(states.join(',')),
  closing: closing ? 'week' : undefined,
  lock: orNothing(locks.join(',')),
  who,
  time,
  from,
  until,
});

const DAY = 86_400_000;
const days: Record<Time, number> = { week: 7, month: 31, year: 366 };

/** The day's first moment where the worker is; `after` days later. */
function beginOf(text: string, after = 0): number {
  const [year, month, dayOfMonth] = text.split('-').map(Number);
  return new Date(year!, month! - 1, dayOfMonth! + after).getTime();
}

/** Instants in milliseconds between which a message was sent or came: from the first on, before the second. */
export const betweenOf = ({ time, from, until }: Asked, now: number): { from: number; until: number } => ({
  from: Math.max(
    time === undefined ? -Infinity : now - days[time] * DAY,
    from === undefined ? -Infinity : beginOf(from),
  ),
  until: until === undefined ? Infinity : beginOf(until, 1),
});

/** As it follows a path: with its question mark, or nothing. */
export function queryOf(asked: Asked): string {
  const params = new URLSearchParams();
  for (const [name, value] of Object.entries(paramsOf(asked))) if (value !== undefined) params.set(name, value);
  const text = params.toString();
  return text === '' ? '' : `?${text}`;
}
