/** The words of a registered reader's pages, in the language the reading room speaks. */
import { catalogue as english, type ListWords } from '../words/list/en';
import { spokenNow } from '../words/words';

export let listWords: ListWords = english;

export async function loadListWords(): Promise<void> {
  listWords = await spokenNow(english, {
    de: async () => (await import('../words/list/de')).catalogue,
    pt: async () => (await import('../words/list/pt')).catalogue,
    fr: async () => (await import('../words/list/fr')).catalogue,
    es: async () => (await import('../words/list/es')).catalogue,
    it: async () => (await import('../words/list/it')).catalogue,
    nl: async () => (await import('../words/list/nl')).catalogue,
    pl: async () => (await import('../words/list/pl')).catalogue,
    ar: async () => (await import('../words/list/ar')).catalogue,
  });
}
