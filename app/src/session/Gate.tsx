/**
 * Lets the office's pages through only with a session and an open vault; locks when nobody has touched them for a
 * while.
 */
import { Banner, Button, colour, Loading, space } from '@under-lock/ui';
import { type ReactNode, useEffect, useSyncExternalStore } from 'react';
import { StyleSheet, View } from 'react-native';
import { useFeed } from '../live/live';
import { problemWords } from '../problem-words';
import { useAccountKey } from './account-key';
import { useIdleLock } from './idle';
import {
  accountHere,
  listenToOtherTabs,
  refreshSession,
  type SessionState,
  useEndedElsewhere,
  useSession,
} from './session';
import { SignInScreen } from './SignInScreen';
import { UnlockScreen } from './UnlockScreen';

/**
 * Already while the vault is being opened: what the pages ask for then is asked once, since nothing can have changed
 * unheard when the stream is there before them.
 */
function useWhoListens(data: SessionState | undefined): string | undefined {
  const here = useSyncExternalStore(accountHere.watch, accountHere.get);
  if (data === undefined) return here;
  return data.at === 'open' ? data.session.account.id : undefined;
}

export function Gate({ children }: { children: ReactNode }) {
  const { data, error } = useSession();
  useEffect(listenToOtherTabs, []);
  useAccountKey(data?.at === 'open' ? data.session : undefined);
  useIdleLock(data?.at === 'open' ? data.session : undefined);
  useFeed(useWhoListens(data));
  useEndedElsewhere(data?.at);
  if (data === undefined && error !== undefined) {
    return (
      <View style={styles.page} role="main">
        <Banner tone="brick" actions={<Button label="Try again" onPress={() => void refreshSession()} />}>
          {problemWords(error)}
        </Banner>
      </View>
    );
  }
  if (data === undefined) {
    return (
      <View style={styles.page} role="main">
        <Loading what="Opening Under Lock" />
      </View>
    );
  }
  if (data.at === 'signed-out') return <SignInScreen />;
  if (data.at === 'locked') return <UnlockScreen session={data.session} />;
  return children;
}

const styles = StyleSheet.create({ page: { flex: 1, backgroundColor: colour.ground, padding: space.l } });
