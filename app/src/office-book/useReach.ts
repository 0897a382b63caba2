/** How people can be reached: what one keeps oneself, and what the office book knows beside it. */
import { type Firm, firmLocks, type FirmLocks } from '@under-lock/core/office-book/firm';
import { withOffice, type WithOffice } from '@under-lock/core/office-book/planned';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Book } from '@under-lock/core/passwords/entry';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { useMemo } from 'react';
import { isIn, useBookPeople, useBookStand, useFirms } from './useBook';

const NOBODY: readonly Kept<BookPerson>[] = [];
const NO_FIRMS: readonly Kept<Firm>[] = [];

/** Undefined until both are known. Where the book can't be had, one's own is used: a plan waits for nothing it can do without. */
export function useReach(
  people: readonly Kept<Person>[] | undefined,
  passwords: Book | undefined,
): (WithOffice & { firms: FirmLocks }) | undefined {
  const stand = useBookStand();
  const book = useBookPeople();
  const isWithout =
    stand.error !== undefined || book.error !== undefined || (stand.data !== undefined && !isIn(stand.data));
  const firms = useFirms();
  const locks = firms.data ?? (isWithout || firms.error !== undefined ? NO_FIRMS : undefined);
  const there = book.data ?? (isWithout ? NOBODY : undefined);
  return useMemo(
    () =>
      people === undefined || passwords === undefined || there === undefined || locks === undefined
        ? undefined
        : { ...withOffice(people, passwords, there), firms: firmLocks(locks.map(({ value }) => value)) },
    [people, passwords, there, locks],
  );
}
