/** What a statement says in sentences: the same on its paper and in the check. */
import { cleanName } from '../people/address';
import { type DeliveredAccess, type DeliveredCopy, type StatedOpening, type StatedTelling } from './format';

/** An instant in words. */
export type Say = (instant: string) => string;

export const statedName = ({ name, address }: { name: string; address: string }): string =>
  cleanName(name) === '' ? address : `${cleanName(name)} <${address}>`;

export function openedSentence({ count, first, last }: StatedOpening, say: Say): string {
  if (count === 0 || first === undefined) return 'never opened';
  return count === 1 || last === undefined
    ? `opened once, ${say(first)}`
    : `opened ${count} times, first ${say(first)}, last ${say(last)}`;
}

const toldWords: Record<StatedTelling, (what: string) => string> = {
  waiting: (what) => `${what} had not been taken by their mail host yet`,
  accepted: (what) => `${what} was taken by their mail host`,
  junk: (what) => `${what} was taken by their mail host and filed as junk`,
  refused: (what) => `${what} was refused by their mail host`,
  bounced: (what) => `${what} came back`,
};
const answered = (answer: string | undefined): string => (answer === undefined ? '' : `, which answered “${answer}”`);
const when = (at: string | undefined, say: Say): string => (at === undefined ? '' : ` ${say(at)}`);

function toldSentence({ kind, state, at, answer }: DeliveredAccess['told'], say: Say): string {
  if (kind === 'list') return `It lay in their own list in the office${at === undefined ? '' : ` from ${say(at)}`}.`;
  return `${toldWords[state]('The notice')}${when(at, say)}${answered(answer)}.`;
}

const proofWords: Record<DeliveredAccess['proof']['kind'], string> = {
  text: 'a passcode sent by text message',
  voice: 'a passcode told in a call',
  email: 'a passcode sent to a second mailbox',
  question: 'the answer to a question',
  told: 'a one-time password told by the sender',
  password: 'a password of their own',
  account: 'their sign-in at the office',
};

/** One access: who was told, what they had to prove, whether they opened it and confirmed that, until when. */
export function accessSentences(access: DeliveredAccess, say: Say): string[] {
  const { told, proof, opened, confirmedAt, state, until } = access;
  const asked = `${proofWords[proof.kind]}${proof.question && proof.kind !== 'question' ? ' and the answer to a question' : ''}`;
  const ends = { held: 'Open until', withdrawn: 'Withdrawn by the sender', closed: 'Closed by its date' }[state];
  return [
    toldSentence(told, say),
    `Whoever opens it has passed ${asked}: ${openedSentence(opened, say)}.`,
    ...(confirmedAt === undefined ? [] : [`They confirmed having read it ${say(confirmedAt)}.`]),
    `${ends} ${say(until)}.`,
  ];
}

const lockWords: Record<string, string> = {
  certificate: 'Encrypted to their certificate',
  openpgp: 'Encrypted to their OpenPGP key',
  file: 'In a locked file',
};

export const copySentence = ({ lock, state, at, answer }: DeliveredCopy, say: Say): string =>
  `${lockWords[lock] ?? 'Under a lock of its own'}. ${toldWords[state]('The mail')}${when(at, say)}${answered(answer)}. Whether a copy was opened, nobody but its reader knows.`;
