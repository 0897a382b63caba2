import { type ClosingKind } from '@under-lock/core/handling/closing-choice';
import {
  type Audience,
  type HandlingTerms,
  type IdentityCheck,
  type Right,
  RIGHTS,
  type WayKnown,
} from '@under-lock/core/handling/handling';
import { type Tightened } from '@under-lock/core/handling/preset';
import { momentInWords } from '@under-lock/core/when';

export const closingWords: Record<ClosingKind, string> = {
  'end-of-today': 'End of today',
  'end-of-week': 'End of the working week',
  'two-weeks': 'In two weeks',
  'end-of-month': 'End of the month',
  'end-of-quarter': 'End of the quarter',
  exact: 'A date and time',
};

export const checkWords: Record<WayKnown, string> = {
  text: 'Passcode by text message',
  voice: 'Passcode by voice call',
  email: 'Passcode by second e-mail',
  question: 'A question you both know the answer to',
  told: 'A one-time password you tell them',
  account: 'Signed in here',
  password: 'Their own password',
};
export const checkDetails: Record<IdentityCheck, string> = {
  text: 'Needs their mobile number',
  voice: 'Rings them and reads six digits out; works with a landline',
  email: 'Needs another address of theirs; weaker, if both mailboxes share a password',
  question: 'Needs nothing but the two of you; as strong as the answer is hard to guess',
  told: 'Eight digits that you read out to them; opens it once, for who has neither phone nor second mailbox',
};

export const rightWords: Record<Right, string> = {
  reply: 'reply',
  replyAll: 'reply to all',
  forward: 'forward',
  print: 'print',
  copy: 'copy text',
  save: 'save the files',
};
export const rightDetails: Record<Right, string> = {
  reply: 'The reply stays under lock',
  replyAll: 'To everybody in the message, under the same handling',
  forward: 'To one more person, never wider or longer than they have it themselves',
  print: 'A paper copy is out of your hands',
  copy: 'Otherwise the text can’t be selected; discourages, does not prevent',
  save: 'A saved file is out of your hands',
};
export const audienceWords: Record<Audience, string> = {
  anyone: 'Anyone',
  outsiders: 'Outsiders only',
  staff: 'Staff only',
  nobody: 'Nobody',
};

/** "a", "a and b", "a, b and c". */
export const listed = (words: readonly string[], last: 'and' | 'or'): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} ${last} ${words.at(-1)}`;

/** Names of the office's own making, as they are called. */
export const quoted = (names: readonly string[]): string =>
  listed(
    names.map((name) => `“${name}”`),
    'and',
  );

type Said = Pick<HandlingTerms, 'rights' | 'watermark' | 'copies' | 'clear' | 'audience'>;

/** What its readers may, and what else holds for it. */
export function termsSentence({ rights, watermark, copies, audience }: Said): string {
  const may = RIGHTS.filter((right) => rights[right]).map((right) => rightWords[right]);
  const mayNot = RIGHTS.filter((right) => !rights[right]).map((right) => rightWords[right]);
  const sayMay =
    may.length === 0
      ? 'They may only look'
      : `They may read, ${listed(may, 'and')}`.replace(/, ([^,]*)$/, may.length === 1 ? ' and $1' : ', $1');
  return [
    `${sayMay}${mayNot.length === 0 || may.length === 0 ? '' : `; not ${listed(mayNot, 'or')}`}.`,
    ...(watermark ? ['Their name and the time lie over it.'] : []),
    ...(copies
      ? [
          'Whoever has a certificate, an OpenPGP key or an agreed password may get a copy of their own, which can’t be closed or withdrawn.',
        ]
      : []),
    ...(audience === 'anyone' ? [] : [`${audienceWords[audience]}.`]),
  ].join(' ');
}

export const OPEN_SENTENCE =
  'Nothing in it is secret: it leaves as ordinary mail. Anybody on its way can read it, and nobody can close or withdraw it.';

/** The sentence that sums a handling up. */
export const handlingSentence = (closesAt: Date, terms: Said, now: Date, zone: string): string =>
  terms.clear ? OPEN_SENTENCE : `Readable until ${momentInWords(closesAt, now, zone)}. ${termsSentence(terms)}`;

/** What was made stricter than the worker chose, said with what it is now and why. */
export function tightenedWords(
  tightened: readonly Tightened[],
  terms: HandlingTerms,
  closesAt: Date | undefined,
  because: string,
  now: Date,
  zone: string,
): string[] {
  const off = tightened.filter((part): part is Right => (RIGHTS as readonly string[]).includes(part));
  return [
    ...(tightened.includes('closing') && closesAt !== undefined
      ? [`Closes ${momentInWords(closesAt, now, zone)}, ${because}.`]
      : []),
    ...(tightened.includes('check') ? [`${checkWords[terms.check]}, ${because}.`] : []),
    ...(tightened.includes('question') ? [`A question is asked besides, ${because}.`] : []),
    ...(off.length > 0
      ? [
          `They may not ${listed(
            off.map((right) => rightWords[right]),
            'or',
          )}, ${because}.`,
        ]
      : []),
    ...(tightened.includes('watermark') ? [`A watermark lies over it, ${because}.`] : []),
    ...(tightened.includes('copies') ? [`Nobody gets a copy of their own, ${because}.`] : []),
    ...(tightened.includes('clear') ? [`Nothing leaves readable, ${because}.`] : []),
    ...(tightened.includes('textOpen') ? [`The text may not stay readable beside locked files, ${because}.`] : []),
    ...(tightened.includes('audience') ? [`${audienceWords[terms.audience]}, ${because}.`] : []),
  ];
}
