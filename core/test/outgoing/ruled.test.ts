/** What the office's rules make of a draft's plan: stricter only, named, and with what its writer has to settle. */
import { KEEPS_A_LOCK } from '../../src/handling/preset';
import fc from 'fast-check';
import {
  type HandlingTerms,
  IDENTITY_CHECKS,
  isAsStrict,
  LOOSEST_TERMS,
  NO_RIGHTS,
  type Rights,
} from '../../src/handling/handling';
import { type Draft, emptyDraft, plainTerms } from '../../src/outgoing/draft';
import { type Known } from '../../src/outgoing/known';
import { type Looked } from '../../src/outgoing/looked';
import { makePlan } from '../../src/outgoing/plan';
import { knownOf } from './known';
import { type Effect } from '../../src/rules/demand';
import { amongOf, wantedCopies } from '../../src/outgoing/wanted';
import { type FileWay } from '../../src/ways/file-way';
import { NO_POLICY } from '../../src/rules/policy';
import { type Rule } from '../../src/rules/rule';

const now = new Date('2026-11-24T10:00:00Z');
const PELL = 'pell.anders@postbox.example';

interface Told {
  open?: Looked['open'];
  files?: Looked['files'];
  newTo?: string[];
  presets?: Known['presets'];
  isLookedThrough?: boolean;
}
const known = (
  rules: readonly Rule[],
  { open = [], files = new Map(), newTo = [], presets = [], isLookedThrough = true }: Told = {},
): Known => ({
  ...knownOf(now),
  people: [
    {
      id: 'p',
      revision: 1,
      updatedAt: now,
      value: { name: 'Pell Anders', address: PELL, phone: '+447700900417' },
    } as Known['people'][number],
  ],
  presets,
  rules: {
    policy: { ...NO_POLICY, version: 1, rules: [...rules] },
    looked: { open, passed: [], files },
    isLookedThrough,
    newTo: new Set(newTo),
    departments: [],
  },
});
const draft: Draft = {
  ...emptyDraft,
  subject: 'Fitness papers',
  text: 'Page two.',
  terms: { ...plainTerms, check: 'email', copies: true, textOpen: true },
  recipients: [{ name: '', address: PELL, role: 'to', check: 'email' }],
};

const ALWAYS: Rule['when'] = { allOf: [], anyOf: [], noneOf: [] };
const rule = (effects: Effect[], when: Partial<Rule['when']> = {}, name = 'Bank details'): Rule => ({
  id: '6f2c1b30-0000-4000-8000-00000000000a',
  name,
  sentence: 'Account numbers leave under a passcode only.',
  state: 'on',
  when: { ...ALWAYS, ...when },
  effects,
});
const missing = (effects: Effect[], change: Partial<Draft> = {}, told: Told = {}) =>
  makePlan({ ...draft, ...change }, known([rule(effects)], told)).plan.missing;

const rights = fc.record(
  Object.fromEntries(Object.keys(NO_RIGHTS).map((right) => [right, fc.boolean()])),
) as fc.Arbitrary<Rights>;
const terms: fc.Arbitrary<HandlingTerms> = fc.record({
  check: fc.constantFrom(...IDENTITY_CHECKS),
  question: fc.boolean(),
  rights,
  watermark: fc.boolean(),
  copies: fc.boolean(),
  clear: fc.boolean(),
  textOpen: fc.boolean(),
  audience: fc.constantFrom('anyone' as const, 'staff' as const, 'outsiders' as const, 'nobody' as const),
});

test('rules never loosen, and their order makes no difference', () => {
  const plain = makePlan(draft, known([]));
  expect(plain.demanded).toEqual([]);
  fc.assert(
    fc.property(fc.array(terms, { maxLength: 5 }), (demands) => {
      const rules = demands.map((one) => rule([{ kind: 'handling', terms: one }]));
      const one = makePlan(draft, known(rules));
      const other = makePlan(draft, known([...rules].reverse()));
      expect(other.applied).toEqual(one.applied);
      expect(other.plan).toEqual(one.plan);
      expect(isAsStrict({ ...one.applied.terms, closesAt: now }, { ...plain.applied.terms, closesAt: now })).toBe(true);
      for (const demand of demands)
        expect(isAsStrict({ ...one.applied.terms, closesAt: now }, { ...demand, closesAt: now })).toBe(true);
    }),
  );
});

