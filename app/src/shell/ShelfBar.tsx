/** The lists of a place, side by side; the one that is shown is marked. */
import { border, colour, space, type } from '@under-lock/ui';
import { Link } from 'expo-router';
import { type ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';

export interface ShelfOf<Key extends string> {
  key: Key;
  label: string;
  href: string;
  /** What waits on it. */
  count?: number;
}

interface Props<Key extends string> {
  /** Of the place. */
  label: string;
  shelves: readonly ShelfOf<Key>[];
  here: Key;
  aside?: ReactNode;
}

export const ShelfBar = <Key extends string>({ label: place, shelves, here, aside }: Props<Key>) => (
  <View style={styles.row}>
    <View role="navigation" aria-label={place} style={styles.shelves}>
      {shelves.map(({ key, label, href, count = 0 }) => (
        <Link
          key={key}
          href={href as never}
          aria-current={here === key ? 'page' : undefined}
          style={[styles.shelf, here === key && styles.here] as never}
        >
          <Text style={[styles.label, here === key && styles.hereLabel]}>
            {count > 0 ? `${label} (${count})` : label}
          </Text>
        </Link>
      ))}
    </View>
    {aside === undefined ? null : <View style={styles.aside}>{aside}</View>}
  </View>
);

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', borderBottomWidth: border.hair, borderBottomColor: colour.line },
  shelves: { flexDirection: 'row', flexGrow: 1 },
  aside: { paddingRight: space.s, flexShrink: 0 },
  shelf: {
    minHeight: space.touch,
    minWidth: space.touch,
    paddingHorizontal: space.s,
    display: 'flex',
    alignItems: 'center',
    justifyContent: 'center',
    borderBottomWidth: 3,
    borderBottomColor: 'transparent',
    textDecorationLine: 'none',
  } as object,
  here: { borderBottomColor: colour.sea },
  label: { ...type.strong, color: colour.soft },
  hereLabel: { color: colour.sea },
});
