import { LANGUAGES, type Language, REGIONS } from '../language';
import { english } from './english';
import { german } from './german';
import { type NoticeWords } from './notice-words';
import { portuguese } from './portuguese';

/**
 * What notices and passcodes say, by language. A new language is a new catalogue with the same keys; dates and plurals
 * come from Intl.
 */
const catalogues: Record<Language, NoticeWords> = { en: english, de: german, pt: portuguese };

export const noticeWords = (language: string): NoticeWords =>
  catalogues[LANGUAGES.find((one) => one === language) ?? 'en'];

/** "Thu 3 December 2026, 17:00 (Europe/Lisbon)", in each language's own way. */
export function dateInWords(instant: Date, zone: string, language: string): string {
  const region = REGIONS[LANGUAGES.find((one) => one === language) ?? 'en'];
  const day = new Intl.DateTimeFormat(region, {
    weekday: 'short',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: zone,
  }).format(instant);
  const time = new Intl.DateTimeFormat(region, {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    timeZone: zone,
  }).format(instant);
  // British short dates put a comma behind the weekday; we write none.
  return `${region === REGIONS.en ? day.replace(',', '') : day}, ${time} (${zone.replace('_', ' ')})`;
}
