/** What is drawn beside the words of a letter is not drawn again at each key: it has the draft as it rests. */
import { act, renderHook } from '@testing-library/react';
import { type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { useSteady } from '../src/write/useSteady';
import { useRested } from '../src/write/useRested';

const draft = (change: Partial<Draft>): Draft => ({ ...emptyDraft, ...change });

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('words come once the hand rests, whatever else changes comes at once', () => {
  const { result, rerender } = renderHook(useRested, { initialProps: draft({}) });
  const before = result.current;
  for (const text of ['D', 'De', 'Dea', 'Dear']) {
    rerender(draft({ text, html: `<p>${text}</p>`, subject: 'Berths' }));
    act(() => void jest.advanceTimersByTime(200));
    expect(result.current).toBe(before);
  }
  const to = [{ name: '', address: 'pell@postbox.example', role: 'to' as const }];
  rerender(draft({ text: 'Dear', html: '<p>Dear</p>', subject: 'Berths', recipients: to }));
  expect(result.current).toEqual(draft({ recipients: to }));
  act(() => void jest.advanceTimersByTime(250));
  expect(result.current).toEqual(draft({ text: 'Dear', html: '<p>Dear</p>', subject: 'Berths', recipients: to }));
});

test('steady acts are the same functions, and do what the last drawing’s would', () => {
  const done: string[] = [];
  const { result, rerender } = renderHook(({ as }) => useSteady({ as, act: (what: string) => done.push(as + what) }), {
    initialProps: { as: 'first ' },
  });
  const { act: steady } = result.current;
  rerender({ as: 'second ' });
  expect(result.current.act).toBe(steady);
  expect(result.current.as).toBe('second ');
  steady('press');
  expect(done).toEqual(['second press']);
});
