/**
 * The language a reader has chosen on one of our pages goes before those of their browser. Used by scripts that come
 * before the reading page, so it has nothing but the list of languages.
 */
import { directionOf, isLanguage, type Language } from '@under-lock/core/language';

const KEY = 'language';

/** What the reader wants to be spoken to in, the best first. */
export function wantedLanguages(): readonly string[] {
  try {
    const chosen = localStorage.getItem(KEY);
    return chosen === null ? navigator.languages : [chosen, ...navigator.languages];
  } catch {
    // A browser that keeps nothing for us.
    return navigator.languages;
  }
}

/** Keeps the choice in this browser, and has the page come anew in it. */
export function chooseForGood(language: string): void {
  if (!isLanguage(language)) return;
  try {
    localStorage.setItem(KEY, language);
  } catch {
    return;
  }
  window.location.reload();
}

/** On a page that is HTML and no React: its choice of language does something. */
export function onLanguage(within: ParentNode, choose: (language: string) => void): void {
  const choice = within.querySelector<HTMLSelectElement>('select');
  choice?.addEventListener('change', () => choose(choice.value));
}

/** For screen readers, hyphenation and the side that lines begin on. */
export function speakAs(language: Language): void {
  document.documentElement.lang = language;
  document.documentElement.dir = directionOf(language);
}
