/** Pages that show what is so now: asked again as soon as it has changed, and now and then in any case. */
import { type ChangeKind } from '@under-lock/contract/live';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import { type Middleware, unstable_serialize as spelledKey } from 'swr';
import { Watched } from '../watched';
import { browserPorts } from './browser';
import { Feed } from './feed';

const TOLD_MS = 60_000;
const UNTOLD_MS = 10_000;

interface Follower {
  kinds: readonly ChangeKind[];
  again: () => unknown;
}

/** By what they show: however many show the same, it is asked for once. */
const followers = new Map<string, Set<Follower>>();
const isTold = new Watched(false);

function tellFollowers(kinds: readonly ChangeKind[] | undefined): void {
  for (const [first] of followers.values())
    if (first !== undefined && (kinds === undefined || first.kinds.some((kind) => kinds.includes(kind))))
      void first.again();
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
    const follower: Follower = {
      get kinds() {
        return latest.current.kinds;
      },
      again: () => latest.current.again(),
    };
    const of = followers.get(shown) ?? new Set();
    followers.set(shown, of.add(follower));
    return () => {
      of.delete(follower);
      if (of.size === 0) followers.delete(shown);
    };
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
      useFollowing(spelledKey(key), kinds, shown.mutate);
      return shown;
    };

/** Like {@link told}, and asked now and then in any case: for what somebody waits for. */
export const live =
  (...kinds: ChangeKind[]): Middleware =>
  (next) =>
    function useLive(key, fetcher, config) {
      return told(...kinds)(next)(key, fetcher, { ...config, refreshInterval: useRefreshEvery() });
    };
