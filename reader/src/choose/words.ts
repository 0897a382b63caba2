/** The words of choosing, in the language the reading room speaks. */
import { catalogue as english, type ChooseWords } from '../words/choose/en';
import { spokenNow } from '../words/words';

export let chooseWords: ChooseWords = english;

export async function loadChooseWords(): Promise<void> {
  chooseWords = await spokenNow(english, {
    de: async () => (await import('../words/choose/de')).catalogue,
    pt: async () => (await import('../words/choose/pt')).catalogue,
    fr: async () => (await import('../words/choose/fr')).catalogue,
    es: async () => (await import('../words/choose/es')).catalogue,
    it: async () => (await import('../words/choose/it')).catalogue,
    nl: async () => (await import('../words/choose/nl')).catalogue,
    pl: async () => (await import('../words/choose/pl')).catalogue,
    ar: async () => (await import('../words/choose/ar')).catalogue,
  });
}
