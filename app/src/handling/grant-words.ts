import { type EventKind, type Grant, type MessageEvent, type SentCopy } from '@under-lock/contract/outgoing';
import { momentInWords } from '@under-lock/core/when';
import { type StateTone } from '@under-lock/ui';
import { zone } from '../clock';

/** Whoever a reader named is shown by their address: what that reader calls them is no word of ours. */
export const who = ({ name, address, passedOn }: { name: string; address: string; passedOn?: unknown }): string =>
  passedOn === undefined ? name || address : address;

interface Mark {
  tone: StateTone;
  word: string;
}
/** Of what has not left yet: nothing is on its way to anybody. */
export const NOT_LEFT: Mark = { tone: 'wants', word: 'Not left yet' };

/** One word and a form for where an access stands; `leaving` while its message waits to leave. */
export function grantMark(grant: Grant, leaving = false): Mark {
  if (grant.state === 'withdrawn') return { tone: 'over', word: 'Withdrawn' };
  if (grant.state === 'closed') return { tone: 'over', word: 'Closed' };
  if (leaving) return NOT_LEFT;
  if (grant.lost !== undefined) return { tone: 'stopped', word: 'Password forgotten' };
  if (grant.stopped || grant.pausedUntil !== undefined) return { tone: 'stopped', word: 'Passcode stopped' };
  if (grant.opened.here > 0) return { tone: 'done', word: 'Opened' };
  if (grant.opened.count > 0) return { tone: 'wants', word: 'Opened before' };
  switch (grant.notice.state) {
    case 'bounced':
      return { tone: 'stopped', word: 'Bounced' };
    case 'refused':
      return { tone: 'stopped', word: 'Refused' };
    case 'junk':
      return { tone: 'wants', word: 'In junk' };
    case 'waiting':
      return { tone: 'wants', word: 'Not told yet' };
    case 'accepted':
      return { tone: 'wants', word: 'Not opened' };
  }
}

export function noticeWords({ notice, check }: Grant, now: Date, leaving = false): string {
  if (leaving) return check.kind === 'account' ? 'In their Received when it leaves' : 'Told when it leaves';
  const at = notice.at === undefined ? '' : ` ${momentInWords(notice.at, now, zone)}`;
  if (check.kind === 'account') return `In their Received since${at}`;
  switch (notice.state) {
    case 'waiting':
      return notice.answer === undefined
        ? 'Notice on its way'
        : `Notice not taken yet, trying again (${notice.answer})`;
    case 'accepted':
      return `Told${at}`;
    case 'junk':
      return `Told${at}, filed as junk by their mail host`;
    case 'refused':
      return `Notice refused${at}. ${notice.answer === undefined ? 'Their mail host gave no reason.' : `Their mail host says: “${notice.answer}”`}`;
    case 'bounced':
      return `Notice came back${at}. ${notice.answer === undefined ? 'The report gives no reason.' : `The report says: “${notice.answer}”`}`;
  }
}

export function openedWords({ opened }: Grant, now: Date): string {
  if (opened.count === 0 || opened.first === undefined || opened.last === undefined) return 'never opened';
  if (opened.count === 1) return `opened once, ${momentInWords(opened.first, now, zone)}`;
  return `opened ${opened.count} times, first ${momentInWords(opened.first, now, zone)}, last ${momentInWords(opened.last, now, zone)}`;
}

/** With how it goes on after {@link openedWords}. */
export const confirmedWords = ({ confirmedAt }: Grant, now: Date): string =>
  confirmedAt === undefined ? '' : `, and confirmed having read it ${momentInWords(confirmedAt, now, zone)}`;

export function endWords(grant: Grant, now: Date): string {
  if (grant.state === 'held') return `open until ${momentInWords(grant.closesAt, now, zone)}`;
  const at = grant.endedAt === undefined ? '' : ` ${momentInWords(grant.endedAt, now, zone)}`;
  return grant.state === 'withdrawn' ? `withdrawn${at}` : `closed${at}`;
}

