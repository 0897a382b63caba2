/** The words of a registered reader's pages, in the language the reading room speaks. */
import { english, type ListWords } from '../words/list/en';
import { language } from '../words/words';

export let listWords: ListWords = english;

/** When a catalogue can't be fetched the pages speak English. */
export async function loadListWords(): Promise<void> {
  listWords = english;
  if (language === 'de')
    listWords = await import('../words/list/de').then(
      ({ german }) => german,
      () => english,
    );
  if (language === 'pt')
    listWords = await import('../words/list/pt').then(
      ({ portuguese }) => portuguese,
      () => english,
    );
}
