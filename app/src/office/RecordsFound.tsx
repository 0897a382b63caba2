/** How the DNS answers for the records of the office's domain. */
import { type LookedUpRecord } from '@under-lock/contract/office';
import { space, StateMark, type StateTone, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';

const whatWords: Record<LookedUpRecord['what'], string> = {
  'signing-key': 'The key that mail is signed with',
  keys: 'Where OpenPGP keys are found',
};

const stateWords: Record<LookedUpRecord['state'], { tone: StateTone; word: string; help?: string }> = {
  right: { tone: 'done', word: 'entered, and right' },
  other: {
    tone: 'stopped',
    word: 'something else is entered',
    help: 'Compare it with what it should be, above. What was changed a short while ago may still be answered as it was.',
  },
  missing: {
    tone: 'wants',
    word: 'not found yet',
    help: 'A new record can take some hours until everybody sees it.',
  },
  unanswered: {
    tone: 'stopped',
    word: 'nobody answered',
    help: 'This server could not ask the DNS. Look again later; if it stays so, whoever runs the server must let it ask.',
  },
};

function RecordFound({ what, name, state, found }: LookedUpRecord) {
  const { tone, word, help } = stateWords[state];
  return (
    <View style={styles.record}>
      <Text kind="strong">{whatWords[what]}</Text>
      <Text kind="mono" style={styles.wrap}>
        {name}
      </Text>
      <StateMark tone={tone} word={word} />
      {found === undefined ? null : (
        <Text kind="mono" style={styles.wrap}>
          {found}
        </Text>
      )}
      {help === undefined ? null : (
        <Text kind="small" tone="soft">
          {help}
        </Text>
      )}
    </View>
  );
}

/** @param records Undefined as long as nobody has looked. */
export function RecordsFound({ records }: { records: readonly LookedUpRecord[] | undefined }) {
  return (
    <View role="status" style={styles.all}>
      {records?.map((record) => (
        <RecordFound key={record.what} {...record} />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  wrap: { overflowWrap: 'anywhere' } as object,
  record: { gap: space.xs, alignItems: 'flex-start' },
  all: { gap: space.m },
});
