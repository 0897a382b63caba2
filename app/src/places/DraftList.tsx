/** Mail › Drafts: what was begun. */
import { listedInWords } from '@under-lock/core/when';
import { type Draft, draftSchema, isBlank } from '@under-lock/core/outgoing/draft';
import { type Kept } from '@under-lock/core/vault/kept';
import { Empty, StateMark } from '@under-lock/ui';
import { useNow, zone } from '../clock';
import { MailList } from './MailList';
import { who } from '../handling/grant-words';
import { Listed } from '../shell/Listed';
import { ListLine } from '../shell/ListLine';
import { useVault } from '../vault/useVault';
import { type HandedWithWhy, useHanded } from '../programs/useHanded';
import { isRemoved } from '../write/removed';

export function DraftList() {
  const now = useNow();
  const { data, error } = useVault('draft', draftSchema);
  const handed = useHanded();
  // What was sent and waits to leave is in Sent.
  const drafts = data
    ?.filter(({ value }) => !isBlank(value) && !isRemoved(value) && value.waiting === undefined)
    .sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
  // Each wants something of its writer: they come first.
  const all = drafts && handed.data && [...handed.data, ...drafts];
  return (
    <MailList here="drafts">
      <Listed items={all} error={error ?? handed.error} fetching="Opening your drafts" empty={<NoDrafts />}>
        {(one, last) =>
          'by' in one ? (
            <HandedLine key={one.id} mail={one} now={now} last={last} />
          ) : (
            <DraftLine key={one.id} draft={one} now={now} last={last} />
          )
        }
      </Listed>
    </MailList>
  );
}

const NoDrafts = () => (
  <Empty title="No drafts">What you begin to write keeps itself here, sealed, until you send or remove it.</Empty>
);

/** A mail from a mail program that has not left. */
function HandedLine({ mail: { id, at, by, opened }, now, last }: { mail: HandedWithWhy; now: Date; last: boolean }) {
  const subject = opened?.subject ?? '';
  return (
    <ListLine
      href={`/write/handed/${id}`}
      label={`From ${by}: ${subject || 'without a subject'}`}
      title={subject || '(no subject)'}
      aside={listedInWords(at, now, zone)}
      about={`From ${by} · ${opened?.sentences.join('; ') ?? 'it was not settled in time; look at it here'}`}
      mark={<StateMark tone="wants" word="Not sent" />}
      last={last}
      walked={false}
    />
  );
}

function DraftLine({ draft: { id, value, updatedAt }, now, last }: { draft: Kept<Draft>; now: Date; last: boolean }) {
  const to = value.recipients.length === 0 ? 'Nobody yet' : `To ${value.recipients.map(who).join(', ')}`;
  const { length } = value.files;
  const files = length === 0 ? '' : ` · ${length} ${length === 1 ? 'file' : 'files'}`;
  return (
    <ListLine
      href={`/write/${id}`}
      label={`Draft ${value.subject || 'without a subject'}`}
      title={value.subject || '(no subject yet)'}
      aside={listedInWords(updatedAt, now, zone)}
      about={`${to}${files}`}
      mark={value.attempt === undefined ? null : <StateMark tone="wants" word="Sending was cut short" />}
      last={last}
      walked={false}
    />
  );
}
