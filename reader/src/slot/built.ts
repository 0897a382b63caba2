/** What the build makes of the slot's page for its script: its HTML and its words in each language. */
import { type Language } from '@under-lock/core/language';
import { type SlotWords } from '../words/slot/en';

export interface Spoken {
  html: string;
  words: SlotWords;
}
export type BuiltSlot = Record<Language, Spoken>;

/** Parts of the page that are shown in turn. */
export const STAGES = ['loading', 'form', 'code', 'busy', 'done', 'closed', 'trouble'] as const;
export type Stage = (typeof STAGES)[number];

/** The other parts that the script finds, by `data-at`. */
export type Part =
  | Stage
  | 'band'
  | 'intro'
  | 'more'
  | 'files'
  | 'file'
  | 'used'
  | 'sent'
  | 'progress'
  | 'bar'
  | 'finished'
  | 'number'
  | 'code-row'
  | 'answer-code'
  | 'code-text'
  | 'own-text'
  | 'copied'
  | 'problem'
  | 'error';

/** `{name}` filled in; what stands in a value is left as it is. */
export const filled = (text: string, values: Record<string, string>): string =>
  text.replace(/\{(\w+)\}/g, (whole, name: string) => values[name] ?? whole);
