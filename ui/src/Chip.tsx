import { Pressable, StyleSheet, View } from 'react-native';
import { Text } from './Text';
import { border, colour, radius, space } from './tokens';

interface Props {
  label: string;
  on: boolean;
  onPress: () => void;
  /** For screen readers, when the label alone would be ambiguous; must begin with the label. */
  describe?: string;
  /** One of several of which one holds, or something that holds or not. */
  as?: 'radio' | 'switch';
}

/** A few words that hold or don't: small to look at, large enough to touch. */
export const Chip = ({ label, on, onPress, describe, as = 'switch' }: Props) => (
  <Pressable
    role={as === 'radio' ? 'radio' : 'button'}
    aria-label={describe ?? label}
    {...(as === 'radio' ? { 'aria-checked': on } : { 'aria-pressed': on })}
    onPress={onPress}
    style={styles.touch}
  >
    <View style={[styles.chip, on && styles.on]}>
      <Text kind="label" tone={on ? 'sea' : 'soft'}>
        {label}
      </Text>
    </View>
  </Pressable>
);

const styles = StyleSheet.create({
  touch: { minHeight: space.touch, justifyContent: 'center' },
  chip: {
    paddingHorizontal: space.s,
    paddingVertical: space.xs,
    borderRadius: radius.s,
    borderWidth: border.hair,
    borderColor: colour.quiet,
    backgroundColor: colour.quiet,
  },
  on: { backgroundColor: colour.paleSea, borderColor: colour.sea },
});
