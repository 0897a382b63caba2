import { addressKey, hostOf } from '@under-lock/core/people/address';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';

export type PeopleOrder = 'name' | 'firm' | 'written';

/** The domain of their address. */
export const firmOf = ({ address }: Pick<Person, 'address'>): string => hostOf(address).toLowerCase();

const nameOf = ({ name, address }: Person): string => name || address;

/** `written`: whoever was written to last comes first, those never written to last. */
export function sortedPeople(
  people: readonly Kept<Person>[],
  order: PeopleOrder,
  writtenTo: ReadonlyMap<string, Date>,
): Kept<Person>[] {
  const at = ({ address }: Person): number => writtenTo.get(addressKey(address))?.getTime() ?? 0;
  const byName = (a: Kept<Person>, b: Kept<Person>): number => nameOf(a.value).localeCompare(nameOf(b.value));
  const by: Record<PeopleOrder, typeof byName> = {
    name: () => 0,
    firm: (a, b) => firmOf(a.value).localeCompare(firmOf(b.value)),
    written: (a, b) => at(b.value) - at(a.value),
  };
  return [...people].sort((a, b) => by[order](a, b) || byName(a, b));
}
