/** What the feed needs, as browsers have it. */
import { listenLive } from '@under-lock/contract/live';
import { type Ports } from './feed';

export const browserPorts: Ports = {
  open(events) {
    const source = new EventSource(listenLive.path);
    source.addEventListener('here', () => events.here());
    source.addEventListener('changed', ({ data }) => events.changed(String(data)));
    source.onerror = () => events.lost(source.readyState === EventSource.CLOSED);
    return source;
  },
  channel(name) {
    const channel = new BroadcastChannel(name);
    return {
      post: (said) => channel.postMessage(said),
      onSaid: (listener) => void (channel.onmessage = ({ data }) => listener(data)),
      close: () => channel.close(),
    };
  },
  hold(name, until, held) {
    // Where there are no such locks, each tab has a stream of its own.
    if (!('locks' in navigator)) return held();
    void navigator.locks
      .request(name, { signal: until }, () => {
        held();
        return new Promise<void>((release) => until.addEventListener('abort', () => release()));
      })
      // Given up while it was still waited for.
      .catch(() => undefined);
  },
};
