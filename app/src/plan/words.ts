import { type LockName, type Missing, type Warning } from '@under-lock/core/locks/lock';
import { type DeliveryPlan, type MessageMissing } from '@under-lock/core/plan/plan';
import { sizeInWords } from '@under-lock/core/when';
import { closingProblem } from '../handling/words';
import { zone } from '../clock';

export const lockWords: Record<LockName, string> = { room: 'Reading room' };

export const missingWords: Record<Missing['code'], string> = {
  'phone-missing': 'Phone number for the passcode missing',
  'phone-is-yours': 'This is your own number: the passcode would come to you',
  'second-address-missing': 'Second address for the passcode missing',
  'second-address-is-the-same': 'The second address is the same as the first',
  'second-address-is-yours': 'The second address is your own',
};

export const warningWords = (warning: Warning): string =>
  warning.code === 'phone-of-another' ? `This number is known as ${warning.name}’s. Right all the same?` : `This address is known as ${warning.name}’s. Right all the same?`;

export function messageMissingWords(missing: MessageMissing, now: Date): string {
  switch (missing.code) {
    case 'no-recipients':
      return 'a recipient';
    case 'too-many-recipients':
      return `at most ${missing.limit} recipients`;
    case 'no-subject':
      return 'a subject';
    case 'nothing-written':
      return 'some text or a file';
    case 'too-large':
      return `files of ${sizeInWords(missing.limit)} at most, these are ${sizeInWords(missing.size)}`;
    case 'closing':
      return `a closing date (${closingProblem(missing.problem, missing.limit, now, zone).toLowerCase()})`;
  }
}

/** What still has to be settled, said on the button's line. Empty when it can go. */
export function unsettled(plan: DeliveryPlan, now: Date): string[] {
  return [
    ...plan.missing.map((missing) => messageMissingWords(missing, now)),
    ...plan.lines.filter(({ chosen }) => chosen.missing.length > 0).map(({ recipient, chosen }) => `${recipient.name || recipient.address}: ${missingWords[chosen.missing[0]!.code].toLowerCase()}`),
  ];
}
