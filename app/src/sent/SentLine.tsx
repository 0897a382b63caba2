/** A sent message in a list: who can read it, the worst news and what is left of its time. */
import { distanceInWords, listedInWords, momentInWords } from '@under-lock/core/when';
import { StateMark } from '@under-lock/ui';
import { LockShape, type Shape } from '@under-lock/ui/lock-shape';
import { type ReactNode } from 'react';
import { zone } from '../clock';
import { lockShapes } from '../locks/lock-words';
import { ListLine } from '../shell/ListLine';
import { copiesMark, grantMark, NOT_LEFT, who } from '../handling/grant-words';
import { latestClosing, type Sent, subjectOf } from './useSent';

/** What stands for a whole message in a list: the worst news first. */
function messageMark(message: Sent, now: Date) {
  const order = { stopped: 0, wants: 1, done: 2, over: 3 } as const;
  const open = message.grants.filter(({ state }) => state === 'held');
  if (message.sentAt > now) return NOT_LEFT;
  if (message.grants.length === 0) return copiesMark(message.copies);
  if (open.length === 0) return grantMark(message.grants[0]!);
  const marks = open.map((grant) => grantMark(grant)).sort((a, b) => order[a.tone] - order[b.tone]);
  const opened = message.grants.filter(({ opened: { count } }) => count > 0).length;
  return marks[0]!.word === 'Not opened' && message.grants.length > 1
    ? { tone: marks[0]!.tone, word: `${opened} of ${message.grants.length} opened` }
    : marks[0]!;
}

/** Each lock it went under, once: filled where somebody has opened it or has a copy of their own. */
function shapesOf({ grants, copies }: Sent): [Shape, 'filled' | 'outline'][] {
  const shapes = new Map<Shape, 'filled' | 'outline'>();
  for (const grant of grants) {
    const shape = grant.carried ? 'folded-arch' : 'arch';
    if (grant.state === 'held' && grant.opened.here > 0) shapes.set(shape, 'filled');
    else if (!shapes.has(shape)) shapes.set(shape, 'outline');
  }
  for (const { lock } of copies) shapes.set(lockShapes[lock], 'filled');
  return [...shapes];
}

const NAMES = 3;
const firstNames = (names: readonly string[]): string =>
  `${names.slice(0, NAMES).join(', ')}${names.length > NAMES ? ` and ${names.length - NAMES} more` : ''}`;

/** What a search adds to a line. */
export interface LineOf {
  /** The subject with what was looked for marked. */
  title?: ReactNode;
  /** What the address says of the list. */
  query?: string;
  children?: ReactNode;
}

interface LineProps extends LineOf {
  message: Sent;
  now: Date;
  last: boolean;
}

export function SentLine({ message, now, last, title, query = '', children }: LineProps) {
  const mark = messageMark(message, now);
  const closesAt = latestClosing(message);
  const names = [...message.grants, ...message.copies].map(who);
  const subject = subjectOf(message.opened);
  const closing = closesAt === undefined ? '' : `, closes ${momentInWords(closesAt, now, zone)}`;
  return (
    <ListLine
      href={`/mail/${message.id}${query}`}
      label={`${subject}, to ${names.join(', ')}, ${mark.word}${closing}`}
      title={title ?? subject}
      aside={listedInWords(message.sentAt, now, zone)}
      shapes={shapesOf(message).map(([shape, state]) => (
        <LockShape key={shape} shape={shape} state={state} />
      ))}
      about={`${firstNames(names)}${message.reference === '' ? '' : ` · ${message.reference}`}`}
      mark={<StateMark {...mark} />}
      left={
        closesAt === undefined
          ? undefined
          : { from: message.sentAt, until: closesAt, now, words: distanceInWords(closesAt, now, zone) }
      }
      last={last}
    >
      {children}
    </ListLine>
  );
}
