import { Line, space, StateMark, Text } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';

interface Props {
  title: string;
  done: boolean;
  /** Also what is not done says so. */
  marked?: boolean;
  last: boolean;
  children: ReactNode;
}

/** One of several things to do: its name, whether it is done, and how it is. */
export function StepLine({ title, done, marked = false, last, children }: Props) {
  return (
    <Line last={last}>
      <View style={styles.head}>
        <Text kind="strong" style={styles.title}>
          {title}
        </Text>
        {done ? <StateMark tone="done" word="Done" /> : marked ? <StateMark tone="wants" word="To do" /> : null}
      </View>
      {children}
    </Line>
  );
}

const styles = StyleSheet.create({
  head: { flexDirection: 'row', gap: space.m, alignItems: 'center' },
  title: { flex: 1, minWidth: 0 },
});
