import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import { Banner } from './Surface';
import { space } from './tokens';

/** What is said of something done. */
export interface Said {
  tone: 'sea' | 'amber' | 'brick';
  text: string;
}

/** A sentence alone is about what went wrong. */
export type SaidOrFailed = Said | string | undefined;

/**
 * What came of a press. It may stand far from what was pressed, above a long list or below one: it comes into sight by
 * itself.
 */
export function Result({ said }: { said: SaidOrFailed }) {
  const place = useRef<View>(null);
  const { tone, text } = typeof said === 'string' ? ({ tone: 'brick', text: said } as const) : (said ?? {});
  useEffect(() => {
    if (text === undefined) return;
    // As little as it takes, and not at all where it is in sight.
    (place.current as unknown as Partial<HTMLElement> | null)?.scrollIntoView?.({ block: 'nearest' });
  }, [tone, text]);
  if (tone === undefined || text === undefined) return null;
  return (
    <View ref={place} style={styles.place}>
      <Banner tone={tone}>{text}</Banner>
    </View>
  );
}

// Not at the very edge of what is scrolled.
const styles = StyleSheet.create({ place: { scrollMarginBlock: space.l } as object });
