/** Pages that show what is so now: asked again as soon as it has changed, and now and then in any case. */
import { type ChangeKind } from '@under-lock/contract/live';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import { type Key, type Middleware, mutate, unstable_serialize as spelledKey } from 'swr';
import { unstable_serialize as spelledList } from 'swr/infinite';
import { Watched } from '../watched';
import { browserPorts } from './browser';
import { Feed } from './feed';

const TOLD_MS = 60_000;
const UNTOLD_MS = 10_000;

interface Follower {
  again: () => unknown;
}

/** What was shown once, and who shows it now: however many show the same, it is asked for once. */
interface Shown {
  kinds: readonly ChangeKind[];
  followers: Set<Follower>;
}
const shownOnce = new Map<string, Shown>();
const isTold = new Watched(false);

function tellFollowers(kinds: readonly ChangeKind[] | undefined): void {
  for (const [shown, { kinds: ofIt, followers }] of shownOnce) {
    if (kinds !== undefined && !ofIt.some((kind) => kinds.includes(kind))) continue;
    const [first] = followers;
    // Shown by nobody now: what was answered before counts no longer for whoever shows it next, however soon.
    void (first === undefined ? mutate(shown) : first.again());
  }
}

/** A line that is cut now and then, by a proxy, is there again sooner. */
const AWAY_AFTER_MS = 5_000;
const isAway = new Watched(false);
let away: ReturnType<typeof setTimeout> | undefined;

function setTold(now: boolean): void {
  clearTimeout(away);
  if (isTold.get() && !now) away = setTimeout(() => isAway.set(true), AWAY_AFTER_MS);
  isTold.set(now);
  if (now) isAway.set(false);
}

/** While a page of the office is open. */
export function useFeed(accountId: string | undefined): void {
  useEffect(() => {
    if (accountId === undefined) return undefined;
    const feed = new Feed(accountId, { changed: tellFollowers, live: setTold }, browserPorts);
    return () => {
      feed.stop();
      setTold(false);
      clearTimeout(away);
    };
  }, [accountId]);
}

/** Away: the device has no network, or a server that was heard is heard no more. */
export const useConnection = (): 'here' | 'away' =>
  useSyncExternalStore(watchConnection, () => (isAway.get() || !navigator.onLine ? 'away' : 'here'));

function watchConnection(watcher: () => void): () => void {
  const stop = isAway.watch(watcher);
  for (const event of ['online', 'offline']) window.addEventListener(event, watcher);
  return () => {
    stop();
    for (const event of ['online', 'offline']) window.removeEventListener(event, watcher);
  };
}

const useRefreshEvery = (): number => (useSyncExternalStore(isTold.watch, isTold.get) ? TOLD_MS : UNTOLD_MS);

function useFollowing(shown: string, kinds: readonly ChangeKind[], again: () => unknown): void {
  const latest = useRef({ kinds, again });
  latest.current = { kinds, again };
  useEffect(() => {
    if (shown === '') return undefined;
    const follower: Follower = { again: () => latest.current.again() };
    const { followers } = shownOnce.get(shown) ?? { followers: new Set() };
    shownOnce.set(shown, { kinds: latest.current.kinds, followers: followers.add(follower) });
    return () => void followers.delete(follower);
  }, [shown]);
}

/**
 * For what is shown with `useSWR` or `useSWRInfinite`: `{ use: [told('office')] }`. It is asked again when something of
 * these kinds has changed.
 */
export const told =
  (...kinds: ChangeKind[]): Middleware =>
  (next) =>
    function useTold(key, fetcher, config) {
      const shown = next(key, fetcher, config);
      // A list that comes in pages has a function for its key.
      const spelled = typeof key === 'function' ? spelledList(key as () => Key) : spelledKey(key);
      useFollowing(spelled, kinds, shown.mutate);
      return shown;
    };

/** Like {@link told}, and asked now and then in any case: for what somebody waits for. */
export const live =
  (...kinds: ChangeKind[]): Middleware =>
  (next) =>
    function useLive(key, fetcher, config) {
      return told(...kinds)(next)(key, fetcher, { ...config, refreshInterval: useRefreshEvery() });
    };
