/**
 * What the reader's pages say, by language; English is there at once, the others are fetched before the first page is
 * drawn.
 */
import { directionOf, firstSpoken, type Language } from '@under-lock/core/language';
import { catalogue as english, type RoomWords } from './room/en';

export let language: Language = 'en';
export let words: RoomWords = english;

type Catalogues = Record<Exclude<Language, 'en'>, () => Promise<RoomWords>>;
const catalogues: Catalogues = {
  de: async () => (await import('./room/de')).catalogue,
  pt: async () => (await import('./room/pt')).catalogue,
  fr: async () => (await import('./room/fr')).catalogue,
  es: async () => (await import('./room/es')).catalogue,
  it: async () => (await import('./room/it')).catalogue,
  nl: async () => (await import('./room/nl')).catalogue,
  pl: async () => (await import('./room/pl')).catalogue,
  ar: async () => (await import('./room/ar')).catalogue,
};

// The one asked for last: a catalogue that comes late must not speak over it.
let wanted: Language = 'en';

/** Has the pages speak `next`; English when its catalogue can't be fetched. */
export async function speak(next: Language, from: Catalogues = catalogues): Promise<void> {
  wanted = next;
  const catalogue = next === 'en' ? english : await from[next]().catch(() => undefined);
  if (wanted !== next) return;
  language = catalogue === undefined ? 'en' : next;
  words = catalogue ?? english;
}

/** Words of some pages only, in the language spoken now; English when they can't be fetched. */
export const spokenNow = async <Words>(
  inEnglish: Words,
  from: Record<Exclude<Language, 'en'>, () => Promise<Words>>,
): Promise<Words> => (language === 'en' ? inEnglish : from[language]().catch(() => inEnglish));

/** A link that leads back, with its arrow on the side where lines begin. */
export const backTo = (where: string): string => `${directionOf(language) === 'rtl' ? '›' : '‹'} ${where}`;

/** When the catalogue of the browser's language can't be fetched the page speaks English. */
export const chooseLanguage = (preferred: readonly string[]): Promise<void> => speak(firstSpoken(preferred));
