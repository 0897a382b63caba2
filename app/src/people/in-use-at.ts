/** What is in use of those who are written to: their certificates, their keys. */
import { addressKey } from '@under-lock/core/people/address';
import { personAt } from '@under-lock/core/people/find';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { useMemo } from 'react';

/** By the keys of their addresses, for whoever has one. @param of The same function at each drawing. */
export const useInUseAt = <Means>(
  people: readonly Kept<Person>[] | undefined,
  addresses: readonly string[],
  of: (person: Person) => Means | undefined,
): { address: string; kept: Means }[] =>
  useMemo(
    () =>
      addresses.flatMap((address) => {
        const person = people === undefined ? undefined : personAt(people, address);
        const kept = person === undefined ? undefined : of(person.value);
        return kept === undefined ? [] : [{ address: addressKey(address), kept }];
      }),
    [people, addresses, of],
  );
