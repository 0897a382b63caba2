/** The words of the page that asks for a carried page's file, in the language the reading room speaks. */
import { catalogue as english, type CarriedWords } from '../words/carried/en';
import { spokenNow } from '../words/words';

export let carriedWords: CarriedWords = english;

export async function loadCarriedWords(): Promise<void> {
  carriedWords = await spokenNow(english, {
    de: async () => (await import('../words/carried/de')).catalogue,
    pt: async () => (await import('../words/carried/pt')).catalogue,
    fr: async () => (await import('../words/carried/fr')).catalogue,
    es: async () => (await import('../words/carried/es')).catalogue,
    it: async () => (await import('../words/carried/it')).catalogue,
    nl: async () => (await import('../words/carried/nl')).catalogue,
    pl: async () => (await import('../words/carried/pl')).catalogue,
    ar: async () => (await import('../words/carried/ar')).catalogue,
  });
}
