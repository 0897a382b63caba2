/** How people can be reached: what one keeps oneself, and what the office book knows beside it. */
import { withOffice, type WithOffice } from '@under-lock/core/office-book/planned';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Book } from '@under-lock/core/passwords/entry';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { useMemo } from 'react';
import { isIn, useBookPeople, useBookStand } from './useBook';

const NOBODY: readonly Kept<BookPerson>[] = [];

/** Undefined until both are known. Where the book can't be had, one's own is used: a plan waits for nothing it can do without. */
export function useReach(
  people: readonly Kept<Person>[] | undefined,
  passwords: Book | undefined,
): WithOffice | undefined {
  const stand = useBookStand();
  const book = useBookPeople();
  const isWithout =
    stand.error !== undefined || book.error !== undefined || (stand.data !== undefined && !isIn(stand.data));
  const there = book.data ?? (isWithout ? NOBODY : undefined);
  return useMemo(
    () =>
      people === undefined || passwords === undefined || there === undefined
        ? undefined
        : withOffice(people, passwords, there),
    [people, passwords, there],
  );
}
