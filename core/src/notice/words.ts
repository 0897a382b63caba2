import { dateFormat } from '../kept-formats';
import { LANGUAGES, type Language, REGIONS } from '../language';
import { catalogue as en } from './words/en';
import { catalogue as de } from './words/de';
import { catalogue as pt } from './words/pt';
import { catalogue as fr } from './words/fr';
import { catalogue as es } from './words/es';
import { catalogue as it } from './words/it';
import { catalogue as nl } from './words/nl';
import { catalogue as pl } from './words/pl';
import { catalogue as ar } from './words/ar';
import { type NoticeWords } from './words/notice-words';

/**
 * What notices and passcodes say, by language. A new language is a new catalogue with the same keys; dates and plurals
 * come from Intl.
 */
const catalogues: Record<Language, NoticeWords> = { en, de, pt, fr, es, it, nl, pl, ar };

export const noticeWords = (language: string): NoticeWords =>
  catalogues[LANGUAGES.find((one) => one === language) ?? 'en'];

/** "Thu 3 December 2026, 17:00 (Europe/Lisbon)", in each language's own way. */
export function dateInWords(instant: Date, zone: string, language: string): string {
  const region = REGIONS[LANGUAGES.find((one) => one === language) ?? 'en'];
  const day = dateFormat(region, {
    weekday: 'short',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: zone,
  }).format(instant);
  const time = dateFormat(region, {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    timeZone: zone,
  }).format(instant);
  // British short dates put a comma behind the weekday; we write none.
  return `${region === REGIONS.en ? day.replace(',', '') : day}, ${time} (${zone.replace('_', ' ')})`;
}
