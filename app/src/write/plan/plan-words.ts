import { type Reason, type Warning } from '@under-lock/core/locks/index';
import { type DeliveryPlan } from '@under-lock/core/outgoing/delivery-plan';
import { dayInWords } from '@under-lock/core/when';
import { zone } from '../../clock';

/** Why a lock was chosen, and what it means. */
export const reasonWords: Record<Reason['code'], string> = {
  'nothing-needed-at-their-end': 'Needs nothing but a browser at their end',
  'can-be-closed-and-withdrawn': 'can be closed and withdrawn',
  'signed-in-here': 'A colleague: finds it in Received, no notice needed',
  'opens-in-their-program': 'Opens in their own mail program',
  'stays-with-them': 'it stays with them: it can’t be closed, withdrawn or limited',
  'signed-and-readable': 'Goes as ordinary mail with your signature; anybody on its way can read it',
  'opens-with-a-password': 'Opens with a password and nothing else',
  'goes-as-written': 'Goes as ordinary mail, neither locked nor signed; anybody on its way can read and change it',
  'packed-together': 'All files in one, for any unpacking program',
  'travels-as-a-file':
    'Comes with their mail as a file, and opens in the reading room with the half of the key that stays here',
  'has-a-password': 'Has a password here: finds it in their list, and a notice tells them',
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

/** What the button says that sends it. */
export function sendWords(lines: DeliveryPlan['lines'], clear: boolean, waitsForRelease: boolean): string {
  if (waitsForRelease) return 'Send for release';
  if (!clear) return 'Send under lock';
  const locks = new Set(lines.flatMap(({ chosen }) => (chosen.clear === true ? [chosen.lock] : [])));
  if (locks.has('open')) return 'Send open';
  return !locks.has('file') ? 'Send signed' : locks.size === 1 ? 'Send packed' : 'Send readable';
}
