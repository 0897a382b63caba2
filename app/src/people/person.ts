/** People: the persons written to, kept in the worker's vault. */
import { addressKey } from '@under-lock/core/people/address';
import { type Person, personSchema } from './kept-person';
import { dropItem, keepItem, type Kept, useVault } from '../vault/useVault';

export { type Person, type PersonCertificate, type PersonKey, personSchema } from './kept-person';

export const usePeople = () => useVault('person', personSchema);

export const personAt = (people: readonly Kept<Person>[], address: string): Kept<Person> | undefined => people.find(({ value }) => addressKey(value.address) === addressKey(address));

/** Adds what is now known of a person, keeping what was. */
export async function rememberPerson(people: readonly Kept<Person>[], person: Person): Promise<void> {
  const known = personAt(people, person.address);
  const value: Person = { ...known?.value, ...person, name: person.name === '' ? (known?.value.name ?? '') : person.name };
  await keepItem('person', known?.id ?? crypto.randomUUID(), known?.revision ?? 0, value);
}

export const forgetPerson = (id: string): Promise<void> => dropItem('person', id);
