/** Rules over random messages: order says nothing, adding one never loosens, and what is said of two of them is so. */
import fc from 'fast-check';
import { conditionSchema, describe as described, disjoint, has, implies } from '../../src/rules/conditions/index';
import { whenInWords } from '../../src/rules/when-words';
import { fitsName } from '../../src/rules/conditions/message';
import { asksAtLeast, type Demand, demandOf, join, NOTHING } from '../../src/rules/demand';
import { applies, isImpossible, isWithin, judge, type Rule, ruleSchema, warningsOf } from '../../src/rules/rule';
import { condition, effect, facts, rule, when } from './arbitrary';

const demand: fc.Arbitrary<Demand> = fc
  .array(effect, { maxLength: 3 })
  .map((effects) => effects.map(demandOf).reduce(join, NOTHING));
const RUNS = { numRuns: 3_000 };

test('demands are joined in any order and grouping, twice as once', () => {
  fc.assert(
    fc.property(demand, demand, demand, (a, b, c) => {
      expect(join(a, b)).toEqual(join(b, a));
      expect(join(join(a, b), c)).toEqual(join(a, join(b, c)));
      expect(join(a, a)).toEqual(a);
      expect(join(a, NOTHING)).toEqual(a);
      expect(asksAtLeast(join(a, b), a)).toBe(true);
    }),
  );
});

test('whatever the order of the rules, they say the same', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(rule, { maxLength: 6, selector: ({ id }) => id }),
      facts,
      fc.nat(),
      (rules, message, seed) => {
        const shuffled = rules
          .map((one, index) => ({ one, key: ((index + 1) * (seed + 7)) % 11 }))
          .sort((a, b) => a.key - b.key)
          .map(({ one }) => one);
        expect(judge(shuffled, message)).toEqual(judge(rules, message));
      },
    ),
  );
});

test('a further rule never loosens: it asks as much as before, and permits nothing that was forbidden', () => {
  fc.assert(
    fc.property(fc.array(rule, { maxLength: 5 }), rule, facts, (rules, further, message) => {
      const [before, after] = [judge(rules, message), judge([...rules, further], message)];
      expect(asksAtLeast(after.demand, before.demand)).toBe(true);
      if (!further.effects.some(({ kind }) => kind === 'may-leave-open') && before.openBy.length === 0)
        expect(after.openBy).toEqual([]);
    }),
    RUNS,
  );
});

test('what a condition is said to imply or exclude is so for every message', () => {
  let [implied, excluded] = [0, 0];
  fc.assert(
    fc.property(condition, condition, fc.array(facts, { minLength: 8, maxLength: 8 }), (one, other, messages) => {
      const [does, not] = [implies(one, other), disjoint(one, other)];
      if (does) implied += 1;
      if (not) excluded += 1;
      for (const message of messages) {
        if (does && has(one, message)) expect(has(other, message)).toBe(true);
        if (not) expect(has(one, message) && has(other, message)).toBe(false);
      }
      expect(implies(one, one)).toBe(true);
      expect(disjoint(one, other)).toBe(disjoint(other, one));
    }),
    { numRuns: 8_000 },
  );
  // Else nothing was tried.
  expect([implied > 50, excluded > 8]).toEqual([true, true]);
}, 60_000);

test('a rule that can never act never acts; one that lies within another acts only where that does', () => {
  let [impossible, within] = [0, 0];
  fc.assert(
    fc.property(
      when,
      when,
      fc.array(facts, { minLength: 6, maxLength: 6 }),
      fc.boolean(),
      (one, other, messages, narrowed) => {
        // Half of the pairs are related: random ones hardly ever are.
        const inner = narrowed
          ? {
              ...one,
              allOf: [...one.allOf, ...other.allOf],
              anyOf: other.anyOf,
              noneOf: [...one.noneOf, ...other.noneOf],
            }
          : one;
        const [never, lies] = [isImpossible(inner), isWithin(inner, other)];
        if (never) impossible += 1;
        if (lies) within += 1;
        for (const message of messages) {
          if (never) expect(applies(inner, message)).toBe(false);
          if (lies && applies(inner, message)) expect(applies(other, message)).toBe(true);
        }
      },
    ),
    { numRuns: 6_000 },
  );
  expect([impossible > 20, within > 500]).toEqual([true, true]);
}, 60_000);

