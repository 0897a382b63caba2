/**
 * What the reader's pages say, by language; English is there at once, the others are fetched before the first page is
 * drawn.
 */
import { firstSpoken, type Language } from '@under-lock/core/language';
import { english, type ReaderWords } from './en';

export let language: Language = 'en';
export let words: ReaderWords = english;

type Catalogues = Record<Exclude<Language, 'en'>, () => Promise<ReaderWords>>;
const catalogues: Catalogues = {
  de: async () => (await import('./de')).german,
  pt: async () => (await import('./pt')).portuguese,
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

/** When the catalogue of the browser's language can't be fetched the page speaks English. */
export const chooseLanguage = (preferred: readonly string[]): Promise<void> => speak(firstSpoken(preferred));
