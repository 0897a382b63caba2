/** What a plan still misses, in sentences: for its page, and for whoever writes in a mail program. */
import { closingProblem } from '../handling/closing-words';
import { firstLower } from '../first-letter';
import { type Missing } from '../locks/index';
import { type PasswordPlace } from '../passwords/place';
import { sizeInWords } from '../when';
import { type DeliveryPlan, type MessageMissing } from './delivery-plan';

export const missingWords: Record<Missing['code'], string> = {
  'phone-missing': 'Phone number for the passcode missing',
  'phone-is-yours': 'This is your own number: the passcode would come to you',
  'second-address-missing': 'Second address for the passcode missing',
  'second-address-is-the-same': 'The second address is the same as the first',
  'second-address-is-yours': 'The second address is your own',
  'question-missing': 'Question missing',
  'answer-missing': 'Answer to the question missing',
  'told-missing': 'No one-time password was made for them yet',
  'answer-too-short': 'The answer is too short: three letters or digits at least',
  'staff-only': 'An outsider, and this handling is for staff only',
  'outsiders-only': 'A colleague, and this handling is for outsiders only',
  'nobody-allowed': 'The handling contradicts itself: it is for staff only and for outsiders only',
  'certificate-missing': 'No certificate of theirs is known',
  'certificate-unusable': 'Their certificate can’t be used',
  'own-certificate-missing': 'Has to be signed, and you have no certificate to sign with yet. Get one under Keys',
  'key-missing': 'No OpenPGP key of theirs is known',
  'key-unusable': 'Their OpenPGP key can’t be used',
  'own-key-missing': 'Has to be signed, and you have no OpenPGP key to sign with yet. Make one under Keys',
  'copies-not-allowed': 'This handling allows no copies of their own',
  'password-missing': 'Password for the locked file missing',
  'password-weak': 'The password is too easy to guess: the office asks for a stronger one',
  'password-not-agreed': 'A rule of the office asks for a password that they have already',
  'password-in-mail': 'The password stands in this mail',
  'nothing-to-lock': 'Only files are to go, and there is none',
  'text-may-not-stay-open': 'This handling does not let the text stay readable: lock text and files together',
  'legacy-not-allowed': 'The office does not allow the legacy cipher',
  'file-too-large': 'Larger than their mail gateway takes',
  'colleague-key-changed':
    'Has another key here than when you first wrote to them. Ask them, by phone or in person, whether they set up their account anew',
  'nothing-leaves-open': 'This handling lets nothing leave open',
  'lock-not-allowed': 'A rule of the office does not let it go this way',
  'colleague-not-ready': 'Has not signed in yet, so nothing can be sealed to them. Ask them to sign in once',
};

export function messageMissingWords(missing: MessageMissing, now: Date, zone: string): string {
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
    case 'leaving-passed':
      return 'a time to leave that is still to come';
    case 'looking':
      return 'a moment: it is still being looked through';
    case 'reference-wanted':
      return 'a reference number';
    case 'reason-wanted':
      return 'a reason';
    case 'open-forbidden':
      return `a lock, as the rule “${missing.rule}” asks: it can’t leave open`;
    case 'nobody-releases':
      return 'somebody who may release it; an administrator says who, under Office › Colleagues';
    case 'stopped':
      return `what the rule “${missing.rule}” asks: it can’t go like this`;
    case 'unconfirmed':
      return `your answer to what the rule “${missing.rule}” asks`;
    case 'closing':
      return `a closing date (${closingProblem(missing.problem, missing.limit, now, zone).toLowerCase()})`;
  }
}

const passwordPlaces: Record<PasswordPlace, string> = {
  subject: 'the subject',
  text: 'the text',
  'file-name': 'a file’s name',
};

/** With where or how much, where that is known. */
export function missingSentence(missing: Missing): string {
  if (missing.code === 'password-in-mail')
    return `The password stands in ${passwordPlaces[missing.place]}: take it out, or choose another`;
  if (missing.code === 'file-too-large')
    return `Their mail gateway takes files of ${sizeInWords(missing.limit)} at most`;
  return missingWords[missing.code];
}

/** What still has to be settled, one after the other. Empty when it can go. */
export function unsettled(plan: DeliveryPlan, now: Date, zone: string): string[] {
  return [
    ...plan.missing.map((missing) => messageMissingWords(missing, now, zone)),
    ...plan.lines
      .filter(({ chosen }) => chosen.missing.length > 0)
      .map(
        ({ recipient, chosen }) =>
          `${recipient.name || recipient.address}: ${firstLower(missingSentence(chosen.missing[0]!))}`,
      ),
  ];
}