test('a demand counts for each recipient, also for whom the worker chose less, and the rule is named', () => {
  const asked = makePlan(
    draft,
    known([rule([{ kind: 'handling', terms: { ...LOOSEST_TERMS, check: 'text', copies: false } }])]),
  );
  expect(asked.demanded).toEqual(['check', 'copies']);
  expect(asked.leastCheck).toBe('text');
  expect(asked.plan.lines[0]!.chosen.check?.kind).toBe('text');
  expect(asked.verdict?.acted.map((one) => one.rule.name)).toEqual(['Bank details']);
});

test('a rule acts on what was found, on whom it goes to and on names of files, and not otherwise', () => {
  const stop: Effect[] = [{ kind: 'stop', sentence: 'Not so.' }];
  const acts = (when: Partial<Rule['when']>, told: Told): boolean =>
    makePlan(draft, known([rule(stop, when)], told)).plan.missing.length > 0;
  const account: Looked['open'][number] = {
    kind: 'account',
    of: 'iban',
    confidence: 'sure',
    excerpt: '',
    count: 1,
    from: 0,
    to: 1,
    id: 'iban:1',
    where: { in: 'text' },
    around: { before: '', value: '', after: '' },
  };
  const found: Partial<Rule['when']> = {
    allOf: [{ kind: 'finding-is', kinds: ['account'], sureOnly: true, least: 1 }],
  };
  expect(acts(found, { open: [account] })).toBe(true);
  expect(acts(found, { open: [{ ...account, confidence: 'likely' }] })).toBe(false);
  expect(acts({ allOf: [{ kind: 'recipient-is', is: 'new' }] }, { newTo: [PELL] })).toBe(true);
  expect(acts({ allOf: [{ kind: 'recipient-is', is: 'new' }] }, {})).toBe(false);
  expect(acts({ allOf: [{ kind: 'recipient-is', is: 'without-lock' }] }, {})).toBe(true);
  const named: Partial<Rule['when']> = { allOf: [{ kind: 'file-named', patterns: ['pay*'] }] };
  const unread: Partial<Rule['when']> = {
    allOf: [{ kind: 'file-is', kinds: ['office'], locked: 'any', unreadOnly: true, leastSize: 0 }],
  };
  const withFile = (
    when: Partial<Rule['when']>,
    inside?: Looked['files'] extends ReadonlyMap<string, infer T> ? T : never,
  ) =>
    makePlan(
      { ...draft, files: [{ blobId: 'b', name: 'Pay-2026.xlsx', type: '', size: 1, key: { key: '', salt: '' } }] },
      known([rule(stop, when)], { files: new Map(inside === undefined ? [] : [['b', inside]]) }),
    ).plan.missing.length > 0;
  const office = { kind: 'office' as const, isLocked: false, unread: [], more: false };
  expect(withFile(named, office)).toBe(true);
  expect(withFile({ allOf: [{ kind: 'file-named', patterns: ['*.pdf'] }] }, office)).toBe(false);
  expect(withFile(unread, office)).toBe(false);
  expect(withFile(unread, { ...office, more: true })).toBe(true);
});

test('locks that no rule allows can’t be taken, whatever was chosen', () => {
  const { plan } = makePlan(
    { ...draft, recipients: [{ name: '', address: PELL, role: 'to', lock: 'room' }] },
    known([rule([{ kind: 'only-locks', locks: ['certificate'] }])]),
  );
  const [{ chosen, alternatives }] = plan.lines as [(typeof plan.lines)[number]];
  expect(plan.ready).toBe(false);
  for (const one of [chosen, ...alternatives])
    if (one.lock !== 'certificate') {
      expect(one.available).toBe(false);
      expect(one.missing[0]).toEqual({ code: 'lock-not-allowed' });
    }
});