const made = (over: Partial<Rule>): Rule => ({
  id: crypto.randomUUID(),
  name: 'A rule',
  sentence: 'Because.',
  state: 'on',
  when: { allOf: [], anyOf: [], noneOf: [] },
  effects: [{ kind: 'release' }],
  ...over,
});
const outsider = { kind: 'recipient-is', is: 'outsider' } as const;

test('the office is warned of rules that never act, that another swallows, and that leave no lock', () => {
  const never = made({ when: { allOf: [outsider], anyOf: [], noneOf: [outsider] } });
  const all = made({ effects: [{ kind: 'release' }, { kind: 'no-copies' }] });
  const swallowed = made({ when: { allOf: [outsider], anyOf: [], noneOf: [] } });
  const [room, file] = [
    made({ effects: [{ kind: 'only-locks', locks: ['room'] }] }),
    made({ effects: [{ kind: 'only-locks', locks: ['file'] }] }),
  ];
  expect(warningsOf([never, all, swallowed])).toEqual([
    { kind: 'never-acts', rule: never.id },
    { kind: 'swallowed', rule: swallowed.id, by: all.id },
  ]);
  expect(warningsOf([room, file])).toEqual([{ kind: 'no-lock-left', rule: room.id, and: file.id }]);
  const locking = (how: { container?: 'pdf' | 'zip'; password?: 'agreed' | 'new' }) =>
    made({ effects: [{ kind: 'lock-files', ...how }] });
  const [paper, packed, known] = [
    locking({ container: 'pdf' }),
    locking({ container: 'zip', password: 'new' }),
    locking({ container: 'zip', password: 'agreed' }),
  ];
  expect(warningsOf([paper, packed])).toEqual([{ kind: 'no-way-left', rule: paper.id, and: packed.id }]);
  expect(warningsOf([packed, known])).toEqual([{ kind: 'no-way-left', rule: packed.id, and: known.id }]);
  // Of two that are the same one is swallowed, not both.
  expect(warningsOf([made({}), made({})])).toHaveLength(1);
});

test('leaving open is permitted where one rule permits it and none forbids it', () => {
  const message = fc.sample(facts, 1)[0]!;
  const [permits, asks, locks] = [
    made({ effects: [{ kind: 'may-leave-open' }] }),
    made({ effects: [{ kind: 'ask', sentence: 'Sure?' }] }),
    made({ effects: [{ kind: 'lock-files' }] }),
  ];
  expect(judge([], message).openBy).toEqual([]);
  expect(judge([permits, asks], message).openBy).toEqual([permits.name]);
  expect(judge([permits, locks], message)).toMatchObject({ openBy: [], openAgainst: [locks.name] });
  expect(judge([permits, { ...locks, state: 'tried' }], message)).toMatchObject({
    openBy: [permits.name],
    wouldHave: [locks.id],
  });
});

test('when a rule acts is one sentence, whatever it asks for', () => {
  const names = { preset: () => 'Bids', tag: () => 'open', list: () => 'Crew' };
  const outside = { kind: 'recipient-is', is: 'outsider' } as const;
  const files = { kind: 'file-count', least: 1 } as const;
  const many = { kind: 'recipient-count', of: 'all', least: 20 } as const;
  const tagged = { kind: 'tagged-with', tags: ['7d1f1c0e-9a5b-4a53-8d0a-2b8f9d1c0001'] } as const;
  expect(whenInWords({ allOf: [], anyOf: [], noneOf: [] }, names)).toBe('Always');
  expect(whenInWords({ allOf: [], anyOf: [], noneOf: [{ ...tagged, tags: [...tagged.tags] }] }, names)).toBe(
    'Always, unless it is tagged “open”',
  );
  expect(whenInWords({ allOf: [outside], anyOf: [files, many], noneOf: [] }, names)).toBe(
    'When it goes to somebody outside, and it has files or it goes to 20 people or more',
  );
});

