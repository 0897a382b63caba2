/** The lock's shape. */
import { StyleSheet, View } from 'react-native';
import { border, colour } from './tokens';

export type Shape = 'arch' | 'folded-arch' | 'hexagon' | 'diamond' | 'sheet' | 'ring';
const paths: Record<Shape, string> = {
  arch: 'M3 21V10a9 9 0 0 1 18 0v11z',
  'folded-arch': 'M4 22V2h11l5 5v15h-4v-6a4 4 0 0 0-8 0v6z',
  hexagon: 'M12 2l9 5v10l-9 5-9-5V7z',
  diamond: 'M12 1l11 11-11 11L1 12z',
  sheet: 'M4 2h11l5 5v15H4z',
  // Nothing is inside it.
  ring: 'M12 3a9 9 0 0 1 0 18a9 9 0 0 1 0-18zM12 8a4 4 0 0 0 0 8a4 4 0 0 0 0-8z',
};

/**
 * Filled: in force. Outline: not used yet. Red outline: can't be used. Always beside its word, so hidden from screen
 * readers.
 */
export function LockShape({
  shape,
  state,
  size = 20,
}: {
  shape: Shape;
  state: 'filled' | 'outline' | 'stopped';
  size?: number;
}) {
  const ink = state === 'stopped' ? colour.brick : colour.sea;
  return (
    <View aria-hidden style={styles.shape}>
      <svg width={size} height={size} viewBox="0 0 24 24" style={drawn}>
        <path d={paths[shape]} fill={state === 'filled' ? ink : 'none'} stroke={ink} strokeWidth={2} />
      </svg>
    </View>
  );
}

// By the browser itself: a drawing library would be a tenth of a first page.
const drawn = { display: 'block' } as const;

const styles = StyleSheet.create({ shape: { paddingTop: border.strong } });
