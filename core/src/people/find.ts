/** Somebody by their address, among those who are kept or known. */
import { type Kept } from '../vault/kept';
import { addressKey } from './address';
import { type Person } from './kept-person';

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

export const oneAt = <One extends { address: string }>(among: readonly One[], address: string): One | undefined =>
  among.find((one) => addressKey(one.address) === addressKey(address));
