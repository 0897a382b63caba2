/** That there is no connection, or that a part of the page could not be had, and what that means for one's work. */
import { border, Button, colour, Row, space, Text } from '@under-lock/ui';
import { type ReactNode, useSyncExternalStore } from 'react';
import { StyleSheet, View } from 'react-native';
import { useConnection } from '../live/live';
import { threadLost } from '../threads/start';

export function Connection() {
  const isAway = useConnection() === 'away';
  const isPartLost = useSyncExternalStore(threadLost.watch, threadLost.get);
  // A part that is missing while there is no connection is missing for want of one.
  if (isAway)
    return (
      <Strip>
        ▲ No connection. What is open here stays, and search goes on; what you write is kept once there is one again.
        Leave this page open until then.
      </Strip>
    );
  if (!isPartLost) return null;
  return (
    <Strip act={<Button label="Load again" onPress={() => window.location.reload()} />}>
      ▲ A part of this page could not be fetched: what you just asked for waits in vain. What you wrote was kept up to a
      moment ago; load the page again.
    </Strip>
  );
}

const Strip = ({ children, act }: { children: string | string[]; act?: ReactNode }) => (
  <View style={styles.strip} role="status">
    <Text kind="small" tone="amber">
      {children}
    </Text>
    {act === undefined ? null : <Row>{act}</Row>}
  </View>
);

const styles = StyleSheet.create({
  strip: {
    gap: space.s,
    paddingHorizontal: space.l,
    paddingVertical: space.s,
    backgroundColor: colour.paleAmber,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
  },
});
