/** What is asked for once the vault is open is asked once: the stream that tells of changes is there before it. */
import { act, render, screen, waitFor } from '@testing-library/react';
import useSWR from 'swr';
import { type LineEvents } from '../src/live/feed';
import { told } from '../src/live/live';
import { Gate } from '../src/session/Gate';

let mockLine: LineEvents | undefined;
let mockClosed = 0;
let mockOpenVault: (isOpen: boolean) => void = () => undefined;
jest.mock('../src/live/browser', () => ({
  browserPorts: {
    open: (events: LineEvents) => {
      mockLine = events;
      return { close: () => void (mockClosed += 1) };
    },
    channel: () => ({ post: () => undefined, onSaid: () => undefined, close: () => undefined }),
    hold: (_name: string, _until: AbortSignal, held: () => void) => held(),
  },
}));
jest.mock('../src/api', () => ({
  api: async () => ({ session: { account: { id: 'an account', address: 'maren@islandferry.example' } } }),
  forgetAnswers: () => undefined,
}));
jest.mock('../src/threads/main/door', () => ({
  door: () => ({ account: { restore: () => new Promise((resolve) => (mockOpenVault = resolve)) } }),
}));
jest.mock('../src/session/account-key', () => ({ useAccountKey: () => undefined }));
jest.mock('../src/session/idle', () => ({ useIdleLock: () => undefined }));
jest.mock('../src/session/SignInScreen', () => ({ SignInScreen: () => 'Sign in' }));
jest.mock('../src/session/UnlockScreen', () => ({ UnlockScreen: () => 'Locked' }));
class NoChannel {
  onmessage: unknown;
  close(): void {}
}
Object.assign(globalThis, { BroadcastChannel: NoChannel });

let asked = 0;
function Asks() {
  const { data } = useSWR('of a page', async () => (asked += 1), { use: [told('sent')] });
  return <p>{data === undefined ? 'waits' : 'is here'}</p>;
}

test('the stream opens while the vault does, stays while it is open, and ends with the page', async () => {
  const { unmount } = render(
    <Gate>
      <Asks />
    </Gate>,
  );
  await waitFor(() => expect(mockLine).toBeDefined());
  expect(screen.queryByText('is here')).toBeNull();
  await act(async () => mockLine!.here());
  // Whose session it is may be another's by now: that is asked anew.
  await act(async () => mockOpenVault(true));
  expect(await screen.findByText('is here')).toBeTruthy();
  expect(asked).toBe(1);
  expect(mockClosed).toBe(0);
  await act(async () => mockLine!.changed(JSON.stringify({ kinds: ['sent'] })));
  await waitFor(() => expect(asked).toBe(2));
  unmount();
  expect(mockClosed).toBe(1);
});
