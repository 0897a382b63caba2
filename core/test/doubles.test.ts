/** One person twice in the office book: found, told apart, made one. */
import { doublesIn, madeOne, toldApart } from '../src/office-book/doubles';
import { type BookPerson } from '../src/office-book/person';
import { type Kept } from '../src/vault/kept';

let count = 0;
const kept = (value: Partial<BookPerson> & { address: string }): Kept<BookPerson> =>
  ({ id: `id-${++count}`, revision: 1, value: { name: '', changes: [], ...value } }) as unknown as Kept<BookPerson>;
const found = (...people: Kept<BookPerson>[]): string[] =>
  doublesIn(people).map(
    ({ people: [one, other], same }) => `${one.value.address} ${other.value.address} ${same.join()}`,
  );

test('by a second address that is the other’s, by one phone, by one name at one firm', () => {
  expect(
    found(
      kept({ address: 'linde@northquay.example', secondAddress: 'Linde@other.example' }),
      kept({ address: 'linde@OTHER.example' }),
    ),
  ).toEqual(['linde@northquay.example linde@OTHER.example secondAddress']);
  expect(
    found(kept({ address: 'a@x.example', phone: '+441' }), kept({ address: 'b@y.example', phone: '+441' })),
  ).toEqual(['a@x.example b@y.example phone']);
  expect(
    found(
      kept({ address: 'l.brandt@northquay.example', name: 'Linde Brandt' }),
      kept({ address: 'brandt@northquay.example', name: 'Brandt, Lindé' }),
      kept({ address: 'brandt@elsewhere.example', name: 'Linde Brandt' }),
    ),
  ).toEqual(['l.brandt@northquay.example brandt@northquay.example name']);
});

test('all that is the same is said of one pair; a first name alone, a house’s number and who was told apart are none', () => {
  const [one, other] = [
    kept({ address: 'a@x.example', name: 'Ada Lind', phone: '+441' }),
    kept({ address: 'b@x.example', name: 'Ada Lind', phone: '+441', secondAddress: 'a@x.example' }),
  ];
  expect(found(one, other)).toEqual(['a@x.example b@x.example secondAddress,phone,name']);
  expect(found(kept({ address: 'a@x.example', name: 'Ada' }), kept({ address: 'b@x.example', name: 'Ada' }))).toEqual(
    [],
  );
  expect(found(...'abcde'.split('').map((name) => kept({ address: `${name}@x.example`, phone: '+441' })))).toEqual([]);
  expect(found({ ...one, value: { ...toldApart(one.value, other.value), changes: [] } }, other)).toEqual([]);
  expect(found(one, { ...other, value: { ...toldApart(other.value, one.value), changes: [] } })).toEqual([]);
});

test('twenty thousand people are looked through at once, and no more pairs are shown than anybody settles', () => {
  const crowd = Array.from({ length: 20_000 }, (_, index) =>
    kept({
      address: `p${index}@x${index % 700}.example`,
      name: `Person ${index % 10_000}`,
      phone: `+44${index % 15_000}`,
    }),
  );
  expect(doublesIn(crowd)).toHaveLength(100);
});

test('made one: the address that stays is written to, what it lacks is filled, nothing of the other is lost in silence', () => {
  const certificates = [{ certificate: 'A', addedAt: '', from: 'file' as const }];
  const { value: stays } = kept({ address: 'a@x.example', name: 'Ada Lind', note: 'Mornings' });
  const { value: goes } = kept({
    address: 'b@x.example',
    name: 'A. Lind',
    firm: 'Yard',
    phone: '+441',
    language: 'pl',
    note: 'Blue form',
    certificates,
  });
  expect(madeOne(stays, goes)).toEqual({
    name: 'Ada Lind',
    address: 'a@x.example',
    firm: 'Yard',
    phone: '+441',
    language: 'pl',
    secondAddress: 'b@x.example',
    note: 'Mornings\nBlue form',
  });
  expect(madeOne({ ...stays, secondAddress: 'ada@home.example' }, goes)).toMatchObject({
    secondAddress: 'ada@home.example',
    note: 'Mornings\nBlue form\nb@x.example',
  });
  expect(madeOne({ ...goes, phone: '+442' }, stays)).toMatchObject({ phone: '+442', certificates, name: 'A. Lind' });
});
