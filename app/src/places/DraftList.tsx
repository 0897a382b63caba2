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
import { isRemoved } from '../write/removed';

export function DraftList() {
  const now = useNow();
  const { data, error } = useVault('draft', draftSchema);
  // What was sent and waits to leave is in Sent.
  const drafts = data
    ?.filter(({ value }) => !isBlank(value) && !isRemoved(value) && value.waiting === undefined)
    .sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
  return (
    <MailList here="drafts">
      <Listed items={drafts} error={error} fetching="Opening your drafts" empty={<NoDrafts />}>
        {(draft, last) => <DraftLine key={draft.id} draft={draft} now={now} last={last} />}
      </Listed>
    </MailList>
  );
}

const NoDrafts = () => (
  <Empty title="No drafts">What you begin to write keeps itself here, sealed, until you send or remove it.</Empty>
);

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
