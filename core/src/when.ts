import { dateFormat, distanceFormat } from './kept-formats';
import { isLanguage, REGIONS } from './language';

/** Instants in words, by Intl: the weekday always, the year only when it is another one. */
const region = (language: string): string => (isLanguage(language) ? REGIONS[language] : language);

const partsOf = (instant: Date, language: string, options: Intl.DateTimeFormatOptions): ((type: string) => string) => {
  const parts = dateFormat(region(language), options).formatToParts(instant);
  return (type) => parts.find((part) => part.type === type)?.value ?? '';
};

/** "Thu 3 Dec", with the year when it is not the year of `now`. */
export function dayInWords(instant: Date, now: Date, zone: string, language = 'en'): string {
  const part = partsOf(instant, language, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    timeZone: zone,
  });
  const thisYear = partsOf(now, language, { year: 'numeric', timeZone: zone })('year');
  if (language !== 'en') {
    return dateFormat(region(language), {
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      timeZone: zone,
      ...(part('year') === thisYear ? {} : { year: 'numeric' }),
    }).format(instant);
  }
  // British "Sept" is the one month Intl spells with four letters; three line up.
  const day = `${part('weekday')} ${part('day')} ${part('month').replace(/^Sept$/, 'Sep')}`;
  return part('year') === thisYear ? day : `${day} ${part('year')}`;
}

/** "17:00". */
export function timeInWords(instant: Date, zone: string, language = 'en'): string {
  const part = partsOf(instant, language, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23', timeZone: zone });
  return `${part('hour')}:${part('minute')}`;
}

/** What stands between parts of a sentence. */
export const commaIn = (language: string): string => (language === 'ar' ? '،' : ',');

/** "Thu 3 Dec, 17:00". */
export const momentInWords = (instant: Date, now: Date, zone: string, language = 'en'): string =>
  `${dayInWords(instant, now, zone, language)}${commaIn(language)} ${timeInWords(instant, zone, language)}`;

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** The number of a calendar day in `zone`, counted from 1970. */
function dayNumber(instant: Date, zone: string): number {
  const part = partsOf(instant, 'en', { year: 'numeric', month: 'numeric', day: 'numeric', timeZone: zone });
  return Date.UTC(Number(part('year')), Number(part('month')) - 1, Number(part('day'))) / DAY;
}

const WEEK = 7;

/** As short as a list has room for: "14:05" today, "Wed" within a week, "12 Nov", "12 Nov 2025" in another year. */
export function listedInWords(instant: Date, now: Date, zone: string): string {
  const days = dayNumber(instant, zone) - dayNumber(now, zone);
  if (days === 0) return timeInWords(instant, zone);
  const [weekday, ...date] = dayInWords(instant, now, zone).split(' ');
  return Math.abs(days) < WEEK ? weekday! : date.join(' ');
}

/**
 * "in 9 days", "5 minutes ago": minutes below two hours, hours below two days, then days as the calendar of `zone`
 * counts them, weeks from six weeks on.
 */
export function distanceInWords(instant: Date, now: Date, zone: string, language = 'en'): string {
  const distance = instant.getTime() - now.getTime();
  const size = Math.abs(distance);
  const format = distanceFormat(region(language));
  if (size < 2 * HOUR) return format.format(Math.trunc(distance / MINUTE), 'minute');
  if (size < 2 * DAY) return format.format(Math.trunc(distance / HOUR), 'hour');
  const days = dayNumber(instant, zone) - dayNumber(now, zone);
  return size < 42 * DAY ? format.format(days, 'day') : format.format(Math.round(days / 7), 'week');
}

/** "2.9 MB", decimal as limits are. */
export function sizeInWords(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  return `${(bytes / 1_000_000).toFixed(1).replace(/\.0$/, '')} MB`;
}

const knownZones = new Set<string>();

/** Whether a time zone of this name is known. */
export function isZone(zone: string): boolean {
  // To make a formatter is some thousand times slower, and each desk asks.
  if (knownZones.has(zone)) return true;
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    knownZones.add(zone);
    return true;
  } catch {
    return false;
  }
}
