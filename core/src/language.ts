/**
 * The languages of notices and readers' pages. A new one is a line in each list here and a catalogue beside each of
 * the others (docs/decisions/30-nine-languages.md).
 */
export const LANGUAGES = ['en', 'de', 'pt', 'fr', 'es', 'it', 'nl', 'pl', 'ar'] as const;
export type Language = (typeof LANGUAGES)[number];

/**
 * Whose ways of writing dates they follow. Digits are the European ones in Arabic, too: passcodes are typed with them.
 */
export const REGIONS: Record<Language, string> = {
  en: 'en-GB',
  de: 'de-DE',
  pt: 'pt-PT',
  fr: 'fr-FR',
  es: 'es-ES',
  it: 'it-IT',
  nl: 'nl-NL',
  pl: 'pl-PL',
  ar: 'ar-u-nu-latn',
};

/** As those who speak them call them. */
export const OWN_NAMES: Record<Language, string> = {
  en: 'English',
  de: 'Deutsch',
  pt: 'Português',
  fr: 'Français',
  es: 'Español',
  it: 'Italiano',
  nl: 'Nederlands',
  pl: 'Polski',
  ar: 'العربية',
};

export const directionOf = (language: Language): 'ltr' | 'rtl' => (language === 'ar' ? 'rtl' : 'ltr');

export const isLanguage = (text: string): text is Language => LANGUAGES.some((one) => one === text);

/** By the first part of a tag (RFC 5646): another language may begin with the same letters. */
export function languageOf(tag: string): Language | undefined {
  const [first = ''] = tag
    .trim()
    .toLowerCase()
    .split(/[^a-z]/, 1);
  return isLanguage(first) ? first : undefined;
}

/** The first of the browser's languages that we speak, else English. */
export const firstSpoken = (preferred: readonly string[]): Language =>
  preferred.map(languageOf).find((one) => one !== undefined) ?? 'en';

/** The attributes of a page in that language, as HTML spells them. */
export const spokenIn = (language: Language): string =>
  `lang="${language}"${directionOf(language) === 'rtl' ? ' dir="rtl"' : ''}`;
