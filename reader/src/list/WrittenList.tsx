/** What the reader began themselves, to be read again. Replies lie beside the message they answer. */
import { momentInWords } from '@under-lock/core/when';
import { Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { StyleSheet } from 'react-native';
import useSWR, { mutate } from 'swr';
import { useNow } from '../clock';
import { SentContent } from '../SentContent';
import { language } from '../words/words';
import { listWritten, openWritten, type Session, type WrittenItem } from './account';
import { ASKED_AGAIN_MS } from './useHeld';
import { listWords } from './words';
import { zone } from '../zone';

const written = ({ reader }: Session): readonly [string, string] => ['written', reader.id];
/** After something was written. */
export const refreshWritten = (session: Session): Promise<unknown> => mutate(written(session));

export function WrittenList({ session }: { session: Session }) {
  const now = useNow();
  const { data: items } = useSWR(written(session), () => listWritten(session), {
    refreshInterval: ASKED_AGAIN_MS,
  });
  if (items === undefined || items.length === 0) return null;
  return (
    <Section title={listWords.written} aside={String(items.length)}>
      <Panel>
        {items.map((item, index) => (
          <WrittenLine key={item.id} session={session} item={item} now={now} last={index === items.length - 1} />
        ))}
      </Panel>
    </Section>
  );
}

function WrittenLine({ session, item, now, last }: { session: Session; item: WrittenItem; now: Date; last: boolean }) {
  const subject = item.subject ?? listWords.noSubject;
  return (
    <Line last={last}>
      <Row style={styles.between}>
        <Text kind="strong" style={styles.wrap}>
          {subject}
        </Text>
        <StateMark
          tone={item.opened ? 'done' : 'wants'}
          word={item.opened ? listWords.writtenOpened : listWords.writtenNotYet}
        />
      </Row>
      <Text kind="small" tone="soft">
        {listWords.writtenTo(item.to.name || item.to.address, momentInWords(item.sentAt, now, zone, language))}
      </Text>
      <SentContent open={() => openWritten(session, item)} labels={listWords} what={`: ${subject}`} />
    </Line>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
});
