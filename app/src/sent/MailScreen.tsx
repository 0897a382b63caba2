import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Button, Empty, Line, Row, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { Pressable, StyleSheet } from 'react-native';
import { useNow, zone } from '../clock';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { type Kept } from '@under-lock/core/vault/kept';
import { useVault } from '../vault/useVault';
import { type Draft, draftSchema, isBlank } from '@under-lock/core/outgoing/draft';
import { copiesMark, grantMark, NOT_LEFT, who } from './grant-words';
import { Shelves } from './Shelves';
import { type Sent, subjectOf, useSentList } from './useSent';

/** What stands for a whole message in a list: the worst news first. */
function messageMark(message: Sent, now: Date) {
  const order = { stopped: 0, wants: 1, done: 2, over: 3 } as const;
  const open = message.grants.filter(({ state }) => state === 'held');
  if (message.sentAt > now) return NOT_LEFT;
  if (message.grants.length === 0) return copiesMark(message.copies);
  if (open.length === 0) return grantMark(message.grants[0]!);
  const marks = open.map((grant) => grantMark(grant)).sort((a, b) => order[a.tone] - order[b.tone]);
  const opened = message.grants.filter(({ opened: { count } }) => count > 0).length;
  return marks[0]!.word === 'Not opened' && message.grants.length > 1
    ? { tone: marks[0]!.tone, word: `${opened} of ${message.grants.length} opened` }
    : marks[0]!;
}

function SentLine({ message, now, last }: { message: Sent; now: Date; last: boolean }) {
  const { tone, word } = messageMark(message, now);
  const open = message.grants.filter(({ state }) => state === 'held');
  const closesAt = open.reduce<Date | undefined>(
    (latest, { closesAt: at }) => (latest === undefined || at > latest ? at : latest),
    undefined,
  );
  const names = [...message.grants, ...message.copies].map(who);
  return (
    <Pressable
      role="link"
      aria-label={`${subjectOf(message.opened)}, to ${names.join(', ')}, ${word}`}
      onPress={() => router.push(`/mail/${message.id}` as never)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind="strong" style={styles.subject}>
            {subjectOf(message.opened)}
          </Text>
          <StateMark tone={tone} word={word} />
        </Row>
        <Text
          kind="small"
          tone="soft"
          style={styles.wrap}
        >{`To ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''} · ${message.sentAt > now ? 'leaves' : 'sent'} ${momentInWords(message.sentAt, now, zone)}`}</Text>
        <Text kind="small" tone="soft">
          {closesAt === undefined
            ? message.handling.clear && message.purpose === 'message'
              ? 'Left open: anybody on its way could read it'
              : message.copies.length > 0
                ? 'They have copies of their own'
                : 'Nobody can read it any more'
            : `Closes ${momentInWords(closesAt, now, zone)}, ${distanceInWords(closesAt, now, zone)}`}
          {message.reference === '' ? '' : ` · ${message.reference}`}
        </Text>
      </Line>
    </Pressable>
  );
}

export function SentScreen() {
  const now = useNow();
  const { data: pages, error, size, setSize, isValidating } = useSentList();
  const messages = pages?.flatMap((page) => page.messages);
  const more = pages?.at(-1)?.next !== undefined;
  return (
    <Screen title="Mail" aside={<Button label="Write" onPress={() => router.push('/write')} />}>
      <Shelves here="sent" />
      <Listed items={messages} error={error} fetching="Opening your sent mail" empty={<NothingSent />}>
        {(message, last) => <SentLine key={message.id} message={message} now={now} last={last} />}
      </Listed>
      {more ? (
        <Row>
          <Button label="Show older ones" onPress={() => void setSize(size + 1)} busy={isValidating} />
        </Row>
      ) : null}
    </Screen>
  );
}

export function DraftsScreen() {
  const now = useNow();
  const { data, error } = useVault('draft', draftSchema);
  // What was sent and waits to leave is in Sent.
  const drafts = data
    ?.filter(({ value }) => !isBlank(value) && value.waiting === undefined)
    .sort((a, b) => b.updatedAt.getTime() - a.updatedAt.getTime());
  return (
    <Screen title="Mail" aside={<Button label="Write" onPress={() => router.push('/write')} />}>
      <Shelves here="drafts" />
      <Listed items={drafts} error={error} fetching="Opening your drafts" empty={<NoDrafts />}>
        {(draft, last) => <DraftLine key={draft.id} draft={draft} now={now} last={last} />}
      </Listed>
    </Screen>
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
const NoDrafts = () => (
  <Empty title="No drafts">What you begin to write keeps itself here, sealed, until you send or remove it.</Empty>
);

function DraftLine({ draft: { id, value, updatedAt }, now, last }: { draft: Kept<Draft>; now: Date; last: boolean }) {
  const to = value.recipients.length === 0 ? 'Nobody yet' : `To ${value.recipients.map(who).join(', ')}`;
  const { length } = value.files;
  const files = length === 0 ? '' : ` · ${length} ${length === 1 ? 'file' : 'files'}`;
  return (
    <Pressable
      role="link"
      aria-label={`Draft ${value.subject || 'without a subject'}`}
      onPress={() => router.push(`/write/${id}` as never)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind="strong" style={styles.subject}>
            {value.subject || '(no subject yet)'}
          </Text>
          {value.attempt === undefined ? null : <StateMark tone="wants" word="Sending was cut short" />}
        </Row>
        <Text kind="small" tone="soft" style={styles.wrap}>
          {`${to} · kept ${momentInWords(updatedAt, now, zone)}${files}`}
        </Text>
      </Line>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start' },
  subject: { flexShrink: 1, overflowWrap: 'anywhere' } as object,
  wrap: { overflowWrap: 'anywhere' } as object,
});
