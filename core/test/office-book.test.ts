/** The office book's key, and what is told apart of a person: differences, history, what a plan takes. */
import fc from 'fast-check';
import { makeKeyPair } from '../src/account/key-pair';
import { firmLocks } from '../src/office-book/firm';
import { bookKey, makeOfficeKey, openAsMember, sealToMember } from '../src/office-book/key';
import {
  type BookPerson,
  changedPerson,
  differences,
  fieldsChanged,
  onlyIn,
  shared,
  withBook,
} from '../src/office-book/person';
import { withOffice } from '../src/office-book/planned';
import { resealed } from '../src/office-book/renewal';
import { type Person } from '../src/people/kept-person';
import { openItem, sealItem } from '../src/vault/item';
import { openManifest } from '../src/vault/manifest';
import { type Kept } from '../src/vault/kept';

const at = new Date('2026-11-28T10:00:00Z');
const by = { id: 'a', name: 'Maren Oduya' };
const own = (over: Partial<Person> = {}): Person => ({ name: 'Linde', address: 'linde@northquay.example', ...over });
const inBook = (over: Partial<BookPerson> = {}): BookPerson => ({ ...own(), changes: [], ...over });
const kept = <T>(value: T, id = 'x', revision = 1): Kept<T> => ({ id, revision, updatedAt: at, value });

test('the office’s secret opens for whom it was sealed, in its epoch, and for nobody else', async () => {
  const [member, other, { secret }] = [await makeKeyPair(), await makeKeyPair(), await makeOfficeKey()];
  const sealed = await sealToMember(member, secret, 3, 'm');
  expect(await openAsMember(member.privateKey, sealed, 3, 'm')).toEqual(secret);
  for (const [key, epoch, id] of [
    [member, 4, 'm'],
    [member, 3, 'n'],
    [other, 3, 'm'],
  ] as const)
    await expect(openAsMember(key.privateKey, sealed, epoch, id)).rejects.toMatchObject({ code: 'not-opened' });
});

test('a renewal seals all anew: the old key opens nothing of it, each who stays the new one', async () => {
  const member = await makeKeyPair();
  const old = await bookKey((await makeOfficeKey()).secret);
  const items = [{ id: 'one', revision: 4, updatedAt: at, value: inBook() }];
  const made = await resealed([{ kind: 'book-person', items, revision: 7 }], {
    epoch: 2,
    members: [{ id: 'm', key: member }],
  });
  const secret = await openAsMember(member.privateKey, made.members[0]!.sealedKey, 2, 'm');
  const key = await bookKey(secret);
  const [{ manifest, items: sealed }] = made.kinds as [(typeof made.kinds)[number]];
  expect(await openItem(key, 'book-person', 'one', sealed[0]!.sealed, 4)).toEqual(inBook());
  await expect(openItem(old, 'book-person', 'one', sealed[0]!.sealed, 4)).rejects.toMatchObject({ code: 'not-opened' });
  const opened = await openManifest(key, 'book-person', 8, manifest.whole);
  expect([...opened.items]).toEqual([['one', 4]]);
  expect(await sealItem(key, 'book-person', 'one', 1, 4)).not.toEqual(sealed[0]!.sealed);
});

test('both sides of a difference, and what only one of them knows', () => {
  const mine = own({ phone: '+4915550100', language: 'de', lock: 'room' });
  const book = inBook({ phone: '+4915550199', firm: 'North Quay', language: 'de' });
  expect(differences(mine, book)).toEqual(['phone']);
  expect(onlyIn(book, mine)).toEqual(['firm']);
  expect(onlyIn(own({ secondAddress: 'l@other.example' }), book)).toEqual(['secondAddress']);
});

test('what is shared leaves out what is one’s own, and keeps what the office knows beside it', () => {
  const before = inBook({ firm: 'North Quay', note: 'blue form' });
  const told = shared(own({ phone: '+4915550100', lock: 'room', asked: { at: 'x', messageId: 'y' } }), before);
  expect(told).toEqual({ ...own({ phone: '+4915550100' }), firm: 'North Quay', note: 'blue form' });
});

test('a change says who changed what; one that changes nothing is none; fifty are kept', () => {
  const first = changedPerson(undefined, own(), { by, at, what: 'shared' })!;
  expect(first.changes).toEqual([{ at: at.toISOString(), by, what: 'shared', fields: ['name', 'address'] }]);
  expect(changedPerson(first, own(), { by, at, what: 'changed' })).toBeUndefined();
  let last = first;
  for (let count = 0; count < 60; count++)
    last = changedPerson(last, own({ name: `Linde ${count}` }), { by, at, what: 'changed' })!;
  expect(last.changes).toHaveLength(50);
  expect(last.changes[0]!.fields).toEqual(['name']);
});

test('a plan takes one’s own first, then the office’s, and says which is which', () => {
  const entry = { password: 'Neap-Tide-77', guesses: 14, since: at.toISOString() };
  const book = [
    kept(inBook({ phone: '+4915550199', firm: 'North Quay', password: entry }), 'b1'),
    kept(inBook({ address: 'ros@northquay.example', name: 'Ros', phone: '+4915550111' }), 'b2', 6),
  ];
  const mine = [kept(own({ secondAddress: 'l@other.example' }), 'o1', 3), kept(own({ address: 'x@y.example' }), 'o2')];
  const { people, passwords, fromBook } = withOffice(mine, [], book);
  expect(people.map(({ id, revision }) => [id, revision])).toEqual([
    ['o1', 3],
    ['o2', 1],
    ['b2', 6],
  ]);
  expect(people[0]!.value).toEqual(own({ secondAddress: 'l@other.example', phone: '+4915550199' }));
  expect(fromBook.get('linde@northquay.example')).toEqual(['firm', 'phone', 'password']);
  expect(passwords.map(({ value }) => [value.address, value.password])).toEqual([
    ['linde@northquay.example', 'Neap-Tide-77'],
  ]);
  const agreed = kept({
    ...entry,
    password: 'Mine',
    address: own().address,
    direction: 'out' as const,
    before: [],
    note: '',
  });
  const again = withOffice(mine, [agreed], book);
  expect(again.passwords).toEqual([agreed]);
  expect(again.fromBook.get('linde@northquay.example')).toEqual(['firm', 'phone']);
});

test('a firm’s lock holds for whoever there has none chosen', () => {
  const firms = firmLocks([
    { domain: 'Northquay.example', lock: 'openpgp', changes: [] },
    { domain: 'cala.example', changes: [] },
  ]);
  expect([...firms]).toEqual([['northquay.example', 'openpgp']]);
});

const people = fc.record(
  {
    name: fc.constantFrom('', 'Linde', 'Ros'),
    phone: fc.constantFrom('+4915550100', '+4915550111'),
    secondAddress: fc.constantFrom('a@b.example', 'c@d.example'),
    language: fc.constantFrom('de' as const, 'pt' as const),
  },
  { requiredKeys: ['name'] },
);

test('whatever is known where: one’s own is never changed by the book, and nothing that either knows is lost', () => {
  fc.assert(
    fc.property(people, people, (mine, theirs) => {
      const [one, other] = [own(mine), inBook(theirs)];
      const { person } = withBook(one, other)!;
      expect(fieldsChanged(one, person).every((field) => onlyIn(other, one).includes(field))).toBe(true);
      expect(onlyIn(one, person)).toEqual([]);
      expect(onlyIn(other, person)).toEqual([]);
    }),
  );
});
