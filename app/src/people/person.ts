/** People: the persons written to, kept in the worker's vault. */
import { defined } from '@under-lock/core/defined';
import { isProblem } from '@under-lock/contract/problem';
import { personAt } from '@under-lock/core/people/find';
import { type Person, type PersonCertificate, type PersonKey, personSchema } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { dropItem, keepItem, readItem, useVault } from '../vault/useVault';

export const usePeople = () => useVault('person', personSchema);

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
  return { ...rest, ...defined({ checked }) } as Kept;
}

export const forgetPerson = (id: string): Promise<void> => dropItem('person', id);
