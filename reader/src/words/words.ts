/** What the reader's pages say, by language; English first. A new language is a new file with the same keys. */
import { english } from './en';

export type ReaderWords = typeof english;

const catalogues: Record<string, ReaderWords> = { en: english };

const preferred = (): string => (typeof navigator === 'undefined' ? 'en' : navigator.language.slice(0, 2).toLowerCase());

export const language = catalogues[preferred()] === undefined ? 'en' : preferred();
export const words: ReaderWords = catalogues[language] ?? english;
