/** What rules ask of a draft, before there are any: an input of the plan that only ever makes it stricter. */
import fc from 'fast-check';
import {
  type HandlingTerms,
  IDENTITY_CHECKS,
  isAsStrict,
  LOOSEST_TERMS,
  NO_RIGHTS,
  type Rights,
} from '../../src/handling/handling';
import { OUR_RULES } from '../../src/locks/file/rules';
import { OUR_LOOK } from '../../src/notice/look';
import { type Draft, emptyDraft, plainTerms } from '../../src/outgoing/draft';
import { type Known } from '../../src/outgoing/known';
import { makePlan } from '../../src/outgoing/plan';

const now = new Date('2026-11-24T10:00:00Z');
const PELL = 'pell.anders@postbox.example';
const known = (demands: readonly HandlingTerms[]): Known => ({
  office: {
    name: 'Larkmoor Ferries',
    mailDomain: 'larkmoor.example',
    calendar: { zone: 'Europe/Lisbon', dayEnds: '17:00', weekEndsOn: 5, maxDays: 366 },
    limits: { maxBytes: 25_000_000, maxRecipients: 200 },
    look: OUR_LOOK,
  },
  account: { address: 'maren.oduya@larkmoor.example', name: 'Maren Oduya', further: [] },
  people: [
    {
      id: 'p',
      revision: 1,
      updatedAt: now,
      value: { name: 'Pell Anders', address: PELL, phone: '+447700900417' },
    } as Known['people'][number],
  ],
  colleagues: [],
  knownKeys: {},
  registered: [],
  presets: [],
  demands,
  certificates: new Map(),
  keys: new Map(),
  signs: { certificate: false, openpgp: false },
  passwords: [],
  fileRules: OUR_RULES,
  now,
  zone: 'Europe/Lisbon',
});
const draft: Draft = {
  ...emptyDraft,
  subject: 'Fitness papers',
  text: 'Page two.',
  terms: { ...plainTerms, check: 'email', copies: true, textOpen: true },
  recipients: [{ name: '', address: PELL, role: 'to', check: 'email' }],
};

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

test('demands never loosen, and their order makes no difference', () => {
  const plain = makePlan(draft, known([]));
  expect(plain.demanded).toEqual([]);
  fc.assert(
    fc.property(fc.array(terms, { maxLength: 5 }), (demands) => {
      const one = makePlan(draft, known(demands));
      const other = makePlan(draft, known([...demands].reverse()));
      expect(other).toEqual(one);
      expect(isAsStrict({ ...one.applied.terms, closesAt: now }, { ...plain.applied.terms, closesAt: now })).toBe(true);
      for (const demand of demands)
        expect(isAsStrict({ ...one.applied.terms, closesAt: now }, { ...demand, closesAt: now })).toBe(true);
    }),
  );
});

test('a demand counts for each recipient, also for whom the worker chose less, and is said', () => {
  const asked = makePlan(draft, known([{ ...LOOSEST_TERMS, check: 'text', copies: false }]));
  expect(asked.demanded).toEqual(['check', 'copies']);
  expect(asked.leastCheck).toBe('text');
  expect(asked.plan.lines[0]!.chosen.check?.kind).toBe('text');
});
