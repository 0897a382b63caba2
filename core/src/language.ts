/**
 * The languages of notices and readers' pages. A new one is a catalogue in each of `core/src/notice` and
 * `reader/src/words`, and a line here.
 */
export const LANGUAGES = ['en', 'de', 'pt'] as const;
export type Language = (typeof LANGUAGES)[number];

/** Whose ways of writing dates they follow. */
export const REGIONS: Record<Language, string> = { en: 'en-GB', de: 'de-DE', pt: 'pt-PT' };

export const isLanguage = (text: string): text is Language => LANGUAGES.some((one) => one === text);

/** The first of the browser's languages that we speak, else English. */
export const firstSpoken = (preferred: readonly string[]): Language =>
  preferred.map((tag) => tag.slice(0, 2).toLowerCase()).find(isLanguage) ?? 'en';
