/** People: the persons written to, kept in the worker's vault. */
import { isProblem } from '@under-lock/contract/problem';
import { addressKey } from '@under-lock/core/people/address';
import { type Person, type PersonCertificate, type PersonKey, personSchema } from '@under-lock/core/people/kept-person';
import { dropItem, keepItem, type Kept, readItem, useVault } from '../vault/useVault';

export { type Person, type PersonCertificate, type PersonKey, personSchema } from '@under-lock/core/people/kept-person';

export const usePeople = () => useVault('person', personSchema);

/** By address, once for each list: with sixty recipients everybody is looked up many times over. */
const indexes = new WeakMap<readonly Kept<Person>[], ReadonlyMap<string, Kept<Person>>>();

export function personAt(people: readonly Kept<Person>[], address: string): Kept<Person> | undefined {
  let index = indexes.get(people);
  if (index === undefined) {
    // The first of two is theirs.
    index = new Map([...people].reverse().map((person) => [addressKey(person.value.address), person]));
    indexes.set(people, index);
  }
  return index.get(addressKey(address));
}

/** How often somebody else may get in between before it is said. */
const TRIES = 3;

/**
 * Adds what is now known of a person, keeping what was, also what another tab or page has added since `people` was
 * read. @throws ApiProblem `conflict` when that goes on
 */
export async function rememberPerson(people: readonly Kept<Person>[], person: Person): Promise<void> {
  const listed = personAt(people, person.address);
  const id = listed?.id ?? crypto.randomUUID();
  let known = listed;
  for (let left = TRIES; ; left--) {
    const value: Person = {
      ...known?.value,
      ...person,
      name: person.name === '' ? (known?.value.name ?? '') : person.name,
    };
    try {
      await keepItem('person', id, known?.revision ?? 0, value);
      return;
    } catch (error) {
      if (!isProblem(error, 'conflict') || left === 1) throw error;
      known = await readItem('person', id, personSchema);
    }
  }
}

/** With who compared its fingerprint and when, or without. */
export function withChecked<Kept extends PersonKey | PersonCertificate>(kept: Kept, checked: Kept['checked']): Kept {
  const { checked: _, ...rest } = kept;
  return { ...rest, ...(checked === undefined ? {} : { checked }) } as Kept;
}

export const forgetPerson = (id: string): Promise<void> => dropItem('person', id);
