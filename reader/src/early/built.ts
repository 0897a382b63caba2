/** What the build makes of the asking page for the early script: HTML and words by language, with places to fill. */
import { type Language } from '@under-lock/core/language';

/** Private use characters, which stand nowhere in our words. */
const [FROM, TO] = ['\uE000', '\uE001'];
export const PLACE = new RegExp(`${FROM}(\\w+)${TO}`, 'g');

export const PLACES = [
  'office',
  'sender',
  'address',
  'date',
  'distance',
  'hint',
  'asked',
  'sent',
  'send',
  'wait',
  'question',
] as const;
export type Place = (typeof PLACES)[number];
export const place = (name: Place): string => `${FROM}${name}${TO}`;

/** By what is asked: a passcode, a passcode and a question, a question; before the passcode was sent, and after. */
export const STAGES = ['passcode', 'passcode-sent', 'both', 'both-sent', 'question'] as const;
export type Stage = (typeof STAGES)[number];

export interface EarlyWords {
  /** Of the window. */
  title: string;
  /** What buttons and fields are found by. */
  labels: { open: string; notMine: string; otherWay: string; passcode: string; answer: string };
  ways: Record<'text' | 'voice' | 'email', Record<'asked' | 'sent' | 'send', string>>;
  pages: Record<Stage, string>;
}
export type Early = Record<Language, EarlyWords>;

/** The container of the early page, and its class while it asks: the reading page's own is out of sight behind it then. */
export const EARLY_ID = 'early';
export const ASKS = 'asks';
