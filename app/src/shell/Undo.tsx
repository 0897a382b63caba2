/** What was just removed, and the way to have it back; it stays until it is used, sent away or followed by another. */
import { border, Button, colour, space, Text } from '@under-lock/ui';
import { useState, useSyncExternalStore } from 'react';
import { StyleSheet, View } from 'react-native';
import { problemWords } from '../problem-words';
import { Watched } from '../watched';

interface Offer {
  text: string;
  undo: () => Promise<unknown>;
}

const offer = new Watched<Offer | undefined>(undefined);

/** @param text A sentence: what is gone. */
export const offerUndo = (text: string, undo: () => Promise<unknown>): void => offer.set({ text, undo });
/** With a vault that is locked, what was in it goes from here, too. */
export const forgetUndo = (): void => offer.set(undefined);

export function Undo() {
  const offered = useSyncExternalStore(offer.watch, offer.get);
  return offered === undefined ? null : <Offered key={offered.text} {...offered} />;
}

function Offered({ text, undo }: Offer) {
  const [failed, setFailed] = useState<string | undefined>();
  const bringBack = (): Promise<void> => undo().then(forgetUndo, (error: unknown) => setFailed(problemWords(error)));
  return (
    <View style={styles.strip}>
      <Text style={styles.words} aria-live="polite">
        {failed ?? text}
      </Text>
      <Button label="Undo" describe={`Undo: ${text}`} onPress={() => void bringBack()} />
      <Button kind="quiet" label="Dismiss" onPress={forgetUndo} />
    </View>
  );
}

const styles = StyleSheet.create({
  strip: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: space.m,
    paddingHorizontal: space.l,
    paddingVertical: space.s,
    backgroundColor: colour.paper,
    borderTopWidth: border.strong,
    borderTopColor: colour.sea,
  },
  words: { flex: 1, minWidth: 0 },
});
