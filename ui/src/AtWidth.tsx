import { type ReactNode, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Text } from './Text';
import { border, colour, space } from './tokens';

/** Below this, what is meant to be pressed is too small for fingers: it can only be looked at. */
const USABLE = 0.6;

/**
 * Shows something as it is at another window's width: laid out at `width`, and made smaller as a whole where there is
 * less room. `onlyLooked` says so when that makes it too small to use.
 */
export function AtWidth({ width, onlyLooked, children }: { width: number; onlyLooked: string; children: ReactNode }) {
  const [room, setRoom] = useState(0);
  const scale = room === 0 ? 1 : Math.min(1, room / width);
  const small = scale < USABLE;
  return (
    <View style={styles.room} onLayout={({ nativeEvent: { layout } }) => setRoom(layout.width)}>
      {small ? (
        <Text kind="small" tone="soft" style={styles.said}>
          {onlyLooked}
        </Text>
      ) : null}
      {room === 0 ? null : (
        <div inert={small} style={{ ...page, width, zoom: scale }}>
          {children}
        </div>
      )}
    </View>
  );
}

const page = { border: `${border.hair}px solid ${colour.edge}`, flexShrink: 0, boxSizing: 'border-box' } as const;

const styles = StyleSheet.create({
  room: { alignSelf: 'stretch', alignItems: 'center', overflow: 'hidden' },
  said: { alignSelf: 'flex-start', paddingBottom: space.s },
});
