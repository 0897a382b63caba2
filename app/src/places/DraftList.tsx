/** Mail › Drafts: what was begun. */
import { Empty } from '@under-lock/ui';
import { useNow } from '../clock';
import { BegunLine } from '../drafts/DraftLines';
import { useBegun } from '../drafts/useBegun';
import { Listed } from '../shell/Listed';
import { MailList } from './MailList';

export function DraftList() {
  const now = useNow();
  const { data, error } = useBegun();
  return (
    <MailList here="drafts">
      <Listed items={data} error={error} fetching="Opening your drafts" empty={<NoDrafts />}>
        {(one, last) => <BegunLine key={one.id} one={one} now={now} last={last} />}
      </Listed>
    </MailList>
  );
}

const NoDrafts = () => (
  <Empty title="No drafts">What you begin to write keeps itself here, sealed, until you send or remove it.</Empty>
);
