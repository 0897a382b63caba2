/** What is looked for, in the address and back. */
import fc from 'fast-check';
import { STATES } from '@under-lock/contract/search';
import { LOCKS } from '@under-lock/core/locks/index';
import { type Asked, isAsking, isNarrowed, paramsOf, queryOf, readAsked, SIDES, TIMES } from '../src/find/asked';
import { toggled } from '../src/toggled';

const asked: fc.Arbitrary<Asked> = fc.record({
  query: fc.string({ maxLength: 40 }),
  side: fc.option(fc.constantFrom(...SIDES), { nil: undefined }),
  states: fc.subarray([...STATES]),
  closing: fc.boolean(),
  locks: fc.subarray([...LOCKS]),
  who: fc.option(fc.constantFrom('mira@yard.example', '@yard.example'), { nil: undefined }),
  time: fc.option(fc.constantFrom(...TIMES), { nil: undefined }),
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
