import { type ClosingKind, type ClosingProblem } from '@under-lock/core/handling/closing';
import { type IdentityCheck, type Right } from '@under-lock/core/handling/handling';
import { dayInWords, momentInWords } from '@under-lock/core/when';

export const closingWords: Record<ClosingKind, string> = {
  'end-of-today': 'End of today',
  'end-of-week': 'End of the working week',
  'two-weeks': 'In two weeks',
  'end-of-month': 'End of the month',
  'end-of-quarter': 'End of the quarter',
  exact: 'A date and time',
};

export function closingProblem(problem: ClosingProblem, limit: Date | undefined, now: Date, zone: string): string {
  switch (problem) {
    case 'past':
      return 'That moment has passed';
    case 'not-a-date':
      return 'Choose a date and a time';
    case 'beyond-maximum':
      return limit === undefined ? 'Later than the office allows' : `The office allows ${dayInWords(limit, now, zone)} at the latest`;
  }
}

export const checkWords: Record<IdentityCheck, string> = { text: 'Passcode by text message', email: 'Passcode by second e-mail' };
export const rightWords: Record<Right, { on: string; off: string }> = { reply: { on: 'reply', off: 'reply' }, save: { on: 'save the files', off: 'save the files' } };

/** The sentence that sums a handling up. */
export function handlingSentence(closesAt: Date, rights: Record<Right, boolean>, now: Date, zone: string): string {
  const may = (Object.keys(rightWords) as Right[]).filter((right) => rights[right]).map((right) => rightWords[right].on);
  const mayNot = (Object.keys(rightWords) as Right[]).filter((right) => !rights[right]).map((right) => rightWords[right].off);
  const until = `Readable until ${momentInWords(closesAt, now, zone)}.`;
  const sayMay = may.length === 0 ? 'They may only read' : `They may read and ${may.join(' and ')}`;
  return `${until} ${sayMay}${mayNot.length === 0 || may.length === 0 ? '' : `; not ${mayNot.join(', not ')}`}.`;
}
