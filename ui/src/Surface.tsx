import { type ReactNode } from 'react';
import { ActivityIndicator, StyleSheet, View, type ViewProps } from 'react-native';
import { Heading, Text } from './Text';
import { border, colour, radius, space } from './tokens';

/** A sheet of paper with a hairline. */
export function Panel({ children, style, ...rest }: ViewProps) {
  return (
    <View {...rest} style={[styles.panel, style]}>
      {children}
    </View>
  );
}

/** A line in a panel, parted from the next by a hairline. */
export function Line({ children, last = false, style, ...rest }: ViewProps & { last?: boolean }) {
  return (
    <View {...rest} style={[styles.line, last && styles.last, style]}>
      {children}
    </View>
  );
}

export function Section({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <View style={styles.section}>
      <View style={styles.sectionHead}>
        <Heading level={2} kind="label" tone="soft">
          {title}
        </Heading>
        {typeof aside === 'string' ? (
          <Text kind="label" tone="soft">
            {aside}
          </Text>
        ) : (
          <View style={styles.aside}>{aside}</View>
        )}
      </View>
      {children}
    </View>
  );
}

/** A sentence that matters, with a bar at its side and a form before it. */
export function Banner({
  tone,
  children,
  actions,
}: {
  tone: 'sea' | 'amber' | 'brick';
  children: ReactNode;
  actions?: ReactNode;
}) {
  const form = { sea: '●', amber: '▲', brick: '■' }[tone];
  return (
    <View style={[styles.banner, styles[tone]]} role={tone === 'brick' ? 'alert' : 'status'}>
      <View style={styles.bannerText}>
        <Text kind="small" tone={tone}>
          {form}
        </Text>
        <Text kind="small" tone={tone} style={styles.grow}>
          {children}
        </Text>
      </View>
      {actions === undefined ? null : <View style={styles.actions}>{actions}</View>}
    </View>
  );
}

/** Nothing here yet: what would be here, and what to do. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <View style={styles.empty}>
      <Text kind="strong">{title}</Text>
      <Text tone="soft">{children}</Text>
      {action}
    </View>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <View style={styles.loading} role="status" aria-label={what}>
      <View aria-hidden>
        <ActivityIndicator color={colour.sea} />
      </View>
      <Text kind="small" tone="soft">
        {what}
      </Text>
    </View>
  );
}

export const Row = ({ children, style, ...rest }: ViewProps) => (
  <View {...rest} style={[styles.row, style]}>
    {children}
  </View>
);
export const Stack = ({ children, style, ...rest }: ViewProps) => (
  <View {...rest} style={[styles.stack, style]}>
    {children}
  </View>
);

const styles = StyleSheet.create({
  panel: { backgroundColor: colour.paper, borderColor: colour.line, borderWidth: border.hair, borderRadius: radius.m },
  line: {
    padding: space.l - border.strong,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
    gap: space.xs,
  },
  last: { borderBottomWidth: 0 },
  section: { gap: space.s },
  // What is large enough to touch makes the line of the name no higher.
  aside: { marginVertical: -space.m },
  sectionHead: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', gap: space.m },
  banner: { borderStartWidth: border.bar, padding: space.m, gap: space.s },
  bannerText: { flexDirection: 'row', gap: space.s },
  actions: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
  grow: { flex: 1 },
  sea: { backgroundColor: colour.paleSea, borderStartColor: colour.sea },
  amber: { backgroundColor: colour.paleAmber, borderStartColor: colour.amber },
  brick: { backgroundColor: colour.paleBrick, borderStartColor: colour.brick },
  empty: {
    paddingVertical: space.xl,
    paddingHorizontal: space.l - border.strong,
    gap: space.s,
    alignItems: 'flex-start',
  },
  loading: { padding: space.xl, gap: space.s, flexDirection: 'row', alignItems: 'center' },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s, alignItems: 'center' },
  stack: { gap: space.l },
});
