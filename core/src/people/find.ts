/** Somebody by their address, among those who are kept or known. */
import { type Kept } from '../vault/kept';
import { addressKey } from './address';
import { type Person } from './kept-person';
import { ownAddresses, type WithAddresses } from './own-addresses';

/**
 * Each list is gone through once: with hundreds of recipients everybody is looked up many times over. Lists are replaced,
 * never changed in place. The first of two at the same address is theirs.
 */
export function byAddress<Each>(addressesOf: (one: Each) => readonly string[]) {
  const indexes = new WeakMap<readonly Each[], ReadonlyMap<string, Each>>();
  return (list: readonly Each[], address: string): Each | undefined => {
    let index = indexes.get(list);
    if (index === undefined) {
      index = new Map([...list].reverse().flatMap((one) => addressesOf(one).map((each) => [addressKey(each), one])));
      indexes.set(list, index);
    }
    return index.get(addressKey(address));
  };
}

export const personAt = byAddress<Kept<Person>>(({ value }) => [value.address]);

const at = byAddress<{ address: string }>(({ address }) => [address]);
export const oneAt = <One extends { address: string }>(among: readonly One[], address: string): One | undefined =>
  at(among, address) as One | undefined;

const holder = byAddress(ownAddresses);
/** Whose address it is, the main one or a further one. */
export const accountAt = <One extends WithAddresses>(accounts: readonly One[], address: string): One | undefined =>
  holder(accounts, address) as One | undefined;
