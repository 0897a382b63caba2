/** That there is no connection, and what that means for what somebody is at; gone as soon as there is one again. */
import { border, colour, space, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';
import { useConnection } from '../live/live';

export function Connection() {
  if (useConnection() === 'here') return null;
  return (
    <View style={styles.strip} role="status">
      <Text kind="small" tone="amber">
        ▲ No connection. What is open here stays, and search goes on; what you write is kept once there is one again.
        Leave this page open until then.
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  strip: {
    paddingHorizontal: space.l,
    paddingVertical: space.s,
    backgroundColor: colour.paleAmber,
    borderBottomWidth: border.hair,
    borderBottomColor: colour.line,
  },
});
