/** A line of the letter's head: its word at the left, what is typed beside it, a hairline beneath. */
import { border, colour, font, space, Text, type } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { StyleSheet, TextInput, type TextInputProps, View } from 'react-native';
import { useWide } from '../../shell/Screen';

interface RowProps {
  /** Its word at the left; without one what is typed says by itself what it is. */
  label?: string | undefined;
  active?: boolean;
  /** At its right end: what opens further lines. */
  aside?: ReactNode;
  children: ReactNode;
}

export function HeadRow({ label, active = false, aside, children }: RowProps) {
  const wide = useWide();
  return (
    <View style={[styles.line, active && styles.active]}>
      {label === undefined ? null : (
        <Text kind="small" tone="soft" style={[styles.label, wide && styles.column]}>
          {label}
        </Text>
      )}
      {/* Before what is typed for whoever goes by keys: from there Tab leads to the next line. */}
      {aside === undefined ? null : <View style={styles.aside}>{aside}</View>}
      {children}
    </View>
  );
}

interface Props extends Omit<TextInputProps, 'style' | 'aria-label'> {
  label: string;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */
  describe?: string;
  strong?: boolean;
  code?: boolean;
}

export function HeadLine({ label, describe, strong = false, code = false, ...input }: Props) {
  const wide = useWide();
  const [focused, setFocused] = useState(false);
  return (
    <HeadRow label={wide ? label : undefined} active={focused}>
      <TextInput
        {...input}
        aria-label={describe ?? label}
        placeholder={wide ? '' : label}
        placeholderTextColor={colour.soft}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
        style={[styles.input, strong && styles.strong, code && styles.code]}
      />
    </HeadRow>
  );
}

const styles = StyleSheet.create({
  line: {
    flexDirection: 'row',
    gap: space.s,
    alignItems: 'flex-start',
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
  },
  active: { borderBottomColor: colour.sea },
  label: { paddingTop: space.m },
  column: { width: 68 },
  aside: { flexDirection: 'row', gap: space.m, order: 1 } as object,
  input: {
    ...type.body,
    fontFamily: font.sans,
    color: colour.ink,
    flex: 1,
    minWidth: 0,
    minHeight: space.touch,
  },
  strong: { fontWeight: '600' },
  code: { ...type.mono },
});