const sentences: Record<EventKind, (name: string, event: MessageEvent, now: Date) => string> = {
  dispatched: () => 'You sent it',
  'let-go': (name) => `${name} released it`,
  'notice-accepted': (name) => `${name} was told`,
  'notice-junk': (name) => `${name}’s mail host filed the notice as junk`,
  'notice-refused': (name) => `${name}’s mail host refused the notice`,
  'notice-bounced': (name) => `The notice to ${name} came back`,
  'notice-again': (name) => `You had ${name} told again`,
  'passcode-sent': (name) => `A passcode was sent to ${name}`,
  'passcode-failed': (name) => `A passcode for ${name} could not be sent`,
  'passcode-wrong': (name) => `${name}: a wrong passcode`,
  'passcode-paused': (name) => `${name}: too many wrong passcodes, stopped for a while`,
  'answer-wrong': (name) => `${name}: a wrong answer`,
  'passcode-stopped': (name) => `${name} used up all tries; nobody can try until you let them`,
  'tries-renewed': (name) => `You let ${name} try again`,
  reminded: (name) => `${name} was reminded`,
  'receipt-sent': (name) => `You got a receipt for ${name}’s first opening`,
  confirmed: (name) => `${name} confirmed having read it`,
  chose: (name) => `${name} chose how to be written to from now on`,
  'passed-on': (name) => `It was passed on to ${name}`,
  replied: (name) => `${name} replied`,
  opened: (name) => `${name} opened it`,
  saved: (name) => `${name} saved a file`,
  printed: (name) => `${name} printed it`,
  'other-way-asked': (name) => `${name} asked for another way to prove who they are`,
  'not-for-me': (name) => `Somebody with ${name}’s link said it is not for them`,
  'closing-moved': (name, event, now) =>
    `You moved the closing date for ${name}${event.closesAt === undefined ? '' : ` to ${momentInWords(event.closesAt, now, zone)}`}`,
  'channel-changed': (name) => `You changed where ${name}’s passcode goes`,
  withdrawn: (name, event) =>
    `You withdrew it from ${name}, who ${event.hadOpened === true ? 'had opened it' : 'had never opened it'}`,
  closed: (name, event) =>
    `It closed for ${name}, who ${event.hadOpened === true ? 'had opened it' : 'had never opened it'}`,
  'reader-added': (name) => `You let ${name} read it, too`,
  'given-again': (name) => `You gave ${name} access again`,
  'password-lost': (name) =>
    `${name} has forgotten or removed their password: it opens for nobody until you give it again`,
  'give-again-asked': (name) => `${name} asks you to give it again`,
  'delivery-stated': () => 'You made a signed statement of its delivery',
  'statement-made': () => 'You made a signed statement of what had ended',
  'copy-accepted': (name) => `${name}’s mail host took their copy`,
  'copy-junk': (name) => `${name}’s mail host filed their copy as junk`,
  'copy-refused': (name) => `${name}’s mail host refused their copy`,
  'copy-bounced': (name) => `The copy to ${name} came back`,
  purged: () => 'The sealed content was deleted',
};

const timesWords = ({ times, from }: MessageEvent, now: Date): string =>
  times === undefined || from === undefined ? '' : `, ${times} times since ${momentInWords(from, now, zone)}`;

export const eventWords = (event: MessageEvent, name: string, now: Date): string =>
  `${sentences[event.kind](name, event, now)}${timesWords(event, now)}`;

const copyWords: Record<SentCopy['state'], { tone: StateTone; word: string }> = {
  waiting: { tone: 'wants', word: 'On its way' },
  accepted: { tone: 'done', word: 'Copy delivered' },
  junk: { tone: 'wants', word: 'Filed as junk' },
  refused: { tone: 'stopped', word: 'Copy refused' },
  bounced: { tone: 'stopped', word: 'Copy came back' },
};
export const copyMark = ({ state }: Pick<SentCopy, 'state'>, leaving = false): Mark =>
  leaving ? NOT_LEFT : copyWords[state];
const WORST = ['bounced', 'refused', 'junk', 'waiting', 'accepted'] as const;
/** The worst news of several copies. */
export const copiesMark = (copies: readonly SentCopy[]): { tone: StateTone; word: string } =>
  copyMark({ state: WORST.find((state) => copies.some((one) => one.state === state)) ?? 'waiting' });
