/** One judgement of every access: the weakest that holds, and what does not. */
import fc from 'fast-check';
import { grantHolds, type ReaderKnown } from '../src/access/holds';
import { AUDIENCES, type HandlingTerms, IDENTITY_CHECKS, LOOSEST_TERMS, mergeTerms } from '../src/handling/handling';

const terms = (over: Partial<HandlingTerms> = {}): HandlingTerms => ({ ...LOOSEST_TERMS, ...over });
const link = (check: (typeof IDENTITY_CHECKS)[number], question = check === 'question'): ReaderKnown => ({
  kind: 'link',
  check,
  question,
});

test.each([
  ['a text where a text is asked', terms({ check: 'text' }), link('text'), undefined],
  ['a second mailbox where a text is asked', terms({ check: 'text' }), link('email'), 'check'],
  ['a question where a text is asked', terms({ check: 'text' }), link('question'), 'check'],
  [
    'a text alone where a question is asked besides',
    terms({ check: 'email', question: true }),
    link('text'),
    'question',
  ],
  ['both where both are asked', terms({ check: 'email', question: true }), link('text', true), undefined],
  ['a password known by a text', terms({ check: 'text' }), { kind: 'registered', knownBy: 'text' }, undefined],
  [
    'a password known by a mailbox where a text is asked',
    terms({ check: 'text' }),
    { kind: 'registered', knownBy: 'email' },
    'check',
  ],
  ['a password that nothing was proved for', terms(), { kind: 'registered', knownBy: undefined }, 'check'],
  [
    'a password where something is asked besides',
    terms({ check: 'email', question: true }),
    { kind: 'registered', knownBy: 'text' },
    'question',
  ],
  ['a colleague, whatever is asked', terms({ check: 'text', question: true }), { kind: 'account' }, undefined],
  ['an outsider where it is for staff only', terms({ audience: 'staff' }), link('text'), 'audience'],
  ['a colleague where it is for staff only', terms({ audience: 'staff' }), { kind: 'account' }, undefined],
  ['a colleague where it is for outsiders only', terms({ audience: 'outsiders' }), { kind: 'account' }, 'audience'],
  ['anybody where it is for nobody', terms({ audience: 'nobody' }), { kind: 'account' }, 'audience'],
] as [string, HandlingTerms, ReaderKnown, string | undefined][])('%s', (_, demanded, reader, unheld) => {
  expect(grantHolds(demanded, LOOSEST_TERMS, reader)).toBe(unheld);
  expect(grantHolds(LOOSEST_TERMS, demanded, reader)).toBe(unheld);
});

const anyTerms = fc
  .record({
    check: fc.constantFrom(...IDENTITY_CHECKS),
    question: fc.boolean(),
    audience: fc.constantFrom(...AUDIENCES),
  })
  .map((over) => terms(over));
const anyReader: fc.Arbitrary<ReaderKnown> = fc.oneof(
  fc.constant({ kind: 'account' } as const),
  fc.record({ kind: fc.constant('registered' as const), knownBy: fc.constantFrom(undefined, ...IDENTITY_CHECKS) }),
  fc.record({ kind: fc.constant('link' as const), check: fc.constantFrom(...IDENTITY_CHECKS), question: fc.boolean() }),
);
test('what holds both holds each, and who demands comes in any order', () => {
  fc.assert(
    fc.property(anyTerms, anyTerms, anyReader, (a, b, reader) => {
      const both = grantHolds(a, b, reader) === undefined;
      return (
        both === (grantHolds(b, a, reader) === undefined) &&
        both === (grantHolds(mergeTerms(a, b), LOOSEST_TERMS, reader) === undefined) &&
        (!both ||
          (grantHolds(a, LOOSEST_TERMS, reader) === undefined && grantHolds(b, LOOSEST_TERMS, reader) === undefined))
      );
    }),
  );
});
