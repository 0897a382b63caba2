/** A person's certificates: one in use, the others kept to tell a change. */
import { currentCertificate, withCertificate } from '../src/people/certificates';
import { type PersonCertificate, personSchema } from '@under-lock/core/people/kept-person';

const now = new Date('2026-11-25T12:00:00Z');
const taken = (certificate: string) => ({ certificate, from: 'directory' as const });

test('the one taken last is in use, the one before is kept with the time it was replaced', () => {
  const first = withCertificate(undefined, taken('a'), now);
  const later = new Date('2027-01-01T12:00:00Z');
  const both = withCertificate(first, taken('b'), later);
  expect(currentCertificate({ name: '', address: '', certificates: both })).toMatchObject({
    certificate: 'b',
    addedAt: later.toISOString(),
  });
  expect(both[1]).toMatchObject({ certificate: 'a', replacedAt: later.toISOString() });
  const third = withCertificate(both, taken('c'), new Date('2028-01-01'));
  expect(third.map(({ replacedAt }) => replacedAt?.slice(0, 4))).toEqual([undefined, '2028', '2027']);
  expect(personSchema.safeParse({ name: 'x', address: 'x@y.example', certificates: third }).success).toBe(true);
});

test('not for ever more of them, and none at all is nobody’s', () => {
  let certificates: PersonCertificate[] = [];
  for (let index = 0; index < 30; index++) certificates = withCertificate(certificates, taken(String(index)), now);
  expect(certificates).toHaveLength(20);
  expect(currentCertificate({ name: '', address: '' })).toBeUndefined();
});
