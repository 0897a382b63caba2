/** Four presets for an office that has none yet, to take or leave and to change afterwards. */
import { NO_RIGHTS } from './handling';
import { type PresetTerms } from './preset';

export interface Starter {
  name: string;
  sentence: string;
  terms: PresetTerms;
}

const keptTo = { closing: false, identity: false, rights: false };
const plain = {
  question: false,
  copies: false,
  clear: false,
  textOpen: false,
  receipt: false,
  remindHours: 0,
} as const;

/** The first is meant as the default. */
export const STARTERS: readonly Starter[] = [
  {
    name: 'Ordinary business',
    sentence: 'For what should not lie about in mailboxes: the reader may answer, print and keep it.',
    terms: {
      ...plain,
      closing: { kind: 'two-weeks' },
      check: 'text',
      rights: { reply: true, replyAll: true, forward: false, print: true, copy: true, save: true },
      watermark: false,
      copies: true,
      audience: 'anyone',
      mayLoosen: { closing: true, identity: true, rights: false },
    },
  },
  {
    name: 'About a person',
    sentence: 'For health, pay, applications and whatever else is somebody’s own: read and answered, never kept.',
    terms: {
      ...plain,
      closing: { kind: 'two-weeks' },
      check: 'text',
      rights: { ...NO_RIGHTS, reply: true, copy: true },
      watermark: false,
      audience: 'anyone',
      receipt: true,
      remindHours: 48,
      mayLoosen: keptTo,
    },
  },
  {
    name: 'Strictly between us',
    sentence: 'For what would do harm elsewhere: a passcode and a question only the reader can answer, for a few days.',
    terms: {
      ...plain,
      closing: { kind: 'end-of-week' },
      check: 'text',
      question: true,
      rights: { ...NO_RIGHTS, reply: true },
      watermark: true,
      audience: 'anyone',
      receipt: true,
      mayLoosen: keptTo,
    },
  },
  {
    name: 'Among colleagues',
    sentence: 'For what stays in the house: nobody outside can be written to.',
    terms: {
      ...plain,
      closing: { kind: 'end-of-month' },
      check: 'question',
      rights: { ...NO_RIGHTS, reply: true, replyAll: true, copy: true },
      watermark: false,
      audience: 'staff',
      mayLoosen: { ...keptTo, closing: true },
    },
  },
];
