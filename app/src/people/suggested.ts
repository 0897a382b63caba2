import { addressKey, type Correspondent } from '@under-lock/core/people/address';

const MAX_SUGGESTED = 6;

/**
 * Who is suggested for what was typed, by name or address. Pure.
 * @param besides Keys of the addresses that are there already.
 */
export function suggestedFor<One extends Correspondent>(
  typed: string,
  people: readonly One[],
  besides: ReadonlySet<string>,
): readonly One[] {
  const wanted = typed.trim().toLowerCase();
  if (wanted === '') return [];
  return people
    .filter(
      (one) => !besides.has(addressKey(one.address)) && `${one.name} ${one.address}`.toLowerCase().includes(wanted),
    )
    .slice(0, MAX_SUGGESTED);
}
