/** What changed while nobody showed it: whoever shows it next has it as it is now, however soon that is. */
import { act, render, screen, waitFor } from '@testing-library/react';
import useSWR from 'swr';
import useSWRInfinite from 'swr/infinite';
import { type LineEvents } from '../src/live/feed';
import { told, useFeed } from '../src/live/live';

let line: LineEvents | undefined;
jest.mock('../src/live/browser', () => ({
  browserPorts: {
    open: (events: LineEvents) => {
      line = events;
      return { close: () => undefined };
    },
    channel: () => ({ post: () => undefined, onSaid: () => undefined, close: () => undefined }),
    hold: (_name: string, _until: AbortSignal, held: () => void) => held(),
  },
}));

let onServer = 0;
const changed = () => line!.changed(JSON.stringify({ kinds: ['received'] }));

function Single() {
  const { data } = useSWR('single', async () => onServer, { use: [told('received')] });
  return <p>{`single ${data}`}</p>;
}
function Paged() {
  const { data } = useSWRInfinite(
    () => 'paged',
    async () => onServer,
    { use: [told('received')] },
  );
  return <p>{`paged ${data?.join()}`}</p>;
}
function Page({ lists }: { lists: boolean }) {
  useFeed('an account');
  return lists ? (
    <>
      <Single />
      <Paged />
    </>
  ) : (
    <p>elsewhere</p>
  );
}

test.each(['single', 'paged'])('a %s list that was left before the change is asked for again', async (list) => {
  onServer += 1;
  const { rerender, unmount } = render(<Page lists />);
  act(() => line!.here());
  expect(await screen.findByText(`${list} ${onServer}`)).toBeTruthy();
  rerender(<Page lists={false} />);
  onServer += 1;
  act(changed);
  rerender(<Page lists />);
  await waitFor(() => expect(screen.getByText(`${list} ${onServer}`)).toBeTruthy());
  unmount();
});