test('a stop holds; what is asked holds until it is confirmed; what is wanted, until it is there', () => {
  const saying = { rule: 'Bank details', sentence: 'Is it theirs?' };
  expect(missing([{ kind: 'stop', sentence: 'Is it theirs?' }], { confirmed: ['Is it theirs?'] })).toEqual([
    { code: 'stopped', ...saying },
  ]);
  expect(missing([{ kind: 'ask', sentence: 'Is it theirs?' }])).toEqual([{ code: 'unconfirmed', ...saying }]);
  expect(missing([{ kind: 'ask', sentence: 'Is it theirs?' }], { confirmed: ['Is it theirs?'] })).toEqual([]);
  expect(missing([{ kind: 'needs', what: 'reference' }])).toEqual([{ code: 'reference-wanted' }]);
  expect(missing([{ kind: 'needs', what: 'reference' }], { reference: 'LF-1' })).toEqual([]);
  expect(missing([{ kind: 'needs', what: 'reason' }], { reason: ' ' })).toEqual([{ code: 'reason-wanted' }]);
  expect(missing([{ kind: 'needs', what: 'reason' }], { reason: 'They asked for it.' })).toEqual([]);
  expect(missing([{ kind: 'wait', minutes: 5 }], {}, { isLookedThrough: false })).toEqual([{ code: 'looking' }]);
});

describe('how files are locked', () => {
  const file = { blobId: 'b', name: 'pay.csv', type: 'text/csv', size: 1, key: { key: '', salt: '' } };
  const AGREED = 'pearl-otter-meadow-nine';
  const entry = (over: object = {}): Known['passwords'][number] => ({
    id: 'e',
    revision: 1,
    updatedAt: now,
    value: {
      address: PELL,
      direction: 'out',
      password: AGREED,
      guesses: 20,
      since: now.toISOString(),
      toldAt: now.toISOString(),
      before: [],
      note: '',
      ...over,
    },
  });
  interface Here {
    passwords?: Known['passwords'];
    recipient?: Partial<Draft['recipients'][number]>;
  }
  /** What leaves for Pell as a locked file, and what is missing for it. */
  function locked(effects: Effect[], { passwords = [entry()], recipient = {} }: Here = {}) {
    const [one] = draft.recipients;
    const wanting: Draft = { ...draft, files: [file], recipients: [{ ...one!, lock: 'file', ...recipient }] };
    const given = { ...known(effects.map((effect) => rule([effect]))), passwords };
    const planned = makePlan(wanting, given);
    const [line] = planned.plan.lines;
    const codes = line!.chosen.missing.map(({ code }) => code);
    if (codes.length > 0) return { lock: line!.chosen.lock, codes };
    const [copy] = wantedCopies(planned, amongOf(wanting, planned, given));
    const { way, password } = copy!.how as { way: FileWay; password: string };
    return { lock: copy!.lock, container: way.container, password };
  }

  test('they go in the container that a rule names, whatever was chosen for them', () => {
    expect(locked([{ kind: 'lock-files' }])).toEqual({ lock: 'file', container: 'zip', password: AGREED });
    expect(locked([{ kind: 'lock-files', container: 'pdf' }])).toMatchObject({ container: 'pdf' });
    const ruledWay = { container: 'page' as const, lockedStay: false };
    expect(locked([{ kind: 'lock-files', container: 'pdf' }], { recipient: { ruledWay } })).toMatchObject({
      container: 'pdf',
    });
  });

  test('where two rules leave no container, or no password, nobody gets a locked file', () => {
    for (const both of [
      [{ container: 'pdf' } as const, { container: 'zip' } as const],
      [{ password: 'new' } as const, { password: 'agreed' } as const],
    ])
      expect(locked(both.map((how) => ({ kind: 'lock-files' as const, ...how })))).not.toMatchObject({ lock: 'file' });
  });

  test('a password agreed on before is one that they have: none is made, and none that they have not been told goes', () => {
    const agreed: Effect[] = [{ kind: 'lock-files', password: 'agreed' }];
    const wanting = { lock: 'file', codes: ['password-not-agreed'] };
    const own = (told: boolean) => ({
      password: { password: 'wren-amber-sill-two', guesses: 20, told, remember: true },
    });
    expect(locked(agreed)).toMatchObject({ password: AGREED });
    expect(locked(agreed, { passwords: [] })).toEqual(wanting);
    expect(locked(agreed, { passwords: [entry({ toldAt: undefined })] })).toEqual(wanting);
    expect(locked(agreed, { recipient: own(false) })).toEqual(wanting);
    expect(locked(agreed, { recipient: own(true) })).toMatchObject({ password: 'wren-amber-sill-two' });
  });

  test('where it is to be new with each message, the one in the book is not taken', () => {
    const fresh: Effect[] = [{ kind: 'lock-files', password: 'new' }];
    expect(locked(fresh)).toEqual({ lock: 'file', codes: ['password-missing'] });
    const password = { password: 'wren-amber-sill-two', guesses: 20, told: false, remember: true };
    expect(locked(fresh, { recipient: { password } })).toMatchObject({ password: 'wren-amber-sill-two' });
  });
});

