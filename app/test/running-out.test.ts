import { type Person, type PersonCertificate } from '@under-lock/core/people/kept-person';
import { peopleRunningOut } from '../src/people/running-out';

const now = new Date('2026-11-24T09:00:00Z');
const certificate = (days: number | undefined, over: Partial<PersonCertificate> = {}): PersonCertificate => ({
  certificate: 'AA',
  addedAt: now.toISOString(),
  from: 'file',
  ...(days === undefined ? {} : { notAfter: new Date(now.getTime() + days * 86_400_000).toISOString() }),
  ...over,
});
const person = (name: string, ...certificates: PersonCertificate[]): Person => ({
  name,
  address: `${name || 'x'}@postbox.example`,
  certificates,
});

test('whose certificate runs out within a month, the soonest first; whoever has none, a longer one, an ended or a replaced one is not named', () => {
  const people = [
    person('late', certificate(29)),
    person('soon', certificate(2)),
    person('long', certificate(31)),
    person('ended', certificate(-1)),
    person('unknown', certificate(undefined)),
    person('none'),
    person('changed', certificate(200), certificate(5, { replacedAt: now.toISOString() })),
    person('', certificate(10)),
  ];
  expect(peopleRunningOut(people, now).map(({ who }) => who)).toEqual(['soon', 'x@postbox.example', 'late']);
});
