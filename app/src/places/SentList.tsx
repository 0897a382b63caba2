/** Mail › Sent, page by page. */
import { Button, Empty } from '@under-lock/ui';
import { router } from 'expo-router';
import { useNow } from '../clock';
import { MailList } from './MailList';
import { Listed } from '../shell/Listed';
import { ListRow } from '../shell/ListScreen';
import { SentLine } from '../sent/SentLine';
import { useSentList } from '../sent/useSent';

export function SentList() {
  const now = useNow();
  const { data: pages, error, size, setSize, isValidating } = useSentList();
  const messages = pages?.flatMap((page) => page.messages);
  const more = pages?.at(-1)?.next !== undefined;
  return (
    <MailList here="sent">
      <Listed items={messages} error={error} fetching="Opening your sent mail" empty={<NothingSent />}>
        {(message, last) => <SentLine key={message.id} message={message} now={now} last={last} />}
      </Listed>
      {more ? (
        <ListRow>
          <Button label="Show older ones" onPress={() => void setSize(size + 1)} busy={isValidating} />
        </ListRow>
      ) : null}
    </MailList>
  );
}

const NothingSent = () => (
  <Empty
    title="Nothing sent yet"
    action={<Button kind="main" label="Write a message" onPress={() => router.push('/write')} />}
  >
    What you send is listed here, with who was told, who opened it and until when it can be read.
  </Empty>
);
