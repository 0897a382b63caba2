import { colour, space, type } from '@under-lock/ui';
import { Link } from 'expo-router';
import { StyleSheet, Text } from 'react-native';

/** A way to another page as words: back with its mark before, forward with it behind. */
export function WayLink({ href, label, forward = false }: { href: string; label: string; forward?: boolean }) {
  return (
    <Link href={href as never} style={styles.link as never}>
      <Text style={styles.label}>{forward ? `${label} ›` : `‹ ${label}`}</Text>
    </Link>
  );
}

const styles = StyleSheet.create({
  link: {
    minHeight: space.touch,
    display: 'flex',
    alignItems: 'center',
    alignSelf: 'flex-start',
    flexShrink: 1,
    minWidth: 0,
    textDecorationLine: 'none',
  } as object,
  label: { ...type.label, color: colour.sea, overflowWrap: 'anywhere' } as object,
});
