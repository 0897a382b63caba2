/** Random conditions, rules and messages over a small world, so that they meet. */
import fc from 'fast-check';
import { CONTAINERS, PASSWORD_SOURCES } from '../../src/ways/file-way';
import { IDENTITY_CHECKS, rightsFrom } from '../../src/handling/handling';
import { LOCKS } from '../../src/locks/index';
import { type Condition } from '../../src/rules/conditions/index';
import { fitsName } from '../../src/rules/conditions/message';
import { type Effect } from '../../src/rules/demand';
import { type Facts, FILE_KINDS, PARTS } from '../../src/rules/facts';
import { type Rule } from '../../src/rules/rule';
import { KINDS } from '../../src/scan/finding';

const some = <T>(values: readonly T[]): fc.Arbitrary<T[]> => fc.subarray([...values], { minLength: 1 });
const any = <T>(values: readonly T[]): fc.Arbitrary<T> => fc.constantFrom(...values);

const DOMAINS = ['ferry.example', 'pay.ferry.example', 'yard.example'];
const ADDRESSES = ['ada@ferry.example', 'bo@pay.ferry.example', 'cy@yard.example', 'di@ferry.example'];
const IDS = ['a', 'b', 'c'];
const NAME_PATTERNS = ['*', '*.csv', 'pay*', '?.csv'];
const small = fc.integer({ min: 1, max: 4 });

export const condition: fc.Arbitrary<Condition> = fc.oneof(
  fc.record({
    kind: fc.constant('recipient-is' as const),
    is: any(['staff', 'outsider', 'new', 'without-lock'] as const),
  }),
  fc.record({ kind: fc.constant('recipient-at' as const), domains: some(DOMAINS) }),
  fc.record({ kind: fc.constant('recipient-among' as const), addresses: some(ADDRESSES) }),
  fc.record({ kind: fc.constant('recipient-count' as const), of: any(['all', 'outsiders'] as const), least: small }),
  fc.record({ kind: fc.constant('sender-is' as const), addresses: some(ADDRESSES), departments: fc.subarray(IDS) }),
  fc.record({ kind: fc.constant('preset-is' as const), presets: some(IDS) }),
  fc.record({ kind: fc.constant('tagged-with' as const), tags: some(IDS) }),
  fc.record({ kind: fc.constant('says-words' as const), lists: some(IDS), parts: some(PARTS) }),
  fc.record({
    kind: fc.constant('finding-is' as const),
    kinds: some(KINDS.slice(0, 3)),
    sureOnly: fc.boolean(),
    least: small,
  }),
  fc.record({
    kind: fc.constant('file-is' as const),
    kinds: some(FILE_KINDS.slice(0, 3)),
    locked: any(['any', 'locked', 'open'] as const),
    unreadOnly: fc.boolean(),
    leastSize: fc.integer({ min: 0, max: 3 }),
  }),
  fc.record({ kind: fc.constant('file-named' as const), patterns: some(NAME_PATTERNS) }),
  fc.record({ kind: fc.constant('file-count' as const), least: small }),
  fc.record({
    kind: fc.constant('answering' as const),
    as: any(['reply', 'forward', 'either'] as const),
    hadLock: fc.boolean(),
  }),
  fc
    .record({ name: any(['importance', 'sensitivity']), value: fc.option(any(['high', 'low']), { nil: undefined }) })
    .map(({ name, value }) => ({ kind: 'header-is' as const, name, ...(value === undefined ? {} : { value }) })),
);

export const facts: fc.Arbitrary<Facts> = fc.record({
  sender: fc.record({ address: any(ADDRESSES), departments: fc.subarray(IDS) }),
  recipients: fc.array(
    fc.record({ address: any(ADDRESSES), isStaff: fc.boolean(), isNew: fc.boolean(), hasNoLock: fc.boolean() }),
    { maxLength: 4 },
  ),
  presetId: fc.option(any(IDS), { nil: undefined }),
  tags: fc.subarray(IDS),
  files: fc.array(
    fc.record({
      kind: any(FILE_KINDS.slice(0, 3)),
      size: fc.integer({ min: 0, max: 4 }),
      isLocked: fc.boolean(),
      isUnread: fc.boolean(),
      fits: any(['pay.csv', 'a.csv', 'note.txt']).map((name) =>
        NAME_PATTERNS.filter((pattern) => fitsName(name, pattern)),
      ),
    }),
    { maxLength: 4 },
  ),
  found: fc.array(
    fc.record({
      kind: any([...KINDS.slice(0, 3), 'word' as const]),
      of: any(IDS),
      confidence: any(['sure', 'likely'] as const),
      part: any(PARTS),
      count: fc.integer({ min: 1, max: 3 }),
    }),
    { maxLength: 4 },
  ),
  answers: fc.option(fc.record({ as: any(['reply', 'forward'] as const), hadLock: fc.boolean() }), { nil: undefined }),
  headers: fc.dictionary(any(['importance', 'sensitivity']), any(['high', 'low']), { maxKeys: 2 }),
});

export const effect: fc.Arbitrary<Effect> = fc.oneof(
  fc.record({
    kind: fc.constant('handling' as const),
    terms: fc.record({
      check: any(IDENTITY_CHECKS),
      question: fc.boolean(),
      rights: fc.boolean().map((may) => rightsFrom(() => may)),
      watermark: fc.boolean(),
      copies: fc.boolean(),
      clear: fc.boolean(),
      textOpen: fc.boolean(),
      audience: any(['anyone', 'outsiders', 'staff'] as const),
    }),
  }),
  fc.record({ kind: fc.constant('preset' as const), presetId: any(IDS) }),
  fc.record({ kind: fc.constant('only-locks' as const), locks: some(LOCKS) }),
  fc.constant({ kind: 'no-copies' as const }),
  fc.record({
    kind: fc.constant('lock-files' as const),
    container: fc.option(any(CONTAINERS), { nil: undefined }),
    password: fc.option(any(PASSWORD_SOURCES), { nil: undefined }),
  }),
  fc.record({ kind: fc.constant('needs' as const), what: any(['reference', 'reason'] as const) }),
  fc.constant({ kind: 'release' as const }),
  fc.record({ kind: fc.constant('wait' as const), minutes: small }),
  fc.record({ kind: fc.constant('tell' as const), addresses: some(ADDRESSES) }),
  fc.record({ kind: fc.constant('stop' as const), sentence: any(['Not so.', 'Not at all.']) }),
  fc.record({ kind: fc.constant('ask' as const), sentence: any(['Sure?', 'Really?']) }),
  fc.constant({ kind: 'may-leave-open' as const }),
  fc.constant({ kind: 'programs-leave-open' as const }),
  fc.record({ kind: fc.constant('programs-lock-files' as const), lockedStay: fc.boolean() }),
);

const few = fc.array(condition, { maxLength: 2 });
export const when = fc.record({ allOf: few, anyOf: few, noneOf: few });

export const rule: fc.Arbitrary<Rule> = fc.record({
  id: fc.uuid(),
  name: any(['Bank details', 'Crew health', 'Bids']),
  sentence: fc.constant('Because the office says so.'),
  state: any(['off', 'tried', 'on'] as const),
  when,
  effects: fc.array(effect, { minLength: 1, maxLength: 3 }),
});
