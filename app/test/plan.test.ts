/**
 * The plan as the Write page derives it: from the draft, the people, the presets and who is registered; and what is
 * said about it.
 */
import { keyFingerprint } from '@under-lock/core/account/key-fingerprint';
import { type Office } from '@under-lock/contract/office';
import { type Preset } from '@under-lock/contract/handling';
import { type Registered } from '@under-lock/contract/registered';
import { ALL_RIGHTS, type HandlingTerms, LOOSEST_TERMS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { NOTICE_PARTS, OUR_LOOK, textProblem } from '@under-lock/core/notice/look';
import { type Draft, emptyDraft } from '@under-lock/core/outgoing/draft';
import { mayName, partWords, textProblemWords } from '../src/office/look-words';
import { type Person } from '@under-lock/core/people/kept-person';
import { makePlan, type PlanContext } from '../src/write/usePlan';
import { presetOf } from '@under-lock/core/outgoing/handling';
import { missingWords, unsettled } from '@under-lock/core/outgoing/missing-words';
import { warningWords } from '../src/write/plan/plan-words';
import { type Kept } from '@under-lock/core/vault/kept';

const now = new Date('2026-11-24T10:00:00Z');
const office: Office = {
  name: 'Larkmoor Ferries',
  mailDomain: 'larkmoor.example',
  calendar: { zone: 'Europe/Lisbon', dayEnds: '17:00', weekEndsOn: 5, maxDays: 366 },
  limits: { maxBytes: 25_000_000, maxRecipients: 200 },
  undoSeconds: 10,
  unopenedAfterDays: 3,
  roomOrigin: 'https://room.larkmoor.example',
  look: OUR_LOOK,
  statementKey: 'ab'.repeat(32),
};
const preset = (over: Partial<Preset> = {}, terms: Partial<Preset['terms']> = {}): Preset => ({
  id: crypto.randomUUID(),
  name: 'Everyday papers',
  sentence: 'x',
  active: true,
  others: false,
  isDefault: false,
  terms: {
    closing: { kind: 'two-weeks' },
    check: 'text',
    question: false,
    rights: ALL_RIGHTS,
    watermark: false,
    copies: false,
    clear: false,
    textOpen: false,
    audience: 'anyone',
    receipt: false,
    remindHours: 0,
    mayLoosen: { closing: true, identity: true, rights: true },
    ...terms,
  },
  ...over,
});
const person = (value: Person): Kept<Person> =>
  ({ id: crypto.randomUUID(), revision: 1, updatedAt: now, value }) as Kept<Person>;
const pell: Person = { name: 'Pell Anders', address: 'pell.anders@postbox.example', phone: '+447700900417' };
const registered = (knownBy?: Registered['knownBy']): Registered => ({
  id: crypto.randomUUID(),
  address: 'PELL.anders@postbox.example',
  since: now,
  key: { suite: 1, publicKey: new Uint8Array(32) },
  ...(knownBy === undefined ? {} : { knownBy }),
});
const context = (over: Partial<PlanContext> = {}): PlanContext => ({
  office,
  account: {
    id: 'a',
    address: 'maren.oduya@larkmoor.example',
    name: 'Maren Oduya',
    title: '',
    role: 'worker',
    further: [],
    departments: [],
    mayRelease: false,
    phone: '+447700900101',
  },
  people: [person(pell)],
  colleagues: [],
  knownKeys: {},
  registered: [],
  presets: [preset()],
  certificates: new Map(),
  keys: new Map(),
  signs: { certificate: false, openpgp: false },
  passwords: [],
  fileRules: OUR_RULES,
  now,
  ...over,
});
const draft = (over: Partial<Draft> = {}): Draft => ({
  ...emptyDraft,
  recipients: [{ name: '', address: pell.address, role: 'to' }],
  subject: 'Papers',
  text: 'Here they are.',
  ...over,
});
const lineOf = (over: Partial<PlanContext> = {}, change: Partial<Draft> = {}) =>
  makePlan(draft(change), context(over)).plan.lines[0]!;

test('a known person is known by the phone in People, and nothing is asked', () => {
  const { recipient, chosen } = lineOf();
  expect(recipient).toMatchObject({ name: 'Pell Anders', phone: '+447700900417' });
  expect(chosen).toMatchObject({
    check: { kind: 'text', hint: expect.stringContaining('417') as string },
    missing: [],
  });
});

test('the office’s lock for a firm is taken where none was chosen for the person or the message, whatever its case', () => {
  const firms = new Map([['postbox.example', 'carried']]);
  const [one] = draft().recipients;
  expect(lineOf().chosen.lock).toBe('room');
  expect(lineOf({ firms }).chosen.lock).toBe('carried');
  expect(lineOf({ firms }, { recipients: [{ ...one!, address: 'Pell.Anders@POSTBOX.example' }] }).chosen.lock).toBe(
    'carried',
  );
  expect(lineOf({ firms, people: [person({ ...pell, lock: 'room' })] }).chosen.lock).toBe('room');
  expect(lineOf({ firms }, { recipients: [{ ...one!, lock: 'room' }] }).chosen.lock).toBe('room');
  expect(lineOf({ firms: new Map([['other.example', 'carried']]) }).chosen.lock).toBe('room');
});

test.each([
  ['enough', 'text', {}, 'password'],
  ['not enough', 'email', {}, 'text'],
  ['without proof', undefined, {}, 'text'],
] as const)('a registered reader whose password is %s is known by %s → %s', (_, knownBy, change, kind) => {
  expect(lineOf({ registered: [registered(knownBy)] }, change).chosen.check).toMatchObject({ kind });
});

test('a password comes before what People remembers, and after what is chosen for this message', () => {
  const people = [person({ ...pell, check: 'voice' })];
  expect(lineOf({ people }).chosen.check).toMatchObject({ kind: 'voice' });
  expect(lineOf({ people, registered: [registered('text')] }).chosen.check).toMatchObject({ kind: 'password' });
  expect(
    lineOf(
      { people, registered: [registered('text')] },
      { recipients: [{ name: '', address: pell.address, role: 'to', check: 'text' }] },
    ).chosen.check,
  ).toMatchObject({ kind: 'text', orPassword: true });
});

test('a colleague is known by their sign-in, whatever else is known of the address', () => {
  const colleague = {
    id: 'c',
    address: 'tobias.quill@larkmoor.example',
    name: 'Tobias Quill',
    title: '',
    role: 'worker' as const,
    further: [],
    departments: [],
    mayRelease: false,
    setUp: true,
    key: { suite: 1, publicKey: new Uint8Array(32) },
  };
  const change = { recipients: [{ name: '', address: colleague.address, role: 'to' as const }] };
  expect(lineOf({ colleagues: [colleague] }, change)).toMatchObject({
    recipient: { name: 'Tobias Quill' },
    chosen: { check: { kind: 'account' }, missing: [] },
  });
  const { key: _, ...unready } = colleague;
  expect(lineOf({ colleagues: [unready] }, change).chosen.missing).toEqual([{ code: 'colleague-not-ready' }]);
});

test('the preset: the chosen one, else the default, else the first that is in use', () => {
  const [first, second, third] = [preset({ active: false }), preset(), preset({ isDefault: true })];
  const all = [first, second, third];
  expect(presetOf(draft({ presetId: second.id }), all)).toBe(second);
  expect(presetOf(draft(), all)).toBe(third);
  expect(presetOf(draft({ presetId: first.id }), [first, second])).toBe(second);
  expect(presetOf(draft(), [])).toBeUndefined();
});

test('an answer asks no less than what it answers, under whatever preset, and the plan says in what', () => {
  const everyday = preset(
    {},
    { check: 'email', rights: ALL_RIGHTS, copies: true, mayLoosen: { closing: true, identity: true, rights: true } },
  );
  const health: HandlingTerms = {
    ...LOOSEST_TERMS,
    check: 'voice',
    question: true,
    rights: { ...NO_RIGHTS, reply: true },
    copies: false,
    clear: false,
    textOpen: false,
    audience: 'staff',
  };
  const { applied, kept, leastCheck } = makePlan(draft({ answered: health }), context({ presets: [everyday] }));
  expect(applied.terms).toMatchObject({
    check: 'voice',
    question: true,
    rights: health.rights,
    copies: false,
    audience: 'anyone',
  });
  expect(kept).toEqual(expect.arrayContaining(['check', 'question', 'copies', 'save', 'print']));
  expect(leastCheck).toBe('voice');
  expect(makePlan(draft(), context({ presets: [everyday] })).kept).toEqual([]);
});

test('a draft leaves open only with a reason, and what leaves open is never what one begins with', () => {
  const [open, locked] = [preset({ isDefault: true }, { clear: true }), preset()];
  expect(presetOf(draft(), [open, locked])).toBe(locked);
  expect(presetOf(draft({ presetId: open.id }), [open, locked])).toBe(locked);
  expect(presetOf(draft({ presetId: open.id, openReason: '  ' }), [open, locked])).toBe(locked);
  expect(presetOf(draft({ presetId: open.id, openReason: 'It hangs on the pier' }), [open, locked])).toBe(open);
});

test('a preset is a floor: what the worker chose looser is tightened, and the plan says in what', () => {
  const strict = preset(
    {},
    {
      check: 'voice',
      rights: { ...NO_RIGHTS, reply: true },
      mayLoosen: { closing: false, identity: false, rights: false },
    },
  );
  const { applied } = makePlan(
    draft({
      terms: {
        closing: { kind: 'end-of-quarter' },
        check: 'question',
        question: false,
        rights: ALL_RIGHTS,
        watermark: false,
        copies: false,
        clear: false,
        textOpen: false,
        audience: 'anyone',
      },
    }),
    context({ presets: [strict] }),
  );
  expect(applied.terms).toMatchObject({ check: 'voice', rights: { reply: true, save: false } });
  expect([...applied.tightened].sort()).toEqual(['check', 'closing', 'copy', 'forward', 'print', 'replyAll', 'save']);
});

test('what is missing is said on the button’s line, message first, then by person', () => {
  const { plan } = makePlan(
    draft({
      subject: ' ',
      recipients: [
        { name: '', address: pell.address, role: 'to' },
        { name: 'Yard', address: 'yard@saltmarsh.example', role: 'cc' },
      ],
    }),
    context(),
  );
  expect(unsettled(plan, now, 'Europe/Lisbon')).toEqual(['a subject', 'Yard: phone number for the passcode missing']);
  expect(unsettled(makePlan(draft({ recipients: [] }), context()).plan, now, 'Europe/Lisbon')).toEqual(['a recipient']);
  expect(
    unsettled(makePlan(draft({ text: '', sendAt: '2026-11-23T10:00' }), context()).plan, now, 'Europe/Lisbon'),
  ).toEqual(['some text or a file', 'a time to leave that is still to come']);
});

test('the worker’s own number is refused, somebody else’s is asked about', () => {
  expect(lineOf({ people: [person({ ...pell, phone: '+447700900101' })] }).chosen.missing).toEqual([
    { code: 'phone-is-yours' },
  ]);
  const [warning] = lineOf({
    people: [person(pell), person({ name: 'Somebody', address: 's@postbox.example', phone: pell.phone! })],
  }).chosen.warnings;
  expect(warningWords(warning!)).toBe('This number is known as Somebody’s. Right all the same?');
  expect(missingWords['phone-is-yours']).toMatch(/your own number/);
});

test.each([
  ['', /Write something/],
  ['{sender} {sendr}', /\{sendr\} is nothing we can fill in/],
  ['{sender} {recipient}', /\{recipient\} can’t stand in this part/],
  ['A message', /\{sender\} is missing: the sender’s name/],
  ['{sender} {', /brace stands alone/],
  [`{sender}${'x'.repeat(120)}`, /At most 120 characters/],
  ['{sender} at https://x.example', /one link/],
  ['{sender}\nx', /line breaks/],
] as const)('a subject %j is answered in a sentence', (text, said) =>
  expect(textProblemWords(textProblem('subject', text)!, 'subject')).toMatch(said),
);

test('every part of a notice says what it may name', () => {
  for (const part of NOTICE_PARTS)
    expect([partWords[part].label.length > 0, mayName(part)]).toEqual([
      true,
      expect.stringMatching(/^May name \{\w+\} \(/),
    ]);
});

test('a colleague whose key is another one than when they were first written to stops the plan until it is taken', () => {
  const key = { suite: 1, publicKey: new Uint8Array(32) };
  const tobias = {
    id: 't',
    address: 'tobias.quill@larkmoor.example',
    name: 'Tobias Quill',
    title: '',
    role: 'worker' as const,
    further: [],
    departments: [],
    mayRelease: false,
    setUp: true,
    key,
  };
  const line = (knownKeys: PlanContext['knownKeys']) =>
    lineOf({ colleagues: [tobias], knownKeys }, { recipients: [{ name: '', address: tobias.address, role: 'to' }] })
      .chosen;
  const same = keyFingerprint(key.publicKey);
  expect(line({}).missing).toEqual([]);
  expect(line({ t: same }).missing).toEqual([]);
  expect(line({ t: keyFingerprint(new Uint8Array(31)) }).missing).toEqual([{ code: 'colleague-key-changed' }]);
});
