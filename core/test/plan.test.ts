import { LOOSEST_TERMS } from '../src/handling/handling';
import { type Recipient } from '../src/locks/lock';
import { type Assessment } from '../src/locks/index';
import { lockKinds } from '../src/locks/list';
import { USUAL_WAY } from '../src/ways/file-way';
import { type Assessor, planDelivery, type PlanInput } from '../src/outgoing/delivery-plan';

const pell: Recipient = { name: 'Pell Anders', address: 'pell@postbox.example', role: 'to', phone: '+447700900417' };
const input = (over: Partial<PlanInput> = {}): PlanInput => ({
  recipients: [pell],
  handling: {
    ...LOOSEST_TERMS,
    clear: false,
    check: 'text',
    leastCheck: 'question',
    closing: { ok: true, closesAt: new Date('2026-12-03T17:00:00Z') },
  },
  subject: 'Papers',
  text: 'Hello',
  fileSizes: [],
  limits: { maxBytes: 1000, maxRecipients: 3 },
  context: {
    message: 'Papers Hello',
    fileCount: 1,
    size: 1_000,
    sender: {
      address: 'maren@larkmoor.example',
      signs: true,
      signsOpenPgp: false,
      addresses: [],
      phones: ['+447700900101'],
    },
    others: [
      {
        name: 'Yard',
        address: 'office@saltmarsh.example',
        phone: '+447700900262',
        secondAddress: 'second@saltmarsh.example',
      },
    ],
  },
  ...over,
});
const first = (recipient: Partial<Recipient>, over: Partial<PlanInput> = {}) =>
  planDelivery(input({ recipients: [{ ...pell, ...recipient }], ...over }), lockKinds).lines[0]!.chosen;

test('somebody with a phone can be written to, with the passcode’s way shown by its last digits', () => {
  const plan = planDelivery(input(), lockKinds);
  expect(plan).toMatchObject({ ready: true, missing: [] });
  expect(plan.lines[0]!.chosen).toMatchObject({
    lock: 'room',
    check: { kind: 'text', hint: '···\u00a0417' },
    missing: [],
    warnings: [],
    cannotHonour: [],
  });
});

test.each([
  ['no phone', { phone: undefined as never }, 'phone-missing'],
  ['the sender’s own phone', { phone: '+447700900101' }, 'phone-is-yours'],
  ['no second address', { check: 'email' as const }, 'second-address-missing'],
  [
    'the same address twice',
    { check: 'email' as const, secondAddress: 'PELL@postbox.example' },
    'second-address-is-the-same',
  ],
  [
    'the sender’s own address',
    { check: 'email' as const, secondAddress: 'maren@larkmoor.example' },
    'second-address-is-yours',
  ],
])('%s stops it', (_, recipient, code) => {
  expect(first(recipient).missing).toEqual([{ code }]);
  expect(planDelivery(input({ recipients: [{ ...pell, ...recipient }] }), lockKinds).ready).toBe(false);
});

test('a number or address that is somebody else’s is warned of, by name, and does not stop', () => {
  expect(first({ phone: '+447700900262' })).toMatchObject({
    missing: [],
    warnings: [{ code: 'phone-of-another', name: 'Yard' }],
  });
  expect(first({ check: 'email', secondAddress: 'second@saltmarsh.example' })).toMatchObject({
    missing: [],
    warnings: [{ code: 'second-address-of-another', name: 'Yard' }],
  });
  expect(first({ address: 'office@saltmarsh.example', phone: '+447700900262' }).warnings).toEqual([]);
});

test.each([
  ['nobody', { recipients: [] }, { code: 'no-recipients' }],
  [
    'four of three',
    { recipients: ['a', 'b', 'c', 'd'].map((name) => ({ ...pell, address: `${name}@postbox.example` })) },
    { code: 'too-many-recipients', limit: 3 },
  ],
  ['a blank subject', { subject: '  ' }, { code: 'no-subject' }],
  ['nothing at all', { text: ' \n' }, { code: 'nothing-written' }],
  ['too much', { fileSizes: [600, 401] }, { code: 'too-large', size: 1001, limit: 1000 }],
  [
    'a past closing',
    { handling: { ...input().handling, closing: { ok: false as const, problem: 'past' as const } } },
    { code: 'closing', problem: 'past' },
  ],
])('%s is said of the message', (_, over, missing) => {
  expect(planDelivery(input(over as Partial<PlanInput>), lockKinds)).toMatchObject({
    ready: false,
    missing: [missing],
  });
});
test('files alone are enough', () =>
  expect(planDelivery(input({ text: '', fileSizes: [10] }), lockKinds).ready).toBe(true));

test('of several locks the one that breaks fewest promises is chosen, then the one that asks least; the others stay as alternatives', () => {
  const lock = (name: string, cannotHonour: Assessment['cannotHonour'], missing: Assessment['missing']): Assessor => ({
    assess: () => ({ lock: name as 'room', available: true, cannotHonour, missing, warnings: [], reasons: [] }),
  });
  const plan = planDelivery(input(), [
    lock('breaks', ['closing'], []),
    lock('asks', [], [{ code: 'phone-missing' }]),
    lock('fits', [], []),
    lock('fits-too', [], []),
  ]);
  expect([plan.lines[0]!.chosen, ...plan.lines[0]!.alternatives].map(({ lock: name }) => name)).toEqual([
    'fits',
    'fits-too',
    'asks',
    'breaks',
  ]);
});

