import { type ReactElement } from 'react';
import { StyleSheet, View } from 'react-native';
import { space } from './tokens';

/**
 * Two parts of a page: beside one another where there is room for both, the second under the first where there is not.
 * The first gets the more of the room, or as much as the second, or the less.
 */
export const Columns = ({ room = 'more', children: [first, second] }: Props) => (
  <View style={styles.both}>
    <View style={[styles.column, styles[room]]}>{first}</View>
    <View style={[styles.column, styles[others[room]]]}>{second}</View>
  </View>
);

interface Props {
  /** The first one's share. */
  room?: keyof typeof others;
  children: [ReactElement, ReactElement];
}
const others = { more: 'less', even: 'even', less: 'more' } as const;

const styles = StyleSheet.create({
  both: { flexDirection: 'row', flexWrap: 'wrap', gap: space.xl, alignItems: 'flex-start' },
  column: { flexShrink: 1, minWidth: 0, maxWidth: '100%', gap: space.l },
  more: { flexGrow: 3, flexBasis: 420 },
  even: { flexGrow: 1, flexBasis: 320 },
  less: { flexGrow: 2, flexBasis: 250 },
});
