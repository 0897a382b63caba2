import { type Missing, type Reason, type Warning } from '@under-lock/core/locks/index';
import { type PasswordPlace } from '@under-lock/core/passwords/place';
import { type DeliveryPlan, type MessageMissing } from '@under-lock/core/outgoing/delivery-plan';
import { dayInWords, sizeInWords } from '@under-lock/core/when';
import { closingProblem } from '../../handling/words';
import { zone } from '../../clock';
import { firstLower } from '../../first-letter';

/** Why a lock was chosen, and what it means. */
export const reasonWords: Record<Reason['code'], string> = {
  'nothing-needed-at-their-end': 'Needs nothing but a browser at their end',
  'can-be-closed-and-withdrawn': 'can be closed and withdrawn',
  'signed-in-here': 'A colleague: finds it in Received, no notice needed',
  'opens-in-their-program': 'Opens in their own mail program',
  'stays-with-them': 'it stays with them: it can’t be closed, withdrawn or limited',
  'signed-and-readable': 'Goes as ordinary mail with your signature; anybody on its way can read it',
  'opens-with-a-password': 'Opens with a password and nothing else',
  'packed-together': 'All files in one, for any unpacking program',
  'travels-as-a-file':
    'Comes with their mail as a file, and opens in the reading room with the half of the key that stays here',
  'has-a-password': 'Has a password here: finds it in their list, and a notice tells them',
};

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
  'password-in-mail': 'The password stands in this mail',
  'nothing-to-lock': 'Only files are to go, and there is none',
  'text-may-not-stay-open': 'This handling does not let the text stay readable: lock text and files together',
  'legacy-not-allowed': 'The office does not allow the legacy cipher',
  'file-too-large': 'Larger than their mail gateway takes',
  'colleague-key-changed':
    'Has another key here than when you first wrote to them. Ask them, by phone or in person, whether they set up their account anew',
  'lock-not-allowed': 'A rule of the office does not let it go this way',
  'colleague-not-ready': 'Has not signed in yet, so nothing can be sealed to them. Ask them to sign in once',
};

const places = { question: 'the question', message: 'the message', name: 'their name or address' } as const;

export function warningWords(warning: Warning): string {
  switch (warning.code) {
    case 'phone-of-another':
      return `This number is known as ${warning.name}’s. Right all the same?`;
    case 'second-address-of-another':
      return `This address is known as ${warning.name}’s. Right all the same?`;
    case 'certificate-unchecked':
      return 'Nobody could be asked whether their certificate has been revoked.';
    case 'certificate-runs-out':
      return `Their certificate runs out before the closing date, on ${dayInWords(warning.at, new Date(0), zone)}. What they have got stays readable.`;
    case 'key-unchecked':
      return 'Nobody has compared their key with them, and nobody the office trusts vouches for it.';
    case 'key-runs-out':
      return `Their key runs out before the closing date, on ${dayInWords(warning.at, new Date(0), zone)}. What they have got stays readable.`;
    case 'goes-unsigned':
      return 'Goes encrypted and not signed: no key of yours can sign for this address. Get one under Keys, or choose the reading room';
    case 'older-format':
      return 'Their program reads the older OpenPGP format only, so nobody’s copy goes in the newer one.';
    case 'text-stays-open':
      return 'Subject and text stay readable for anybody on their way; only the files are locked.';
    case 'legacy-cipher':
      return 'The legacy cipher is weak: whoever wants to breaks it in hours, whatever the password.';
    case 'pdf-rights-discourage':
      return 'That they may not print or copy is marked in the PDF, and only discourages: programs keep to it or not.';
    case 'names-visible':
      return 'Anybody on its way can read what the files are called.';
    case 'only-packed':
      return 'Not protected: anybody on its way can read the files.';
    case 'answer-stands-in':
      return `The answer stands in ${places[warning.place]}. Choose one that nobody can read anywhere.`;
  }
}

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

/** What the button says that sends it. */
export function sendWords(lines: DeliveryPlan['lines'], clear: boolean, waitsForRelease: boolean): string {
  if (waitsForRelease) return 'Send for release';
  if (!clear) return 'Send under lock';
  const packed = lines.filter(({ chosen }) => chosen.clear === true && chosen.lock === 'file').length;
  return packed === 0 ? 'Send signed' : packed === lines.length ? 'Send packed' : 'Send readable';
}

/** With where or how much, where that is known. */
export function missingSentence(missing: Missing): string {
  if (missing.code === 'password-in-mail')
    return `The password stands in ${passwordPlaces[missing.place]}: take it out, or choose another`;
  if (missing.code === 'file-too-large')
    return `Their mail gateway takes files of ${sizeInWords(missing.limit)} at most`;
  return missingWords[missing.code];
}

/** What still has to be settled, said on the button's line. Empty when it can go. */
export function unsettled(plan: DeliveryPlan, now: Date): string[] {
  return [
    ...plan.missing.map((missing) => messageMissingWords(missing, now)),
    ...plan.lines
      .filter(({ chosen }) => chosen.missing.length > 0)
      .map(
        ({ recipient, chosen }) =>
          `${recipient.name || recipient.address}: ${firstLower(missingSentence(chosen.missing[0]!))}`,
      ),
  ];
}
