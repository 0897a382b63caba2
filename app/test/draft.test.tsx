/** The draft at hand keeps itself: when, what is said meanwhile, and what happens when the line or another tab is in the way. */
import { ApiProblem } from '@under-lock/contract/problem';
import { emptyDraft, type Draft } from '@under-lock/core/outgoing/draft';
import { act, renderHook } from '@testing-library/react';
import { useDraft } from '../src/write/useDraft';

const mockDoor = {
  held: { revision: 0, value: undefined } as { revision: number; value: Draft | undefined },
  failing: undefined as unknown,
  dropped: 0,
  kept: 0,
  slowMs: 0,
};

jest.mock('../src/vault/useVault', () => ({
  readItem: async () =>
    mockDoor.held.value === undefined
      ? undefined
      : { id: 'd', updatedAt: new Date('2026-11-27T10:00:00Z'), ...mockDoor.held },
  keepItem: async (_: string, __: string, revision: number, value: Draft) => {
    if (mockDoor.failing !== undefined) throw mockDoor.failing;
    if (revision !== mockDoor.held.revision) throw mockConflict();
    if (mockDoor.slowMs > 0) await new Promise((done) => setTimeout(done, mockDoor.slowMs));
    mockDoor.kept += 1;
    mockDoor.held = { revision: revision + 1, value };
    return revision + 1;
  },
  dropItem: async () => void (mockDoor.dropped += 1),
}));
jest.mock('../src/vault/closing-words', () => ({
  readClosingWords: async () => ({ text: 'Maren Oduya' }),
  withClosingWords: (text: string) => `<p>${text}</p>`,
}));

const problem = (code: 'conflict' | 'unreachable', status: number): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: code, status, code });
const mockConflict = (): ApiProblem => problem('conflict', 409);

beforeEach(() => {
  jest.useFakeTimers();
  Object.assign(mockDoor, {
    held: { revision: 0, value: undefined },
    failing: undefined,
    dropped: 0,
    kept: 0,
    slowMs: 0,
  });
});
afterEach(() => jest.useRealTimers());

const settle = (ms = 0): Promise<void> => act(async () => void (await jest.advanceTimersByTimeAsync(ms)));
async function opened(isFresh = true) {
  const hook = renderHook(() => useDraft('d', isFresh));
  await settle();
  return hook;
}
const subject = (hook: Awaited<ReturnType<typeof opened>>, words: string): void =>
  act(() => hook.result.current.change((before) => ({ ...before, subject: words })));

test('a fresh one begins with the words under one’s messages and is kept only once something is written', async () => {
  const hook = await opened();
  expect(hook.result.current.draft).toEqual({ ...emptyDraft, html: '<p>Maren Oduya</p>' });
  await settle(60_000);
  expect([mockDoor.kept, hook.result.current.keeping]).toEqual([0, { state: 'new' }]);
  subject(hook, 'Papers');
  expect(hook.result.current.keeping).toEqual({ state: 'changed' });
  await settle(700);
  expect(mockDoor.held).toMatchObject({ revision: 1, value: { subject: 'Papers' } });
  expect(hook.result.current.keeping).toMatchObject({ state: 'kept' });
});

test('many keys in a row are kept once, and the last of them is', async () => {
  const hook = await opened();
  for (const words of ['P', 'Pa', 'Pap', 'Pape', 'Paper']) {
    subject(hook, words);
    await settle(100);
  }
  await settle(700);
  expect([mockDoor.kept, mockDoor.held.value!.subject]).toEqual([1, 'Paper']);
});

test('one that is gone is said to be gone, and one that was kept is there again', async () => {
  expect((await opened(false)).result.current.missing).toBe(true);
  mockDoor.held = { revision: 4, value: { ...emptyDraft, subject: 'Kept before' } };
  const hook = await opened(false);
  expect([hook.result.current.draft?.subject, hook.result.current.keeping.state]).toEqual(['Kept before', 'kept']);
  subject(hook, 'Goes on');
  await settle(700);
  expect(mockDoor.held.revision).toBe(5);
});

test('a line that fails is said, and tried again by itself until it is kept', async () => {
  const hook = await opened();
  mockDoor.failing = problem('unreachable', 0);
  subject(hook, 'On the ferry');
  await settle(700);
  expect(hook.result.current.keeping).toMatchObject({
    state: 'failed',
    sentence: 'The server can’t be reached. Nothing is lost: check the connection and try again.',
  });
  mockDoor.failing = undefined;
  await settle(8_000);
  expect([hook.result.current.keeping.state, mockDoor.held.value!.subject]).toEqual(['kept', 'On the ferry']);
});

test('another tab’s change is said and never overwritten, until its writer chooses', async () => {
  const hook = await opened();
  subject(hook, 'Mine');
  await settle(700);
  mockDoor.held = { revision: 2, value: { ...emptyDraft, subject: 'Theirs' } };
  subject(hook, 'Mine again');
  await settle(700);
  expect([hook.result.current.keeping, mockDoor.held.value!.subject]).toEqual([{ state: 'conflict' }, 'Theirs']);
  // Writing on changes nothing of that.
  subject(hook, 'Mine once more');
  expect(hook.result.current.keeping).toEqual({ state: 'conflict' });
  await act(() => hook.result.current.keepMine());
  expect([mockDoor.held.revision, mockDoor.held.value!.subject]).toEqual([3, 'Mine once more']);

  mockDoor.held = { revision: 9, value: { ...emptyDraft, subject: 'Theirs, later' } };
  await act(() => hook.result.current.takeTheirs());
  expect([hook.result.current.draft!.subject, hook.result.current.version]).toEqual(['Theirs, later', 1]);
});

test('what is removed is not kept again by what was still to come', async () => {
  const hook = await opened();
  subject(hook, 'To go');
  await act(() => hook.result.current.drop());
  await settle(60_000);
  hook.unmount();
  await settle(60_000);
  expect([mockDoor.dropped, mockDoor.kept]).toEqual([1, 0]);
});

test('a window that is closed while the last words are still on their way asks first, and not once they are kept', async () => {
  const closing = (): boolean => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
  const hook = await opened();
  expect(closing()).toBe(false);
  subject(hook, 'On its way');
  mockDoor.slowMs = 500;
  await settle(700);
  expect([hook.result.current.keeping, closing()]).toEqual([{ state: 'keeping' }, true]);
  await settle(500);
  expect([hook.result.current.keeping.state, closing()]).toEqual(['kept', false]);
});

test('leaving the page keeps what was written a moment before', async () => {
  const hook = await opened();
  subject(hook, 'Nearly lost');
  hook.unmount();
  await settle();
  expect(mockDoor.held.value!.subject).toBe('Nearly lost');
});
