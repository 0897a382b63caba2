import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Text } from './Text';
import { border, colour, space } from './tokens';

interface Props {
  /** For screen readers: what the line is about, then its words. */
  label: string;
  /** What is so, in a few words. */
  head: ReactNode;
  /** Before the words: a shape. */
  mark?: ReactNode;
  startsOpen?: boolean;
  children: ReactNode;
}

/** One line that says what is so, and opens to where it is changed. */
export function Fold({ label, head, mark, startsOpen = false, children }: Props) {
  const [open, setOpen] = useState(startsOpen);
  return (
    <View style={styles.fold}>
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={label}
        onPress={() => setOpen(!open)}
        style={({ pressed }) => [styles.line, pressed && styles.pressed]}
      >
        {mark}
        <View style={styles.words}>{head}</View>
        <Text kind="strong" tone="sea" aria-hidden style={styles.sign}>
          {open ? '–' : '+'}
        </Text>
      </Pressable>
      {open ? <View style={mark === undefined ? styles.opened : styles.openedUnderMark}>{children}</View> : null}
    </View>
  );
}

const MARK = 20;
const styles = StyleSheet.create({
  fold: { borderBottomWidth: border.hair, borderBottomColor: colour.line },
  line: { flexDirection: 'row', gap: space.m, minHeight: space.touch, paddingVertical: 10, alignItems: 'flex-start' },
  pressed: { opacity: 0.8 },
  words: { flex: 1, minWidth: 0 },
  sign: { width: MARK, textAlign: 'center' },
  opened: { paddingBottom: space.l },
  openedUnderMark: { paddingBottom: space.l, paddingStart: MARK + space.m },
});
