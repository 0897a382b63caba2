/** Whom a worker knows by their address: kept, or written to. */
import { type Correspondent } from '@under-lock/core/people/address';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';

export const knownTo = (people: readonly Kept<Person>[], writtenTo: ReadonlyMap<string, Date>): Correspondent[] => [
  ...people.map(({ value: { name, address } }) => ({ name, address })),
  ...[...writtenTo.keys()].map((address) => ({ name: '', address })),
];
