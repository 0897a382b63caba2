/** Certificates and keys that people gave in the reading room and nobody has compared yet, as the desk says it. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { listed } from '../handling/words';
import { useKeyGivers } from './useBook';
import { type Wanted } from './useDoors';

const NAMED = 3;

export function offeredIn(people: readonly Kept<BookPerson>[]): Wanted | undefined {
  const offering = people.filter(({ value }) => value.offered !== undefined);
  const [first] = offering;
  if (first === undefined) return undefined;
  const names = offering.slice(0, NAMED).map(({ value }) => value.name || value.address);
  const isOne = offering.length === 1;
  const what = first.value.offered!.choice.way === 'certificate' ? 'certificate' : 'OpenPGP key';
  return {
    title: isOne
      ? `${names[0]!} gave another ${what} than the office has`
      : `${offering.length} people gave other certificates or keys than the office has`,
    about: isOne
      ? first.value.address
      : offering.length > NAMED
        ? `${listed(names, 'and')} and others`
        : listed(names, 'and'),
    detail: 'Call them and compare it; until then the one before stays in use.',
    href: isOne ? `/people/office/${first.id}` : '/people/office',
  };
}

/** Nothing for who is not in. */
export function useOffered(): Wanted | undefined {
  const people = useKeyGivers();
  return people === undefined ? undefined : offeredIn(people);
}
