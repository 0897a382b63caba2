/** Where a look at the room leads, and what goes wrong with it: one place each. */
import { ApiProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { firstState, type Held, stateOfIncomplete, stateOfProblem, stateOfRoom } from '../src/useRoom';
import { DamagedError } from '../src/visit';

const ID = '7d1f1c0e-9a5b-4a53-8d0a-2b8f9d1c0001';
const visit = { id: ID, share: new Uint8Array(32) };
const held = (over: object = {}): Held =>
  ({
    state: 'held',
    senderName: 'Maren Oduya',
    carried: false,
    identified: false,
    check: { kind: 'text', hint: '' },
    ...over,
  }) as unknown as Held;
const ended = { state: 'closed' } as unknown as Room;

test('an address leads into the room, to the list, or nowhere', () => {
  expect(firstState(undefined)).toEqual({ at: 'wrong-link' });
  expect(firstState({ id: ID, fromList: true })).toEqual({ at: 'entry', grantId: ID });
  expect(firstState({ ...visit, fromList: false })).toEqual({ at: 'loading' });
});

test.each([
  ['what has ended says so', visit, ended, false, 'ended'],
  ['a file is asked for before a passcode', visit, held({ carried: true }), false, 'file'],
  ['whoever has given it is asked', { ...visit, sealed: new Uint8Array(1) }, held({ carried: true }), false, 'ask'],
  ['who is known reads', visit, held({ identified: true }), false, 'open'],
  ['nobody reads a file that is not here', visit, held({ carried: true, identified: true }), false, 'file'],
  ['a check is asked', visit, held(), false, 'ask'],
  ['a password is asked elsewhere', visit, held({ check: { kind: 'password' } }), false, 'entry'],
  ['a sign-in is asked again first', { ...visit, byAccount: true }, held(), true, 'entry'],
])('%s', (_, by, room, again, at) => {
  const next = stateOfRoom(by, room, again);
  expect(next === 'open' ? next : next.at).toBe(at);
});

test.each([
  [ended, 'ended'],
  [held({ carried: true }), 'file'],
  [held({ check: { kind: 'password' } }), 'entry'],
  [held(), 'wrong-link'],
])('a link without its second half', (room, at) => expect(stateOfIncomplete(ID, room).at).toBe(at));

test.each([
  ['unreachable', undefined, 'offline'],
  ['not-found', undefined, 'wrong-link'],
  ['passcode-stopped', held(), 'stopped'],
  ['passcode-stopped', undefined, 'failed'],
  ['passcode-paused', held(), 'paused'],
  ['busy', held(), 'failed'],
] as const)('%s', (code, room, at) =>
  expect(stateOfProblem(new ApiProblem({ type: 'about:blank', title: code, status: 400, code }), room).at).toBe(at),
);

test('what is damaged is told apart from what failed', () => {
  expect(stateOfProblem(new DamagedError())).toEqual({ at: 'failed', damaged: true });
  expect(stateOfProblem(new Error('else'))).toEqual({ at: 'failed', damaged: false });
});
