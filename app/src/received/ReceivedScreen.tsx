/** Mail › Received: what others hold for this account, and mail that came to its address. */
import { distanceInWords, momentInWords, sizeInWords } from '@under-lock/core/when';
import { Button, Empty, Line, Row, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { Pressable, StyleSheet } from 'react-native';
import { useNow, zone } from '../clock';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { Shelves } from '../sent/Shelves';
import { type IncomingWithSummary, type ReceivedWithSubject, useReceivedList } from './useReceived';

const who = ({ name, address }: ReceivedWithSubject['from']): string => name || address;

function ReceivedLine({ message, now, last }: { message: ReceivedWithSubject; now: Date; last: boolean }) {
  const { state, unread } = message;
  const over = state !== 'held';
  const subject = message.subject ?? (over ? 'No longer readable' : '(does not open with your key)');
  const word = state === 'withdrawn' ? 'Withdrawn' : state === 'closed' ? 'Closed' : unread ? 'Unread' : 'Read';
  return (
    <Pressable
      role="link"
      aria-label={`${subject}, from ${who(message.from)}, ${word}`}
      onPress={() => router.push(`/mail/received/${message.grantId}` as never)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind={unread && !over ? 'strong' : 'body'} tone={over ? 'soft' : 'ink'} style={styles.wrap}>
            {subject}
          </Text>
          <StateMark tone={over ? 'over' : unread ? 'wants' : 'done'} word={word} />
        </Row>
        <Text
          kind="small"
          tone="soft"
        >{`From ${who(message.from)} · ${momentInWords(message.arrivedAt, now, zone)} · ${sizeInWords(message.size)}${message.reference === '' ? '' : ` · ${message.reference}`}`}</Text>
        <Text kind="small" tone="soft">
          {over
            ? `${word} ${message.endedAt === undefined ? '' : momentInWords(message.endedAt, now, zone)}`
            : `Readable until ${momentInWords(message.closesAt, now, zone)}, ${distanceInWords(message.closesAt, now, zone)}`}
        </Text>
      </Line>
    </Pressable>
  );
}

const lockWords = {
  none: 'Came by mail, without a lock',
  signed: 'Came by mail, signed',
  encrypted: 'Came by mail, encrypted',
} as const;

function IncomingLine({
  mail: { id, summary, unread, arrivedAt, size, requestId },
  now,
  last,
}: {
  mail: IncomingWithSummary;
  now: Date;
  last: boolean;
}) {
  const subject = summary === undefined ? '(does not open with your key)' : summary.subject || '(no subject)';
  const from = summary === undefined ? '' : summary.from.name || summary.from.address;
  return (
    <Pressable
      role="link"
      aria-label={`${subject}, from ${from}, ${unread ? 'Unread' : 'Read'}`}
      onPress={() => router.push(`/mail/in/${id}` as never)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind={unread ? 'strong' : 'body'} style={styles.wrap}>
            {subject}
          </Text>
          <StateMark tone={unread ? 'wants' : 'done'} word={unread ? 'Unread' : 'Read'} />
        </Row>
        <Text
          kind="small"
          tone="soft"
          style={styles.wrap}
        >{`From ${from} · ${momentInWords(arrivedAt, now, zone)} · ${sizeInWords(size)}`}</Text>
        <Text
          kind="small"
          tone="soft"
        >{`${lockWords[summary?.lock ?? 'none']}${requestId === undefined ? '' : '. It answers your request for a signed message'}`}</Text>
      </Line>
    </Pressable>
  );
}

export function ReceivedScreen() {
  const now = useNow();
  const { data: pages, error, size, setSize, isValidating } = useReceivedList();
  const messages = pages?.flatMap((page) => page.messages);
  return (
    <Screen title="Mail" aside={<Button label="Write" onPress={() => router.push('/write')} />}>
      <Shelves here="received" />
      <Listed items={messages} error={error} fetching="Looking into your received mail" empty={<NothingReceived />}>
        {(message, last) =>
          message.kind === 'held' ? (
            <ReceivedLine key={message.grantId} message={message} now={now} last={last} />
          ) : (
            <IncomingLine key={message.id} mail={message} now={now} last={last} />
          )
        }
      </Listed>
      <Row>
        <Button label="Open mail from a file" onPress={() => router.push('/mail/open' as never)} />
      </Row>
      {pages?.at(-1)?.next === undefined ? null : (
        <Row>
          <Button label="Show older ones" onPress={() => void setSize(size + 1)} busy={isValidating} />
        </Row>
      )}
    </Screen>
  );
}

const NothingReceived = () => (
  <Empty title="Nothing received yet">
    What colleagues send you under lock is listed here until it closes, and mail that comes to your address.
  </Empty>
);

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start' },
  wrap: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
});
