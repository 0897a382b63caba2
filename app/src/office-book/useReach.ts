/** How people can be reached: what one keeps oneself, and what the office book knows beside it. */
import { type Firm, firmLocks, type FirmLocks } from '@under-lock/core/office-book/firm';
import { withOffice, type WithOffice } from '@under-lock/core/office-book/planned';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Book } from '@under-lock/core/passwords/entry';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { useEffect, useMemo, useState } from 'react';
import { isIn, useBookPeople, useBookStand, useFirms } from './useBook';

const NOBODY: readonly Kept<BookPerson>[] = [];
const NO_FIRMS: readonly Kept<Firm>[] = [];

/** As long as whoever writes would rather wait than see a plan that changes. */
const PATIENCE_MS = 800;

/** Whether this has been so for some time. */
function useIsLong(isSo: boolean): boolean {
  const [isLong, setIsLong] = useState(false);
  useEffect(() => {
    if (!isSo) return undefined;
    const timer = setTimeout(() => setIsLong(true), PATIENCE_MS);
    return () => {
      clearTimeout(timer);
      setIsLong(false);
    };
  }, [isSo]);
  return isSo && isLong;
}

export interface Reach extends WithOffice {
  firms: FirmLocks;
  /** The book is still being opened: this is one's own alone, to write by and not to send by. */
  isLooking: boolean;
}

/**
 * Undefined until both are known. Where the book can't be had, one's own is used: a plan waits for nothing it can do
 * without. Where a book of thousands takes its time, one's own is used until it is there.
 */
export function useReach(people: readonly Kept<Person>[] | undefined, passwords: Book | undefined): Reach | undefined {
  const stand = useBookStand();
  const book = useBookPeople();
  const isWithout =
    stand.error !== undefined || book.error !== undefined || (stand.data !== undefined && !isIn(stand.data));
  const firms = useFirms();
  const hasFirms = firms.data !== undefined || isWithout || firms.error !== undefined;
  const hasBook = book.data !== undefined || isWithout;
  const isLooking = !hasFirms || !hasBook;
  const isLong = useIsLong(isLooking);
  const locks = firms.data ?? NO_FIRMS;
  const there = book.data ?? NOBODY;
  return useMemo(
    () =>
      people === undefined || passwords === undefined || (isLooking && !isLong)
        ? undefined
        : { ...withOffice(people, passwords, there), firms: firmLocks(locks.map(({ value }) => value)), isLooking },
    [people, passwords, there, locks, isLooking, isLong],
  );
}
