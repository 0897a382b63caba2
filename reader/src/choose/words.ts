/** The words of choosing, in the language the reading room speaks. */
import { english, type ChooseWords } from '../words/choose/en';
import { language } from '../words/words';

export let chooseWords: ChooseWords = english;

/** When a catalogue can't be fetched the page speaks English. */
export async function loadChooseWords(): Promise<void> {
  chooseWords = english;
  if (language === 'de')
    chooseWords = await import('../words/choose/de').then(
      ({ german }) => german,
      () => english,
    );
  if (language === 'pt')
    chooseWords = await import('../words/choose/pt').then(
      ({ portuguese }) => portuguese,
      () => english,
    );
}
