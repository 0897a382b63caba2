import { border, colour, space, type } from '@under-lock/ui';
import { Link } from 'expo-router';
import { type ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useReleases } from '../release/useReleases';
import { useReceivedList } from '../received/useReceived';

const shelves = [
  ['received', 'Received', '/mail/received'],
  ['sent', 'Sent', '/mail'],
  ['drafts', 'Drafts', '/mail/drafts'],
  ['waiting', 'Waiting', '/mail/waiting'],
] as const;
export type Shelf = (typeof shelves)[number][0];

/** The lists of Mail. */
export function Shelves({ here, aside }: { here: Shelf; aside?: ReactNode }) {
  const { data } = useReceivedList();
  const releases = useReleases().data;
  const counts: Partial<Record<Shelf, number>> = {
    received: data?.[0]?.unread ?? 0,
    waiting: (releases?.asked.length ?? 0) + (releases?.own.length ?? 0),
  };
  return (
    <View style={styles.row}>
      <View role="navigation" aria-label="Mail" style={styles.shelves}>
        {shelves
          .filter(([key]) => key !== 'waiting' || here === key || counts.waiting! > 0)
          .map(([key, label, href]) => (
            <Link
              key={key}
              href={href as never}
              aria-current={here === key ? 'page' : undefined}
              style={[styles.shelf, here === key && styles.here] as never}
            >
              <Text style={[styles.label, here === key && styles.hereLabel]}>
                {(counts[key] ?? 0) > 0 ? `${label} (${counts[key]})` : label}
              </Text>
            </Link>
          ))}
      </View>
      {aside === undefined ? null : <View style={styles.aside}>{aside}</View>}
    </View>
  );
}

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