test('every condition and rule is data that is checked, and can be said', () => {
  const names = { preset: () => 'Bids', tag: () => 'bid', list: () => 'Crew' };
  fc.assert(
    fc.property(condition, (one) => {
      expect(conditionSchema.parse(one)).toEqual(one);
      expect(described(one, names)).toMatch(/^.{7,}[^.]$/u);
    }),
  );
  fc.assert(fc.property(rule, (one) => void expect(ruleSchema.safeParse(one).success).toBe(true)));
  expect(ruleSchema.safeParse(made({ effects: [] })).success).toBe(false);
  expect(
    ruleSchema.safeParse({ ...made({}), when: { allOf: [{ kind: 'code', text: '1' }], anyOf: [], noneOf: [] } })
      .success,
  ).toBe(false);
});

test('names of files fit as they are written, in time that grows with both lengths', () => {
  expect([
    fitsName('Pay.CSV', '*.csv'),
    fitsName('pay.csv.exe', '*.csv'),
    fitsName('a.csv', '?.csv'),
    fitsName('', '*'),
    fitsName('x', ''),
  ]).toEqual([true, false, true, true, false]);
  fc.assert(
    fc.property(fc.string({ maxLength: 12 }), (name) => {
      expect(fitsName(name, '*')).toBe(true);
      expect(fitsName(name, name.replace(/[*?]/g, '?'))).toBe(true);
    }),
  );
  fitsName('a'.repeat(20_000), `${'*a'.repeat(40)}b`);
});

describe('what mail programs hand in leaves with its files locked', () => {
  const message = { ...fc.sample(facts, 1)[0]!, files: [] };
  const file = (isLocked: boolean) => ({ kind: 'pdf' as const, size: 1, isLocked, isUnread: isLocked, fits: [] });
  const files = made({ effects: [{ kind: 'programs-lock-files', lockedStay: true }] });

  test('where files are to be locked; without any, the mail leaves open', () => {
    expect(judge([files], { ...message, files: [file(false), file(true)] })).toMatchObject({
      programsLockFiles: { by: [files.name], container: undefined, lockedStay: true },
      programsOpenBy: [],
    });
    for (const none of [[], [file(true)]])
      expect(judge([files], { ...message, files: none })).toMatchObject({
        programsLockFiles: undefined,
        programsOpenBy: [files.name],
      });
  });

  test('of several, the strictest: locked ones stay only where all say so, and leaving open gives way', () => {
    const packs = made({ effects: [{ kind: 'programs-lock-files', lockedStay: false, container: 'pdf' }] });
    const open = made({ effects: [{ kind: 'programs-leave-open' }] });
    const verdict = judge([open, files, packs], { ...message, files: [file(true)] });
    expect(verdict).toMatchObject({ programsLockFiles: { lockedStay: false, container: 'pdf' }, programsOpenBy: [] });
    expect(judge([packs, files, open], { ...message, files: [file(true)] })).toEqual(verdict);
  });

  test.each<Rule['effects'][number]>([
    { kind: 'no-copies' },
    { kind: 'release' },
    { kind: 'only-locks', locks: ['file'] },
    { kind: 'stop', sentence: 'No.' },
  ])('and not where a rule asks for more: $kind', (effect) => {
    const asks = made({ effects: [effect] });
    for (const some of [[], [file(false)]])
      expect(judge([files, asks], { ...message, files: some })).toMatchObject({
        programsLockFiles: undefined,
        programsOpenBy: [],
      });
  });

  test('a rule that wants files locked is kept by it', () => {
    const locks = made({ effects: [{ kind: 'lock-files' }] });
    expect(judge([files, locks], { ...message, files: [file(false)] }).programsLockFiles?.by).toEqual([files.name]);
  });
});
