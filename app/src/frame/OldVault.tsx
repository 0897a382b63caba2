/**
 * Said over every page when the server gave out a vault that is not as it was left: what that means, and what can be
 * done.
 */
import { Banner, Button, Dialog, space, Stack, Text } from '@under-lock/ui';
import { useState, useSyncExternalStore } from 'react';
import { StyleSheet, View } from 'react-native';
import { mutate } from 'swr';
import { useAttempt } from '../shell/useAttempt';
import { door } from '../threads/main/door';
import { type OldPart, oldVault } from '../threads/old-vault';

const names: Record<OldPart, string> = { vault: 'your vault', book: 'the office book' };

export function OldVault() {
  const old = useSyncExternalStore(oldVault.watch, oldVault.get);
  const [asking, setAsking] = useState(false);
  const { busy, said, attempt } = useAttempt();
  const accept = (): Promise<void> =>
    attempt(async () => {
      if (old.has('vault')) await door().vault.accept();
      if (old.has('book')) await door().book.accept();
      oldVault.set(new Set());
      setAsking(false);
      await mutate(() => true);
    });
  if (old.size === 0) return null;
  const what = (['vault', 'book'] as const).flatMap((one) => (old.has(one) ? names[one] : [])).join(' and of ');
  return (
    <View style={styles.place}>
      <Banner tone="brick" actions={<Button kind="quiet" label="What can I do?" onPress={() => setAsking(true)} />}>
        {`The server gave out an older state of ${what}, so nothing of it is used.`}
      </Banner>
      <Dialog
        title={`${old.has('vault') ? 'Your vault' : 'The office book'} is older than it was left`}
        open={asking}
        onClose={() => setAsking(false)}
        said={said}
        actions={
          <>
            <Button kind="main" label="Go on with what is there" busy={busy} onPress={() => void accept()} />
            <Button label="Not now" onPress={() => setAsking(false)} />
          </>
        }
      >
        <Stack>
          <Text>
            Drafts, people, keys and passwords are counted each time you change one, the office book each time a
            colleague does. What the server gave out now does not fit the last count that was made.
          </Text>
          <Text>
            This is how it looks after somebody has restored a backup, and also if somebody wants you to use an old
            number, key or certificate again. Ask whoever runs the server which of the two it is.
          </Text>
          <Text>
            If a backup was restored, go on with what is there. Changes made since that backup are gone; look through
            People before you send anything.
          </Text>
        </Stack>
      </Dialog>
    </View>
  );
}

const styles = StyleSheet.create({ place: { padding: space.m } });
