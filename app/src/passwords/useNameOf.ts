import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';

/** Whom an address belongs to, by name where one is kept. */
export function useNameOf(): (address: string) => string {
  const { data: people } = usePeople();
  return (address) => personAt(people ?? [], address)?.value.name || address;
}
