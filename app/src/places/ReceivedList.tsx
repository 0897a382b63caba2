/** Mail › Received, page by page. */
import { receivedId } from '@under-lock/contract/received';
import { Button, Empty } from '@under-lock/ui';
import { router } from 'expo-router';
import { useNow } from '../clock';
import { MailList } from './MailList';
import { Listed } from '../shell/Listed';
import { ListRow } from '../shell/ListScreen';
import { ReceivedLine } from '../received/ReceivedLine';
import { useReceivedList } from '../received/useReceived';

export function ReceivedList() {
  const now = useNow();
  const { data: pages, error, size, setSize, isValidating } = useReceivedList();
  const messages = pages?.flatMap((page) => page.messages);
  return (
    <MailList here="received">
      <Listed items={messages} error={error} fetching="Looking into your received mail" empty={<NothingReceived />}>
        {(message, last) => <ReceivedLine key={receivedId(message)} message={message} now={now} last={last} />}
      </Listed>
      <ListRow>
        {pages?.at(-1)?.next === undefined ? null : (
          <Button label="Show older ones" onPress={() => void setSize(size + 1)} busy={isValidating} />
        )}
        <Button label="Open mail from a file" onPress={() => router.push('/mail/open' as never)} />
      </ListRow>
    </MailList>
  );
}

const NothingReceived = () => (
  <Empty title="Nothing received yet">
    What colleagues send you under lock is listed here until it closes, and mail that comes to your address.
  </Empty>
);
