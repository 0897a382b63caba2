/** What is looked for, in the address and back. */
import fc from 'fast-check';
import { STATES } from '@under-lock/contract/search';
import { LOCKS } from '@under-lock/core/locks/index';
import {
  type Asked,
  betweenOf,
  isAsking,
  isNarrowed,
  paramsOf,
  queryOf,
  readAsked,
  SIDES,
  TIMES,
} from '../src/find/asked';
import { toggled } from '../src/toggled';

const asked: fc.Arbitrary<Asked> = fc.record({
  query: fc.string({ maxLength: 40 }),
  side: fc.option(fc.constantFrom(...SIDES), { nil: undefined }),
  states: fc.subarray([...STATES]),
  closing: fc.boolean(),
  locks: fc.subarray([...LOCKS]),
  who: fc.option(fc.constantFrom('mira@yard.example', '@yard.example'), { nil: undefined }),
  time: fc.option(fc.constantFrom(...TIMES), { nil: undefined }),
  from: fc.option(fc.constantFrom('2026-01-31', '2024-02-29'), { nil: undefined }),
  until: fc.option(fc.constantFrom('2026-12-31'), { nil: undefined }),
});

test('what is asked comes back from the address as it was', () => {
  fc.assert(
    fc.property(asked, (one) => {
      const back = readAsked(Object.fromEntries(new URLSearchParams(queryOf(one))));
      expect(back).toEqual(one);
      expect(readAsked(paramsOf(one))).toEqual(one);
    }),
  );
});

test('an address that says nonsense asks for nothing', () => {
  const nothing = readAsked({
    in: 'elsewhere',
    state: 'gone,,',
    closing: 'never',
    lock: 'padlock',
    time: 'decade',
    from: '2026-02-30',
    until: 'tomorrow',
    other: 'x',
  });
  expect([isAsking(nothing), isNarrowed(nothing), queryOf(nothing)]).toEqual([false, false, '']);
  expect(readAsked({ q: 'x'.repeat(900) }).query).toHaveLength(200);
  expect(readAsked({ state: ['open', 'bounced'] }).states).toEqual(['open', 'bounced']);
});

test('a filter goes in and out; blank words ask for nothing', () => {
  expect(toggled(['open'], 'bounced')).toEqual(['open', 'bounced']);
  expect(toggled(['open', 'bounced'], 'open')).toEqual(['bounced']);
  expect(isAsking(readAsked({ q: '   ' }))).toBe(false);
  expect(isAsking(readAsked({ q: ' t' }))).toBe(true);
  expect(isAsking(readAsked({ lock: 'room' }))).toBe(true);
});

test('days begin where the worker is, and the last one is asked for whole', () => {
  const now = Date.parse('2026-11-24T10:00:00Z');
  const at = (text: string): number => new Date(text).getTime();
  expect(betweenOf(readAsked({}), now)).toEqual({ from: -Infinity, until: Infinity });
  expect(betweenOf(readAsked({ from: '2026-10-24', until: '2026-10-25' }), now)).toEqual({
    from: at('2026-10-24T00:00'),
    // A day of 25 hours, where clocks are put back.
    until: at('2026-10-26T00:00'),
  });
  expect(betweenOf(readAsked({ from: '2020-01-01', time: 'week' }), now).from).toBe(now - 7 * 86_400_000);
});
