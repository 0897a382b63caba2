import { offeredIn } from '../src/office-book/useOffered';

const person = (id: string, name: string, way?: 'certificate' | 'openpgp') =>
  ({
    id,
    value: { name, address: `${id}@postbox.example`, ...(way === undefined ? {} : { offered: { choice: { way } } }) },
  }) as never;

test('what somebody gave and nobody has compared is said: one leads to their page, several to the book', () => {
  expect(offeredIn([person('a', 'Ada')])).toBeUndefined();
  expect(offeredIn([person('a', 'Ada'), person('s', 'Sunniva Berg', 'openpgp')])).toMatchObject({
    title: 'Sunniva Berg gave another OpenPGP key than the office has',
    about: 's@postbox.example',
    href: '/people/office/s',
  });
  expect(offeredIn([person('r', '', 'certificate')])?.title).toBe(
    'r@postbox.example gave another certificate than the office has',
  );
  expect(offeredIn(['a', 'b', 'c', 'd'].map((id) => person(id, `Person ${id}`, 'openpgp')))).toMatchObject({
    title: '4 people gave other certificates or keys than the office has',
    about: 'Person a, Person b and Person c and others',
    href: '/people/office',
  });
});
