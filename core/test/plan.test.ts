import { type Assessment, type LockKind, type Recipient } from '../src/locks/lock';
import { lockKinds } from '../src/locks/index';
import { planDelivery, type PlanInput } from '../src/plan/plan';

const pell: Recipient = { name: 'Pell Anders', address: 'pell@postbox.example', role: 'to', phone: '+447700900417' };
const input = (over: Partial<PlanInput> = {}): PlanInput => ({
  recipients: [pell], handling: { check: 'text', rights: { reply: true, save: false }, closing: { ok: true, closesAt: new Date('2026-12-03T17:00:00Z') } }, subject: 'Papers', text: 'Hello', fileSizes: [],
  limits: { maxBytes: 1000, maxRecipients: 3 }, context: { sender: { address: 'maren@larkmoor.example', addresses: [], phones: ['+447700900101'] }, others: [{ name: 'Yard', address: 'office@saltmarsh.example', phone: '+447700900262', secondAddress: 'second@saltmarsh.example' }] }, ...over,
});
const first = (recipient: Partial<Recipient>, over: Partial<PlanInput> = {}) => planDelivery(input({ recipients: [{ ...pell, ...recipient }], ...over }), lockKinds).lines[0]!.chosen;

test('somebody with a phone can be written to, with the passcode’s way shown by its last digits', () => {
  const plan = planDelivery(input(), lockKinds);
  expect(plan).toMatchObject({ ready: true, missing: [] });
  expect(plan.lines[0]!.chosen).toMatchObject({ lock: 'room', check: { kind: 'text', hint: '···\u00a0417' }, missing: [], warnings: [], cannotHonour: [] });
});

test.each([
  ['no phone', { phone: undefined as never }, 'phone-missing'],
  ['the sender’s own phone', { phone: '+447700900101' }, 'phone-is-yours'],
  ['no second address', { check: 'email' as const }, 'second-address-missing'],
  ['the same address twice', { check: 'email' as const, secondAddress: 'PELL@postbox.example' }, 'second-address-is-the-same'],
  ['the sender’s own address', { check: 'email' as const, secondAddress: 'maren@larkmoor.example' }, 'second-address-is-yours'],
])('%s stops it', (_, recipient, code) => {
  expect(first(recipient).missing).toEqual([{ code }]);
  expect(planDelivery(input({ recipients: [{ ...pell, ...recipient }] }), lockKinds).ready).toBe(false);
});

test('a number or address that is somebody else’s is warned of, by name, and does not stop', () => {
  expect(first({ phone: '+447700900262' })).toMatchObject({ missing: [], warnings: [{ code: 'phone-of-another', name: 'Yard' }] });
  expect(first({ check: 'email', secondAddress: 'second@saltmarsh.example' })).toMatchObject({ missing: [], warnings: [{ code: 'second-address-of-another', name: 'Yard' }] });
  expect(first({ address: 'office@saltmarsh.example', phone: '+447700900262' }).warnings).toEqual([]);
});

test.each([
  ['nobody', { recipients: [] }, { code: 'no-recipients' }],
  ['four of three', { recipients: ['a', 'b', 'c', 'd'].map((name) => ({ ...pell, address: `${name}@postbox.example` })) }, { code: 'too-many-recipients', limit: 3 }],
  ['a blank subject', { subject: '  ' }, { code: 'no-subject' }],
  ['nothing at all', { text: ' \n' }, { code: 'nothing-written' }],
  ['too much', { fileSizes: [600, 401] }, { code: 'too-large', size: 1001, limit: 1000 }],
  ['a past closing', { handling: { ...input().handling, closing: { ok: false as const, problem: 'past' as const } } }, { code: 'closing', problem: 'past' }],
])('%s is said of the message', (_, over, missing) => {
  expect(planDelivery(input(over as Partial<PlanInput>), lockKinds)).toMatchObject({ ready: false, missing: [missing] });
});
test('files alone are enough', () => expect(planDelivery(input({ text: '', fileSizes: [10] }), lockKinds).ready).toBe(true));

test('of several locks the one that breaks fewest promises is chosen, then the one that asks least; the others stay as alternatives', () => {
  const lock = (name: string, cannotHonour: Assessment['cannotHonour'], missing: Assessment['missing']): LockKind => ({ ...lockKinds[0]!, assess: () => ({ lock: name as 'room', cannotHonour, missing, warnings: [], reasons: [] }) });
  const plan = planDelivery(input(), [lock('breaks', ['closing'], []), lock('asks', [], [{ code: 'phone-missing' }]), lock('fits', [], []), lock('fits-too', [], [])]);
  expect([plan.lines[0]!.chosen, ...plan.lines[0]!.alternatives].map(({ lock: name }) => name)).toEqual(['fits', 'fits-too', 'asks', 'breaks']);
});
