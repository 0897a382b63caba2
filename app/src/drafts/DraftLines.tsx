/** What was begun, in a list: drafts, and mail from mail programs that has not left. */
import { type Draft } from '@under-lock/core/outgoing/draft';
import { type Kept } from '@under-lock/core/vault/kept';
import { listedInWords } from '@under-lock/core/when';
import { StateMark } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { zone } from '../clock';
import { who } from '../handling/grant-words';
import { type HandedWithWhy } from '../programs/useHanded';
import { ListLine } from '../shell/ListLine';
import { type Begun, isHanded } from './useBegun';

interface LineProps {
  now: Date;
  last: boolean;
  /** In place of the subject, with what was looked for marked in it. */
  title?: ReactNode;
  /** Below. */
  children?: ReactNode;
}

export const BegunLine = ({ one, ...props }: LineProps & { one: Begun }) =>
  isHanded(one) ? <HandedLine mail={one} {...props} /> : <DraftLine draft={one} {...props} />;

function HandedLine({ mail: { id, at, by, opened }, now, last, title, children }: LineProps & { mail: HandedWithWhy }) {
  const subject = opened?.subject ?? '';
  return (
    <ListLine
      href={`/write/handed/${id}`}
      label={`From ${by}: ${subject || 'without a subject'}`}
      title={title ?? (subject || '(no subject)')}
      aside={listedInWords(at, now, zone)}
      about={`From ${by} · ${opened?.sentences.join('; ') ?? 'it was not settled in time; look at it here'}`}
      mark={<StateMark tone="wants" word="Not sent" />}
      last={last}
      walked={false}
    >
      {children}
    </ListLine>
  );
}

function DraftLine({
  draft: { id, value, updatedAt },
  now,
  last,
  title,
  children,
}: LineProps & { draft: Kept<Draft> }) {
  const to = value.recipients.length === 0 ? 'Nobody yet' : `To ${value.recipients.map(who).join(', ')}`;
  const { length } = value.files;
  const files = length === 0 ? '' : ` · ${length} ${length === 1 ? 'file' : 'files'}`;
  return (
    <ListLine
      href={`/write/${id}`}
      label={`Draft ${value.subject || 'without a subject'}`}
      title={title ?? (value.subject || '(no subject yet)')}
      aside={listedInWords(updatedAt, now, zone)}
      about={`${to}${files}`}
      mark={value.attempt === undefined ? null : <StateMark tone="wants" word="Sending was cut short" />}
      last={last}
      walked={false}
    >
      {children}
    </ListLine>
  );
}
