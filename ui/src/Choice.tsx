import { Pressable, StyleSheet, View } from 'react-native';
import { Text } from './Text';
import { border, colour, radius, space } from './tokens';

export interface Option<T extends string> {
  value: T;
  label: string;
  /** What it means, in a second line. */
  detail?: string;
  disabled?: boolean;
}

/** One of several, all in view. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
  row = false,
}: {
  label: string;
  options: readonly Option<T>[];
  value: T;
  onChange: (value: T) => void;
  /** Beside one another, for a few short words. */ row?: boolean;
}) {
  return (
    <View role="radiogroup" aria-label={label} style={[styles.group, row && styles.inRow]}>
      <Text kind="label" tone="soft" style={row ? styles.rowLabel : undefined}>
        {label}
      </Text>
      {options.map((option) => {
        const chosen = option.value === value;
        return (
          <Pressable
            key={option.value}
            role="radio"
            aria-checked={chosen}
            aria-disabled={option.disabled ?? false}
            disabled={option.disabled ?? false}
            aria-label={option.detail === undefined ? option.label : `${option.label}, ${option.detail}`}
            onPress={() => onChange(option.value)}
            style={[styles.option, chosen && styles.chosen]}
          >
            <View style={[styles.ring, chosen && styles.ringChosen]}>
              {chosen ? <View style={styles.dot} /> : null}
            </View>
            <View style={row ? undefined : styles.words}>
              <Text tone={option.disabled === true ? 'soft' : 'ink'}>{option.label}</Text>
              {option.detail === undefined ? null : (
                <Text kind="small" tone="soft">
                  {option.detail}
                </Text>
              )}
            </View>
          </Pressable>
        );
      })}
    </View>
  );
}

/** Yes or no. */
export function Check({
  label,
  detail,
  describe,
  value,
  onChange,
}: {
  label: string;
  detail?: string;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */ describe?: string;
  value: boolean;
  onChange: (value: boolean) => void;
}) {
  return (
    <Pressable
      role="checkbox"
      aria-checked={value}
      aria-label={describe ?? (detail === undefined ? label : `${label}, ${detail}`)}
      onPress={() => onChange(!value)}
      style={styles.check}
    >
      <View style={[styles.box, value && styles.boxOn]}>
        {value ? (
          <Text kind="label" tone="onSea">
            ✓
          </Text>
        ) : null}
      </View>
      <View style={styles.words}>
        <Text>{label}</Text>
        {detail === undefined ? null : (
          <Text kind="small" tone="soft">
            {detail}
          </Text>
        )}
      </View>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  group: { gap: space.xs },
  inRow: { flexDirection: 'row', flexWrap: 'wrap', maxWidth: '100%' },
  rowLabel: { width: '100%' },
  option: {
    flexDirection: 'row',
    gap: space.m,
    alignItems: 'center',
    minHeight: space.touch,
    paddingVertical: space.xs,
    paddingHorizontal: space.s,
    borderRadius: radius.m,
  },
  chosen: { backgroundColor: colour.paleSea },
  ring: {
    width: 20,
    height: 20,
    borderRadius: 10,
    borderWidth: border.strong,
    borderColor: colour.edge,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: colour.paper,
  },
  ringChosen: { borderColor: colour.sea },
  dot: { width: 10, height: 10, borderRadius: 5, backgroundColor: colour.sea },
  words: { flex: 1 },
  check: {
    flexDirection: 'row',
    gap: space.m,
    alignItems: 'center',
    minHeight: space.touch,
    paddingVertical: space.xs,
    paddingHorizontal: space.s,
  },
  box: {
    width: 22,
    height: 22,
    borderRadius: radius.s,
    borderWidth: border.strong,
    borderColor: colour.edge,
    alignItems: 'center',
    justifyContent: 'center',
    backgroundColor: colour.paper,
  },
  boxOn: { backgroundColor: colour.sea, borderColor: colour.sea },
});
