/** One card a way, each with its lock's shape. */
import { border, colour, radius, space, Text } from '@under-lock/ui';
import { LockShape, type Shape } from '@under-lock/ui/lock-shape';
import { Pressable, StyleSheet, View } from 'react-native';
import { chooseWords } from './words';

export const WAYS = ['room', 'file', 'own', 'made'] as const;
export type Way = (typeof WAYS)[number];

const shapes: Record<Way, Shape> = { room: 'arch', file: 'sheet', own: 'hexagon', made: 'hexagon' };

export function WayCards({ label, value, onChange }: { label: string; value: Way; onChange: (way: Way) => void }) {
  return (
    <View role="radiogroup" aria-label={label} style={styles.group}>
      {WAYS.map((way) => (
        <Pressable
          key={way}
          role="radio"
          aria-checked={way === value}
          aria-label={`${chooseWords.names[way]}. ${chooseWords.details[way]}`}
          onPress={() => onChange(way)}
          style={[styles.card, way === value && styles.chosen]}
        >
          <LockShape shape={shapes[way]} state={way === 'made' ? 'outline' : 'filled'} />
          <View style={styles.words}>
            <Text kind="strong">{chooseWords.names[way]}</Text>
            <Text kind="small" tone="soft">
              {chooseWords.details[way]}
            </Text>
          </View>
        </Pressable>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  group: { gap: space.m },
  card: {
    flexDirection: 'row',
    gap: space.m,
    padding: space.m,
    backgroundColor: colour.paper,
    borderColor: colour.edge,
    borderWidth: border.hair,
    borderRadius: radius.m,
    minHeight: space.touch,
  },
  chosen: { borderColor: colour.sea, borderWidth: border.strong, backgroundColor: colour.paleSea },
  words: { flex: 1, gap: space.xs },
});
