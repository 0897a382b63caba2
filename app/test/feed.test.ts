/** One stream for all tabs: who has it, who hears of it, and what happens when it falls silent or its tab goes. */
import { SILENCE_MS } from '@under-lock/contract/live';
import { Feed, type LineEvents, type Ports } from '../src/live/feed';

interface Line {
  events: LineEvents;
  closed: boolean;
}

/** A browser with as many tabs as are opened: its locks, its channels, the lines it holds. */
function browser() {
  const lines: Line[] = [];
  const tabs = new Set<{ name: string; listener?: (said: unknown) => void }>();
  const waiting: { until: AbortSignal; held: () => void }[] = [];
  let holder: AbortSignal | undefined;
  const grant = (): void => {
    if (holder !== undefined) return;
    const next = waiting.shift();
    if (next === undefined) return;
    if (next.until.aborted) return grant();
    holder = next.until;
    next.until.addEventListener('abort', () => {
      holder = undefined;
      grant();
    });
    next.held();
  };
  const ports: Ports = {
    open(events) {
      const line: Line = { events, closed: false };
      lines.push(line);
      return { close: () => (line.closed = true) };
    },
    channel(name) {
      const tab: { name: string; listener?: (said: unknown) => void } = { name };
      tabs.add(tab);
      return {
        post: (said) => {
          for (const other of tabs)
            if (other !== tab && other.name === name) other.listener?.(JSON.parse(JSON.stringify(said)));
        },
        onSaid: (listener) => (tab.listener = listener),
        close: () => tabs.delete(tab),
      };
    },
    hold(_, until, held) {
      waiting.push({ until, held });
      grant();
    },
  };
  const open = (account = 'maren') => {
    const heard: (string | undefined)[] = [];
    const states: boolean[] = [];
    const feed = new Feed(
      account,
      { changed: (kinds) => heard.push(kinds?.join(' ')), live: (isLive) => states.push(isLive) },
      ports,
    );
    return { feed, heard, states };
  };
  return { lines, open, say: (said: unknown) => tabs.forEach((tab) => tab.listener?.(said)) };
}

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('one line for three tabs; all of them hear what changes, and that everything may have before', () => {
  const { lines, open } = browser();
  const tabs = [open(), open(), open()];
  expect(lines).toHaveLength(1);
  lines[0]!.events.here();
  lines[0]!.events.changed('{"kinds":["sent","vault/draft"]}');
  for (const { heard, states } of tabs) {
    expect(heard).toEqual([undefined, 'sent vault/draft']);
    expect(states).toEqual([true]);
  }
  // Who comes later learns at once that it is there.
  const late = open();
  expect(late.states).toEqual([true]);
  expect(lines).toHaveLength(1);
});

test('the tab with the line goes: the next one opens it, and everything is asked again only after it was lost', () => {
  const { lines, open } = browser();
  const [first, second] = [open(), open()];
  lines[0]!.events.here();
  first.feed.stop();
  expect(lines[0]!.closed).toBe(true);
  expect(lines).toHaveLength(2);
  lines[1]!.events.here();
  lines[1]!.events.changed('{"kinds":["received"]}');
  expect(second.heard).toEqual([undefined, 'received']);
  lines[1]!.events.lost(false);
  expect(second.states).toEqual([true, false]);
  lines[1]!.events.here();
  expect(second.states).toEqual([true, false, true]);
  expect(second.heard).toEqual([undefined, 'received', undefined]);
});

test('a line that falls silent is opened anew, one that was refused after a while, and no other', () => {
  const { lines, open } = browser();
  const [first, second] = [open(), open()];
  lines[0]!.events.here();
  jest.advanceTimersByTime(SILENCE_MS - 1);
  lines[0]!.events.here();
  jest.advanceTimersByTime(SILENCE_MS - 1);
  expect(first.states).toEqual([true]);
  jest.advanceTimersByTime(2);
  expect([first.states, second.states]).toEqual([
    [true, false],
    [true, false],
  ]);
  expect(lines.map(({ closed }) => closed)).toEqual([true, false]);
  lines[1]!.events.lost(true);
  expect(lines).toHaveLength(2);
  jest.advanceTimersByTime(5_000);
  expect(lines.map(({ closed }) => closed)).toEqual([true, true, false]);
  first.feed.stop();
  second.feed.stop();
  jest.advanceTimersByTime(10 * SILENCE_MS);
  expect(lines.every(({ closed }) => closed)).toBe(true);
});

test('another account’s tabs are apart, and what is not ours to say is passed over', () => {
  const { lines, open, say } = browser();
  const maren = open('maren');
  open('tobias');
  for (const odd of [undefined, 7, 'here', { kind: 'odd' }, { kind: 'changed', kinds: ['everything'] }]) say(odd);
  lines[0]!.events.changed('{"kinds":["something else"]}');
  lines[0]!.events.changed('not JSON');
  expect(maren.heard).toEqual([]);
  lines[0]!.events.here();
  lines[0]!.events.changed('{"kinds":["office"]}');
  expect(maren.heard).toEqual([undefined, 'office']);
});