test('files that have to be locked don’t leave readable; a preset that is demanded closes when it closes', () => {
  const readable = { ...plainTerms, clear: true, copies: true, textOpen: true };
  const terms = (files: Draft['files']) =>
    makePlan({ ...draft, terms: readable, files }, known([rule([{ kind: 'lock-files' }])])).applied.terms;
  expect(terms([]).clear).toBe(true);
  const file = { blobId: 'b', name: 'pay.csv', type: 'text/csv', size: 1, key: { key: '', salt: '' } };
  expect(terms([file]).clear).toBe(false);
  const preset = {
    id: 'pay',
    active: true,
    isDefault: false,
    terms: {
      ...plainTerms,
      closing: { kind: 'end-of-today' as const },
      audience: 'anyone' as const,
      receipt: false,
      remindHours: 0,
      mayLoosen: { closing: false, identity: false, rights: false },
    },
  };
  const { applied, demanded } = makePlan(
    { ...draft, presetId: 'other' },
    known([rule([{ kind: 'preset', presetId: 'pay' }])], {
      presets: [{ ...preset, id: 'other', terms: { ...preset.terms, closing: { kind: 'two-weeks' } } }, preset],
    }),
  );
  expect(applied.closing).toEqual({ ok: true, closesAt: new Date('2026-11-24T17:00:00Z') });
  expect(demanded[0]).toBe('closing');
});

describe('leaving open on purpose', () => {
  const permits = rule([{ kind: 'may-leave-open' }], {}, 'Timetables');
  const open = (rules: readonly Rule[], over: Partial<Draft> = {}) => {
    const planned = makePlan({ ...draft, openReason: 'It hangs on the pier', ...over }, known(rules));
    const { applied, openByRule, plan } = planned;
    return {
      clear: applied.terms.clear,
      byRule: openByRule,
      missing: plan.missing,
      locks: plan.lines.map(({ chosen }) => [chosen.lock, chosen.clear === true]),
    };
  };

  test('only where a rule permits it, and with a reason', () => {
    expect(open([])).toMatchObject({ clear: false, byRule: false });
    expect(open([permits], { openReason: ' ' })).toMatchObject({ clear: false, byRule: false });
    // Also where a lock is at hand and a signature is not: what was asked for is never swapped for another.
    expect(open([permits])).toMatchObject({ clear: true, byRule: true, missing: [], locks: [['certificate', true]] });
  });

  test('what answers something that came under a lock leaves so on purpose only, and never with its text alone readable', () => {
    const answered = KEEPS_A_LOCK;
    expect(open([permits], { answered })).toMatchObject({ clear: true, byRule: true });
    expect(open([permits], { answered, openReason: '' })).toMatchObject({ clear: false });
    const terms = { ...plainTerms, copies: true, textOpen: true };
    const { applied, kept } = makePlan({ ...draft, terms, answered }, known([]));
    expect([applied.terms.textOpen, kept]).toEqual([false, ['textOpen']]);
  });

  test('not where another rule that acts asks for more, whatever the preset allows', () => {
    const watermarked = rule([{ kind: 'handling', terms: { ...LOOSEST_TERMS, watermark: true } }], {}, 'Pay');
    expect(open([permits, watermarked])).toMatchObject({ clear: false, byRule: false });
    const preset = {
      id: 'notice',
      active: true,
      isDefault: false,
      terms: {
        ...plainTerms,
        clear: true,
        audience: 'anyone' as const,
        closing: { kind: 'two-weeks' as const },
        receipt: false,
        remindHours: 0,
        mayLoosen: { closing: true, identity: true, rights: true },
      },
    };
    const { terms: _, ...plain } = draft;
    const asked = makePlan(
      { ...plain, presetId: 'notice', openReason: 'It hangs on the pier' },
      known([watermarked], { presets: [preset] }),
    );
    expect(asked.plan.missing).toContainEqual({ code: 'open-forbidden', rule: 'Pay' });
  });

  test('what answers something under lock stays under lock', () => {
    const answered = { ...LOOSEST_TERMS, clear: false };
    expect(open([permits], { answered })).toMatchObject({ clear: false, byRule: false });
  });
});
