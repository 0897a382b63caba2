/**
 * The Date field (RFC 5322 §3.3), with the obsolete forms of §4.3 and what programs get wrong: no seconds, years of two
 * digits, names of zones, months written out, ISO 8601. What is no date is undefined, so that nobody shows or computes
 * with one that is not there.
 */
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
/** §4.3; of the military letters only Z says something reliable. */
const ZONES: Record<string, number> = {
  ut: 0,
  utc: 0,
  gmt: 0,
  z: 0,
  est: -300,
  edt: -240,
  cst: -360,
  cdt: -300,
  mst: -420,
  mdt: -360,
  pst: -480,
  pdt: -420,
  cet: 60,
  cest: 120,
  bst: 60,
  wet: 0,
  west: 60,
  eet: 120,
  eest: 180,
};
const LONGEST = 200;

function minutesOf(zone: string | undefined): number {
  const numeric = /^([+-])(\d\d):?(\d\d)$/.exec(zone ?? '');
  if (numeric !== null) return (numeric[1] === '-' ? -1 : 1) * (Number(numeric[2]) * 60 + Number(numeric[3]));
  // §4.3: an unknown zone is -0000, the time as it stands.
  return ZONES[(zone ?? '').toLowerCase()] ?? 0;
}

/** §4.3: 00 to 49 are of this century; three digits count from 1900. */
const fullYear = (digits: string): number =>
  digits.length > 3 ? Number(digits) : Number(digits) + (digits.length === 2 && Number(digits) < 50 ? 2000 : 1900);

const isSane = (date: Date): boolean =>
  !Number.isNaN(date.getTime()) && date.getUTCFullYear() >= 1970 && date.getUTCFullYear() < 10_000;

function ofRfc5322(text: string): Date | undefined {
  const match =
    /^(?:[a-z]{2,10}\.?,? )?(\d{1,2})[ -]([a-z]{3,9})\.?[ -](\d{2,4}),? (\d{1,2})[:.](\d\d)(?:[:.](\d\d)(?:\.\d{1,9})?)? ?([+-]\d\d:?\d\d|[a-z]{1,5})?/i.exec(
      text,
    );
  // C's asctime: Thu Nov 26 10:44:00 2026.
  const asctime =
    match === null
      ? /^[a-z]{3},? ([a-z]{3}) (\d{1,2}) (\d{1,2}):(\d\d):(\d\d) (?:([a-z]{1,5}|[+-]\d{4}) )?(\d{4})/i.exec(text)
      : null;
  const [day, name, year, hour, minute, second, zone] =
    match !== null
      ? match.slice(1)
      : asctime !== null
        ? [asctime[2], asctime[1], asctime[7], asctime[3], asctime[4], asctime[5], asctime[6]]
        : [];
  if (day === undefined || name === undefined || year === undefined) return undefined;
  const month = MONTHS.indexOf(name.slice(0, 3).toLowerCase());
  const [h, m, s] = [Number(hour), Number(minute), Math.min(59, Number(second ?? 0))];
  if (month < 0 || Number(day) < 1 || Number(day) > 31 || h > 24 || m > 59) return undefined;
  return new Date(Date.UTC(fullYear(year), month, Number(day), h, m, s) - minutesOf(zone) * 60_000);
}

const ofIso = (text: string): Date | undefined =>
  /^\d{4}-\d\d-\d\d([ T]\d\d:\d\d|$)/.test(text) ? new Date(text.replace(' ', 'T').replace(' ', '')) : undefined;

/** The instant that the value of a Date field means. */
export function readDate(value: string | undefined): Date | undefined {
  const text = (value ?? '')
    .slice(0, LONGEST)
    .replace(/\([^()]*\)/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/ ?, ?/, ', ')
    .trim();
  const date = ofRfc5322(text) ?? ofIso(text);
  return date !== undefined && isSane(date) ? date : undefined;
}
