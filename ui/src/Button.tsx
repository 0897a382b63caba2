import { ActivityIndicator, Pressable, StyleSheet, Text, type TextStyle, View } from 'react-native';
import { border, colour, radius, space, type } from './tokens';

interface Props {
  label: string;
  onPress: () => void;
  kind?: 'main' | 'plain' | 'stop' | 'quiet';
  disabled?: boolean;
  busy?: boolean;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */
  describe?: string;
  expanded?: boolean;
  wide?: boolean;
  /** The key that presses it, as `aria-keyshortcuts` spells it. */
  shortcut?: string;
  testID?: string;
}

export function Button({
  label,
  onPress,
  kind = 'plain',
  disabled = false,
  busy = false,
  describe,
  expanded,
  wide = false,
  shortcut,
  testID,
}: Props) {
  const off = disabled || busy;
  return (
    <Pressable
      role="button"
      aria-label={describe ?? label}
      aria-disabled={off}
      aria-busy={busy}
      {...(expanded === undefined ? {} : { 'aria-expanded': expanded })}
      {...(shortcut === undefined ? {} : { 'aria-keyshortcuts': shortcut })}
      disabled={off}
      onPress={onPress}
      testID={testID}
      style={({ pressed }) => [
        styles.base,
        styles[kind],
        wide && styles.wide,
        disabled && kind !== 'quiet' && styles.disabled,
        pressed && styles.pressed,
      ]}
    >
      {busy ? (
        <View aria-hidden>
          <ActivityIndicator size="small" color={kind === 'main' ? colour.onSea : colour.sea} />
        </View>
      ) : null}
      <Text style={[styles.label, labels[kind], disabled && styles.disabledLabel]}>{label}</Text>
    </Pressable>
  );
}

/** Words that do something, inside running text or at the end of a line. */
export function TextButton({
  label,
  onPress,
  describe,
  tone = 'sea',
}: {
  label: string;
  onPress: () => void;
  describe?: string;
  tone?: 'sea' | 'brick';
}) {
  return (
    <Pressable role="button" aria-label={describe ?? label} onPress={onPress} style={styles.text}>
      <Text style={[styles.underlined, tone === 'sea' ? labels.plain : labels.stop]}>{label}</Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  base: {
    minHeight: space.touch,
    paddingHorizontal: space.l,
    paddingVertical: space.s,
    borderRadius: radius.m,
    borderWidth: border.hair,
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'center',
    gap: space.s,
    maxWidth: '100%',
  },
  main: { backgroundColor: colour.sea, borderColor: colour.sea },
  plain: { backgroundColor: colour.paper, borderColor: colour.sea },
  stop: { backgroundColor: colour.paper, borderColor: colour.brick },
  // Its words begin where the text above them does.
  quiet: {
    backgroundColor: 'transparent',
    borderColor: 'transparent',
    paddingHorizontal: space.s,
    marginStart: -space.s,
    maxWidth: `calc(100% + ${space.s}px)` as unknown as number,
  },
  wide: { alignSelf: 'stretch', flexGrow: 1 },
  pressed: { opacity: 0.8 },
  disabled: { backgroundColor: colour.quiet, borderColor: colour.line },
  label: { ...type.strong, textAlign: 'center', flexShrink: 1, overflowWrap: 'anywhere' } as TextStyle,
  disabledLabel: { color: colour.soft },
  text: { minHeight: space.touch, justifyContent: 'center', alignSelf: 'flex-start', maxWidth: '100%' },
  underlined: { ...type.label, textDecorationLine: 'underline' },
});
const labels = StyleSheet.create({
  main: { color: colour.onSea },
  plain: { color: colour.sea },
  stop: { color: colour.brick },
  quiet: { color: colour.sea },
});
