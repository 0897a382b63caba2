/** How people are listed: by what they can be reached, in which order; and what is still open as the days pass. */
import { type Person } from '@under-lock/core/people/kept-person';
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { type Kept } from '@under-lock/core/vault/kept';
import { stillOpen } from '../src/desk/still-open';
import { meansOf } from '../src/people/means';
import { personTyped, typedOf } from '../src/people/person-typed';
import { sortedPeople } from '../src/people/sorted-people';

const now = new Date('2026-11-27T12:00:00Z');
const kept = <T>(id: string, value: T): Kept<T> => ({ id, revision: 1, updatedAt: now, value });
const person = (name: string, address: string, more: Partial<Person> = {}): Person => ({ name, address, ...more });
const entry = (address: string, direction: 'in' | 'out'): PasswordEntry => ({
  address,
  direction,
  password: 'x',
  guesses: 12,
  since: now.toISOString(),
  before: [],
  note: '',
});

describe('the locks somebody can be reached by', () => {
  const certificate = (notAfter: string, more = {}) => ({
    certificate: 'AA',
    addedAt: now.toISOString(),
    from: 'file' as const,
    notAfter,
    ...more,
  });

  test('nothing is known: none', () => {
    expect(meansOf(person('', 'a@postbox.example'), [], now)).toEqual([]);
  });

  test('each by what is kept; a certificate that ran out is shown as such, a replaced one not at all', () => {
    const full = person('', 'A@postbox.example', {
      phone: '+447700900417',
      certificates: [certificate('2026-11-20T00:00:00Z'), certificate('2029-01-01T00:00:00Z', { replacedAt: 'x' })],
      keys: [{ key: 'AA', fingerprint: 'f', keyIds: [], addedAt: now.toISOString(), from: 'file' }],
    });
    const book = [kept('1', entry('a@postbox.example', 'out'))];
    expect(meansOf(full, book, now)).toEqual([
      { lock: 'certificate', state: 'ended' },
      { lock: 'openpgp', state: 'ready' },
      { lock: 'file', state: 'ready' },
      { lock: 'room', state: 'ready' },
    ]);
  });

  test('a password for what they send locks nothing of ours; a second address is a way for a passcode', () => {
    const one = person('', 'a@postbox.example', { secondAddress: 'b@postbox.example' });
    expect(meansOf(one, [kept('1', entry('a@postbox.example', 'in'))], now)).toEqual([
      { lock: 'room', state: 'ready' },
    ]);
  });
});

test('people by name, by firm and by who was written to last', () => {
  const people = [
    kept('c', person('Carl', 'carl@yard.example')),
    kept('a', person('', 'anna@clinic.example')),
    kept('b', person('Berta', 'Berta@Clinic.example')),
  ];
  const written = new Map([
    ['carl@yard.example', new Date('2026-11-20T00:00:00Z')],
    ['berta@clinic.example', new Date('2026-11-25T00:00:00Z')],
  ]);
  const ids = (order: 'name' | 'firm' | 'written') => sortedPeople(people, order, written).map(({ id }) => id);
  expect(ids('name')).toEqual(['a', 'b', 'c']);
  expect(ids('firm')).toEqual(['a', 'b', 'c']);
  expect(ids('written')).toEqual(['b', 'c', 'a']);
});

describe('what was typed about a person', () => {
  const account = { address: 'maren.oduya@larkmoor.example', further: [], phone: '+447700900101' } as never;
  const typed = { ...typedOf(undefined), name: ' Pell ', address: 'pell@postbox.example' };

  test('what the form does not show stays, what was emptied goes', () => {
    const known = kept('1', person('Pell', 'pell@postbox.example', { phone: '+447700900417', lock: 'room' }));
    const next = { ...typedOf(known.value), phone: typedOf(undefined).phone, language: 'de' as const };
    expect(personTyped(next, known, [known], account)).toEqual({
      person: { name: 'Pell', address: 'pell@postbox.example', lock: 'room', language: 'de' },
    });
  });

  test.each([
    [{ address: 'nowhere' }, 'address'],
    [{ address: 'TAKEN@postbox.example' }, 'address'],
    [{ second: 'pell@POSTBOX.example' }, 'second'],
    [{ second: 'maren.oduya@larkmoor.example' }, 'second'],
    [{ phone: { country: 'GB', typed: '123' } }, 'phone'],
    [{ phone: { country: 'GB', typed: 'x', e164: '+447700900101' } }, 'phone'],
  ])('%j is refused at its field', (change, field) => {
    const other = kept('2', person('', 'taken@postbox.example'));
    const checked = personTyped({ ...typed, ...change }, undefined, [other], account);
    expect(Object.keys('errors' in checked ? checked.errors : {})).toEqual([field]);
  });
});

test('what is still open falls as accesses close, never below none', () => {
  expect(stillOpen(3, [{ count: 0 }, { count: 2 }, { count: 5 }])).toEqual([3, 3, 1, 0]);
  expect(stillOpen(0, [])).toEqual([0]);
});
