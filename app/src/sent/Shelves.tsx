import { border, colour, space, type } from '@under-lock/ui';
import { Link } from 'expo-router';
import { StyleSheet, Text, View } from 'react-native';
import { useReceivedList } from '../received/useReceived';

const shelves = [
  ['received', 'Received', '/mail/received'],
  ['sent', 'Sent', '/mail'],
  ['drafts', 'Drafts', '/mail/drafts'],
] as const;

/** The three lists of Mail. */
export function Shelves({ here }: { here: (typeof shelves)[number][0] }) {
  const { data } = useReceivedList();
  const unread = data?.[0]?.unread ?? 0;
  return (
    <View role="navigation" aria-label="Mail" style={styles.shelves}>
      {shelves.map(([key, label, href]) => (
        <Link
          key={key}
          href={href as never}
          aria-current={here === key ? 'page' : undefined}
          style={[styles.shelf, here === key && styles.here] as never}
        >
          <Text style={[styles.label, here === key && styles.hereLabel]}>
            {key === 'received' && unread > 0 ? `${label} (${unread})` : label}
          </Text>
        </Link>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  shelves: { flexDirection: 'row', borderBottomWidth: border.hair, borderBottomColor: colour.line },
  shelf: {
    minHeight: space.touch,
    minWidth: space.touch * 2,
    paddingHorizontal: space.m,
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
