/** What the reader began themselves, to be read again. Replies lie beside the message they answer. */
import { type MessageContent } from '@under-lock/core/message/content';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { Button, Line, Loading, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR, { mutate } from 'swr';
import { useNow } from '../clock';
import { language, words } from '../words/words';
import { listWritten, openWritten, type Session, type WrittenItem } from './account';
import { listWords } from './words';

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

const written = ({ reader }: Session): readonly [string, string] => ['written', reader.id];
/** After something was written. */
export const refreshWritten = (session: Session): Promise<unknown> => mutate(written(session));

export function WrittenList({ session }: { session: Session }) {
  const now = useNow();
  const { data: items } = useSWR(written(session), () => listWritten(session), {
    refreshInterval: 20_000,
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
  const [content, setContent] = useState<MessageContent | 'opening' | 'failed' | undefined>();
  const subject = item.subject ?? listWords.noSubject;
  const shown = typeof content === 'object';
  const open = (): void => {
    setContent('opening');
    openWritten(session, item).then(setContent, () => setContent('failed'));
  };
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
      {shown ? <Text style={styles.text}>{content.text}</Text> : null}
      {shown && content.files.length > 0 ? (
        <Text kind="small" tone="soft">
          {content.files.map((file) => `${file.name}, ${sizeInWords(file.bytes.length)}`).join(' · ')}
        </Text>
      ) : null}
      {content === 'failed' ? <Text kind="small" tone="brick">{`■ ${words.failed}`}</Text> : null}
      {content === 'opening' ? (
        <Loading what={words.opening} />
      ) : (
        <Row>
          <Button
            label={shown ? listWords.hide : listWords.look}
            describe={`${shown ? listWords.hide : listWords.look}: ${subject}`}
            expanded={shown}
            onPress={() => (shown ? setContent(undefined) : open())}
          />
        </Row>
      )}
    </Line>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start', flexWrap: 'nowrap' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  text: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object,
});
