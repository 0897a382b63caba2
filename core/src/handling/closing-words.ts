import { dayInWords } from '../when';
import { type ClosingProblem } from './closing';

export function closingProblem(problem: ClosingProblem, limit: Date | undefined, now: Date, zone: string): string {
  switch (problem) {
    case 'past':
      return 'That moment has passed';
    case 'not-a-date':
      return 'Choose a date and a time';
    case 'beyond-maximum':
      return limit === undefined
        ? 'Later than the office allows'
        : `The office allows ${dayInWords(limit, now, zone)} at the latest`;
  }
}