test.each([
  ['voice needs a phone as a text does', { check: 'voice' as const, phone: undefined as never }, ['phone-missing']],
  ['a question alone needs question and answer', { check: 'question' as const }, ['question-missing']],
  ['an answer is needed', { check: 'question' as const, question: 'Which boat did we meet on?' }, ['answer-missing']],
  [
    'two letters are no answer',
    { check: 'question' as const, question: 'Which boat did we meet on?', answer: 'A–b' },
    ['answer-too-short'],
  ],
  [
    'question and answer are enough',
    { check: 'question' as const, question: 'Which boat did we meet on?', answer: 'MV Teal' },
    [],
  ],
])('%s', (_, recipient, codes) => expect(first(recipient).missing.map(({ code }) => code)).toEqual(codes));

test('an answer that stands in the question, the message or the name is warned of', () => {
  const asked = { check: 'question' as const, question: 'Was it the MV Teal?', answer: 'mv  téal' };
  expect(first(asked).warnings).toEqual([{ code: 'answer-stands-in', place: 'question' }]);
  expect(
    first(
      { ...asked, question: 'Which boat?' },
      { context: { ...input().context, message: 'See you on the M.V. Teal' } },
    ).warnings,
  ).toEqual([{ code: 'answer-stands-in', place: 'message' }]);
  expect(first({ ...asked, question: 'Your name?', answer: 'Anders' }).warnings).toEqual([
    { code: 'answer-stands-in', place: 'name' },
  ]);
});

test('one person’s check may be another than the handling’s, and never weaker than the least', () => {
  const handled = (leastCheck: 'question' | 'voice') => ({ handling: { ...input().handling, leastCheck } });
  expect(first({ check: 'email', secondAddress: 'p@islandmail.example' }, handled('question')).check).toMatchObject({
    kind: 'email',
  });
  expect(first({ check: 'email', secondAddress: 'p@islandmail.example' }, handled('voice')).check).toMatchObject({
    kind: 'voice',
  });
  expect(first({ check: 'text' }, handled('voice')).check).toMatchObject({ kind: 'text' });
});

test('a question besides the passcode asks for both', () => {
  const both = { handling: { ...input().handling, question: true } };
  expect(first({ phone: undefined as never }, both).missing.map(({ code }) => code)).toEqual([
    'phone-missing',
    'question-missing',
  ]);
  expect(first({ question: 'Which boat?', answer: 'Teal' }, both)).toMatchObject({
    missing: [],
    check: { kind: 'text', question: true },
  });
});

test('a colleague is known by their sign-in, asked nothing, and must have been here once', () => {
  expect(
    first(
      { colleague: { ready: true }, phone: undefined as never },
      { handling: { ...input().handling, question: true } },
    ),
  ).toMatchObject({
    missing: [],
    check: { kind: 'account' },
    reasons: [{ code: 'signed-in-here' }, { code: 'can-be-closed-and-withdrawn' }],
  });
  expect(first({ colleague: { ready: false } }).missing).toEqual([{ code: 'colleague-not-ready' }]);
});

test.each([
  ['staff', undefined, ['staff-only']],
  ['staff', { ready: true }, []],
  ['outsiders', undefined, []],
  ['outsiders', { ready: true }, ['outsiders-only']],
  ['nobody', { ready: true }, ['nobody-allowed']],
  ['anyone', undefined, []],
] as const)('for %s, with colleague %j: %j', (audience, colleague, codes) => {
  expect(
    first(colleague === undefined ? {} : { colleague }, { handling: { ...input().handling, audience } }).missing.map(
      ({ code }) => code,
    ),
  ).toEqual(codes);
});

describe('their mail gateway’s limit', () => {
  const known = { level: 'valid' as const };
  const to: Partial<Recipient> = {
    certificate: known,
    openpgp: { ...known, readsNewest: true },
    file: { way: USUAL_WAY, password: { weak: false, told: true }, legacyAllowed: false },
    largest: 999,
  };
  const limited = { code: 'file-too-large', limit: 999 };
  const withTerms = (terms: object): Partial<PlanInput> => ({ handling: { ...input().handling, ...terms } });

  test('what would not pass is not taken: what is read here needs no gateway', () => {
    expect(first({ ...to, largest: 1_000 }, withTerms({ copies: true })).lock).toBe('certificate');
    expect(first(to, withTerms({ copies: true }))).toMatchObject({ lock: 'room', missing: [] });
  });
  test.each(['certificate', 'openpgp', 'file', 'carried'])('asked for by hand, a %s says what is too much', (lock) => {
    const { chosen, alternatives } = planDelivery(
      input({ recipients: [{ ...pell, ...to, lock }], ...withTerms({ copies: true }) }),
      lockKinds,
    ).lines[0]!;
    expect([chosen, ...alternatives].find((one) => one.lock === lock)!.missing).toEqual([limited]);
  });
  test.each(['certificate', 'openpgp', 'file', 'open'])('what is no secret travels as mail, too: %s', (lock) =>
    expect(first({ ...to, lock }, withTerms({ clear: true })).missing).toContainEqual(limited),
  );
});
