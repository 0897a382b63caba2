/** A list that was left before it was there, and that has changed meanwhile, is asked for anew when it is shown again. */
import { act, render, waitFor } from '@testing-library/react';
import { refreshSent, useSentList } from '../src/sent/useSent';
import { refreshReceived, useReceivedList } from '../src/received/useReceived';

let mockAsked = 0;
let mockAnswered: Promise<void> | undefined;
jest.mock('../src/api', () => ({
  api: async () => {
    mockAsked += 1;
    await mockAnswered;
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
  mockAsked = 0;
  let answer: () => void = () => undefined;
  mockAnswered = new Promise((resolve) => (answer = resolve));
  function Shown() {
    return <p>{useList().data === undefined ? 'nothing' : 'read'}</p>;
  }
  const left = render(<Shown />);
  await waitFor(() => expect(mockAsked).toBe(1));
  left.unmount();
  await act(() => refresh());
  await act(async () => answer());
  mockAnswered = undefined;
  const { unmount } = render(<Shown />);
  await waitFor(() => expect(mockAsked).toBe(2));
  unmount();
});
