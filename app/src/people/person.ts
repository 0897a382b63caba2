/** People: the persons written to, kept in the worker's vault. */
import { IDENTITY_CHECKS } from '@under-lock/core/handling/handling';
import { LOCKS } from '@under-lock/core/locks/lock';
import { LANGUAGES } from '@under-lock/core/people/language';
import { addressKey } from '@under-lock/core/people/address';
import { z } from 'zod';
import { dropItem, keepItem, type Kept, useVault } from '../vault/useVault';

/** Bytes as base64url. */
const personCertificateSchema = z.object({
  certificate: z.string(),
  chain: z.array(z.string()).optional(),
  addedAt: z.string(),
  from: z.enum(['file', 'directory', 'mail']),
  /** Who compared the fingerprint with them, and when. */
  checked: z.object({ at: z.string(), by: z.string() }).optional(),
  /** What their program reads, as their signed mail said. */
  capabilities: z.array(z.string()).optional(),
  /** When another one took its place. */
  replacedAt: z.string().optional(),
  /** When it runs out, so that a list can say so without reading it. */
  notAfter: z.string().optional(),
});
export type PersonCertificate = z.infer<typeof personCertificateSchema>;

export const personSchema = z.object({
  name: z.string(),
  address: z.string(),
  phone: z.string().optional(),
  secondAddress: z.string().optional(),
  check: z.enum(IDENTITY_CHECKS).optional(),
  /** Of the notices to them; English when not known. */
  language: z.enum(LANGUAGES).optional(),
  /** The newest first; the old ones stay, to tell a change. */
  certificates: z.array(personCertificateSchema).optional(),
  /** The lock the worker chose for them last, where there was a choice. */
  lock: z.enum(LOCKS).optional(),
  /** When they were last asked for a signed message, and by which message of ours. */
  asked: z.object({ at: z.string(), messageId: z.string() }).optional(),
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
