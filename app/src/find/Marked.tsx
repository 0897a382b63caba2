import { type Mark } from '@under-lock/core/search/fold';
import { colour } from '@under-lock/ui';
import { StyleSheet, Text } from 'react-native';

/** Text with what was looked for marked in it; inside of a text, whose kind it has. */
export function Marked({ text, marks }: { text: string; marks: readonly Mark[] }) {
  const parts = marks.flatMap(({ from, to }, index) => [
    text.slice(marks[index - 1]?.to ?? 0, from),
    <Text key={from} style={styles.mark}>
      {text.slice(from, to)}
    </Text>,
  ]);
  return (
    <>
      {parts}
      {text.slice(marks.at(-1)?.to ?? 0)}
    </>
  );
}

const styles = StyleSheet.create({ mark: { backgroundColor: colour.paleAmber, color: colour.ink, fontWeight: '700' } });
