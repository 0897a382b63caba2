/** What is asked for anew is shown anew, whatever shape it comes in: some answers are maps by address or key. */
import { act, render, screen } from '@testing-library/react';
import useSWR, { mutate, SWRConfig } from 'swr';
import { swrSettings } from '../src/swr';

let answer: unknown;
function Shown({ read }: { read: (data: never) => string }) {
  const { data } = useSWR('answer', async () => answer);
  return <p role="status">{data === undefined ? 'nothing' : read(data as never)}</p>;
}

test.each([
  [
    'a map',
    new Map([['pell@postbox.example', { level: 'valid' }]]),
    new Map([['pell@postbox.example', { level: 'stop' }]]),
    (data: Map<string, { level: string }>) => data.get('pell@postbox.example')!.level,
    ['valid', 'stop'],
  ],
  ['a set', new Set(['a']), new Set(['b']), (data: Set<string>) => [...data].join(), ['a', 'b']],
  ['octets', Uint8Array.of(1), Uint8Array.of(2), (data: Uint8Array) => data.join(), ['1', '2']],
  ['a moment', new Date(1), new Date(2), (data: Date) => String(data.getTime()), ['1', '2']],
] as const)('%s that has changed is shown as it is now', async (_, before, after, read, [first, second]) => {
  await act(() => mutate('answer', undefined, { revalidate: false }));
  answer = before;
  const { unmount } = render(
    <SWRConfig value={{ ...swrSettings, dedupingInterval: 0 }}>
      <Shown read={read as never} />
    </SWRConfig>,
  );
  await screen.findByText(first);
  answer = after;
  await act(() => mutate('answer'));
  await screen.findByText(second);
  unmount();
});
