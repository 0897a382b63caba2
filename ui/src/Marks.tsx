/** Marks that say a state by form and word, never by colour alone. */
import { StyleSheet, View } from 'react-native';
import { Text } from './Text';
import { border, colour, radius, space } from './tokens';

export type StateTone = 'done' | 'wants' | 'stopped' | 'over';
const forms: Record<StateTone, string> = { done: '●', wants: '▲', stopped: '■', over: '○' };
const textTone = { done: 'sea', wants: 'amber', stopped: 'brick', over: 'soft' } as const;

export function StateMark({ tone, word }: { tone: StateTone; word: string }) {
  return (
    <View style={[styles.mark, styles[tone]]}>
      <Text kind="label" tone={textTone[tone]}>{`${forms[tone]} ${word}`}</Text>
    </View>
  );
}

/**
 * What is left until closing, as the filled part that ends at the tick. `left` is 0 to 1; the date stands beneath in
 * words.
 */
export function TimeBar({ left, tone = 'sea' }: { left: number; tone?: 'sea' | 'amber' }) {
  const share = Math.max(0, Math.min(1, left));
  return (
    <View aria-hidden style={styles.bar}>
      <View style={styles.gone} />
      <View
        style={[
          styles.rest,
          { width: `${Math.max(share * 100, share > 0 ? 1 : 0)}%` },
          tone === 'amber' && styles.restAmber,
        ]}
      />
      <View style={styles.tick} />
    </View>
  );
}

/** The bar with what is left said beside it. `from` and `until` bound the whole of it. */
export function TimeLeft({ from, until, now, words }: { from: Date; until: Date; now: Date; words: string }) {
  const whole = Math.max(1, until.getTime() - from.getTime());
  return (
    <View style={styles.left}>
      <View style={styles.grow}>
        <TimeBar left={(until.getTime() - now.getTime()) / whole} />
      </View>
      <Text kind="small" tone="soft">
        {words}
      </Text>
    </View>
  );
}

/** How much of a task is done, said to screen readers too. */
export function Progress({ done, label }: { done: number; label: string }) {
  const percent = Math.round(Math.max(0, Math.min(1, done)) * 100);
  return (
    <View
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      style={styles.progress}
    >
      <View style={[styles.progressDone, { width: `${percent}%` }]} />
    </View>
  );
}

const styles = StyleSheet.create({
  mark: {
    maxWidth: '100%',
    paddingHorizontal: space.s,
    paddingVertical: border.strong,
    borderRadius: radius.s,
    alignSelf: 'flex-start',
  },
  done: { backgroundColor: colour.paleSea },
  wants: { backgroundColor: colour.paleAmber },
  stopped: { backgroundColor: colour.paleBrick },
  over: { backgroundColor: colour.quiet },
  bar: { height: space.m, justifyContent: 'center', backgroundColor: 'transparent' },
  gone: { height: space.xs + border.hair, backgroundColor: colour.line },
  rest: { position: 'absolute', end: 0, height: space.xs + border.hair, backgroundColor: colour.sea, zIndex: 1 },
  restAmber: { backgroundColor: colour.amber },
  tick: {
    position: 'absolute',
    end: 0,
    width: border.strong,
    height: space.m,
    backgroundColor: colour.ink,
    zIndex: 2,
  },
  left: { flexDirection: 'row', gap: space.s, alignItems: 'center' },
  grow: { flex: 1 },
  progress: {
    height: space.s,
    backgroundColor: colour.quiet,
    borderRadius: radius.s,
    overflow: 'hidden',
    alignSelf: 'stretch',
  },
  progressDone: { height: space.s, backgroundColor: colour.sea },
});
