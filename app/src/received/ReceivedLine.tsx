/** What was received, in a list: a message held for this account, or a mail that came to its address. */
import { distanceInWords, listedInWords, momentInWords } from '@under-lock/core/when';
import { StateMark } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { zone } from '../clock';
import { who } from '../handling/grant-words';
import { heldMark } from '../handling/held-mark';
import { type LineOf } from '../sent/SentLine';
import { ListLine } from '../shell/ListLine';
import { type IncomingWithSummary, type InReceived, type ReceivedWithSubject } from './useReceived';

interface HeldProps extends LineOf {
  message: ReceivedWithSubject;
  now: Date;
  last: boolean;
}

function HeldLine({ message, now, last, title, query = '', children }: HeldProps) {
  const { state, unread, closesAt, arrivedAt } = message;
  const over = state !== 'held';
  const subject = message.subject ?? (over ? 'No longer readable' : '(does not open with your key)');
  const mark = heldMark(message);
  return (
    <ListLine
      href={`/mail/received/${message.grantId}${query}`}
      label={`${subject}, from ${who(message.from)}, ${mark?.word ?? 'Read'}${over ? '' : `, readable until ${momentInWords(closesAt, now, zone)}`}`}
      title={title ?? subject}
      quiet={over || !unread}
      aside={listedInWords(arrivedAt, now, zone)}
      shapes={<LockShape shape="arch" state={over || unread ? 'outline' : 'filled'} />}
      about={`${who(message.from)}${message.reference === '' ? '' : ` · ${message.reference}`}`}
      mark={mark === undefined ? null : <StateMark {...mark} />}
      left={over ? undefined : { from: arrivedAt, until: closesAt, now, words: distanceInWords(closesAt, now, zone) }}
      last={last}
      walked={over || !unread}
    >
      {children}
    </ListLine>
  );
}

const lockWords = {
  none: 'without a lock',
  signed: 'signed',
  encrypted: 'encrypted',
} as const;

interface IncomingProps extends LineOf {
  mail: IncomingWithSummary;
  now: Date;
  last: boolean;
}

function wayWords({ slot, requestId, answersNotice, summary }: IncomingWithSummary): string {
  if (slot !== undefined) return 'left in the mail slot';
  if (requestId !== undefined) return 'answers your request for a signed message';
  if (answersNotice) return 'came open, past the reading room';
  return `by mail, ${lockWords[summary?.lock ?? 'none']}`;
}

function IncomingLine({ mail, now, last, title, query = '', children }: IncomingProps) {
  const { id, summary, unread, arrivedAt } = mail;
  const subject = summary === undefined ? '(does not open with your key)' : summary.subject || '(no subject)';
  const from = summary === undefined ? '' : summary.from.name || summary.from.address;
  return (
    <ListLine
      href={`/mail/in/${id}${query}`}
      label={`${subject}, from ${from}, ${unread ? 'Unread' : 'Read'}`}
      title={title ?? subject}
      quiet={!unread}
      aside={listedInWords(arrivedAt, now, zone)}
      about={`${from} · ${wayWords(mail)}`}
      mark={unread ? <StateMark tone="wants" word="Unread" /> : null}
      last={last}
      walked={!unread}
    >
      {children}
    </ListLine>
  );
}

interface ReceivedProps extends LineOf {
  message: InReceived;
  now: Date;
  last: boolean;
}

export const ReceivedLine = ({ message, ...props }: ReceivedProps) =>
  message.kind === 'held' ? <HeldLine message={message} {...props} /> : <IncomingLine mail={message} {...props} />;
