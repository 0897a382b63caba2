import { LANGUAGES, type Language, REGIONS } from '../language';
import { catalogue as english } from './words/en';
import { catalogue as german } from './words/de';
import { catalogue as portuguese } from './words/pt';
import { catalogue as french } from './words/fr';
import { catalogue as spanish } from './words/es';
import { catalogue as italian } from './words/it';
import { catalogue as dutch } from './words/nl';
import { catalogue as polish } from './words/pl';
import { catalogue as arabic } from './words/ar';
import { type NoticeWords } from './words/notice-words';

/**
 * What notices and passcodes say, by language. A new language is a new catalogue with the same keys; dates and plurals
 * come from Intl.
 */
const catalogues: Record<Language, NoticeWords> = {
  en: english,
  de: german,
  pt: portuguese,
  fr: french,
  es: spanish,
  it: italian,
  nl: dutch,
  pl: polish,
  ar: arabic,
};

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
