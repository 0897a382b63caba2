/** People: the persons written to, kept in the worker's vault. */
import { IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { LANGUAGES } from '@under-lock/core/people/language';
import { addressKey } from '@under-lock/core/people/address';
import { z } from 'zod';
import { dropItem, keepItem, type Kept, useVault } from '../vault/useVault';

export const personSchema = z.object({
  name: z.string(),
  address: z.string(),
  phone: z.string().optional(),
  secondAddress: z.string().optional(),
  check: z.enum(IDENTITY_CHECKS).optional(),
  /** Of the notices to them; English when not known. */
  language: z.enum(LANGUAGES).optional(),
});
export type Person = z.infer<typeof personSchema>;

export const usePeople = () => useVault('person', personSchema);

export const personAt = (people: readonly Kept<Person>[], address: string): Kept<Person> | undefined => people.find(({ value }) => addressKey(value.address) === addressKey(address));

/** Adds what is now known of a person, keeping what was. */
export async function rememberPerson(people: readonly Kept<Person>[], person: Person): Promise<void> {
  const known = personAt(people, person.address);
  const value: Person = { ...known?.value, ...person, name: person.name === '' ? (known?.value.name ?? '') : person.name };
  await keepItem('person', known?.id ?? crypto.randomUUID(), known?.revision ?? 0, value);
}

export const forgetPerson = (id: string): Promise<void> => dropItem('person', id);
