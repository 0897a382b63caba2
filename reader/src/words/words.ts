/** What the reader's pages say, by language; English is there at once, the others are fetched before the first page is drawn. */
import { isLanguage, type Language } from '@under-lock/core/people/language';
import { english, type ReaderWords } from './en';

export let language: Language = 'en';
export let words: ReaderWords = english;

const catalogues: Record<Exclude<Language, 'en'>, () => Promise<ReaderWords>> = {
  de: async () => (await import('./de')).german,
  pt: async () => (await import('./pt')).portuguese,
};

/** The first of the browser's languages that we speak. When its catalogue can't be fetched the page speaks English. */
export async function chooseLanguage(preferred: readonly string[]): Promise<void> {
  const wanted = preferred.map((tag) => tag.slice(0, 2).toLowerCase()).find(isLanguage);
  if (wanted === undefined || wanted === 'en') return;
  const catalogue = await catalogues[wanted]().catch(() => undefined);
  if (catalogue === undefined) return;
  language = wanted;
  words = catalogue;
}
