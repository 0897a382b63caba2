/** Lists show at once what was done to them: they are asked for anew, not a few seconds later. */
import { act, render, waitFor } from '@testing-library/react';
import { refreshSent, useSentList } from '../src/sent/useSent';
import { refreshReceived, useReceivedList } from '../src/received/useReceived';

const mockAsked: string[] = [];
jest.mock('../src/api', () => ({
  api: async ({ path }: { path: string }) => {
    mockAsked.push(path);
    return { messages: [] };
  },
}));
jest.mock('../src/threads/main/door', () => ({
  door: () => ({ received: { subjects: async () => [], incoming: async () => [] } }),
}));
jest.mock('../src/vault/useVault', () => ({ openSent: async () => [] }));

test.each([
  ['Received', useReceivedList, refreshReceived],
  ['Sent', useSentList, refreshSent],
] as const)('%s', async (_, useList, refresh) => {
  mockAsked.length = 0;
  function Shown() {
    return <p>{useList().data === undefined ? 'nothing' : 'read'}</p>;
  }
  const { unmount } = render(<Shown />);
  await waitFor(() => expect(mockAsked).toHaveLength(1));
  await act(() => refresh());
  expect(mockAsked).toHaveLength(2);
  unmount();
});
