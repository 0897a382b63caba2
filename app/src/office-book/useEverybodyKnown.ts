import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { useMemo } from 'react';
import { usePeople } from '../people/person';
import { useColleagues } from '../session/useOffice';
import { useBookPeople } from './useBook';

const NOBODY: readonly never[] = [];

/** Own people, colleagues, the office book's: each address once. */
export function useEverybodyKnown(): readonly Correspondent[] {
  const { data: own = NOBODY } = usePeople();
  const { data: book = NOBODY } = useBookPeople();
  const { data: colleagues = NOBODY } = useColleagues();
  return useMemo(() => {
    const byKey = new Map<string, Correspondent>();
    for (const one of [...own.map(({ value }) => value), ...colleagues, ...book.map(({ value }) => value)]) {
      const key = addressKey(one.address);
      if (!byKey.has(key)) byKey.set(key, one);
    }
    return [...byKey.values()];
  }, [own, book, colleagues]);
}
