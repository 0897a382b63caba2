/** The office book as pages have it: whether one is in, who is, and the people in it. */
import { listColleagues } from '@under-lock/contract/account';
import { getOfficeBook, letOut as letOutThere, mayBeLetIn } from '@under-lock/contract/office-book';
import { type Reply } from '@under-lock/contract/client';
import { isProblem } from '@under-lock/contract/problem';
import { type Firm, firmSchema } from '@under-lock/core/office-book/firm';
import { type Exchanged } from '@under-lock/core/office-book/exchange';
import {
  type BookPerson,
  bookPersonSchema,
  changedPerson,
  type Changing,
  MOST_CHANGES,
  withBroughtIn,
} from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { personAt } from '@under-lock/core/people/find';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { told } from '../live/live';
import { type Colleague } from '../session/useOffice';
import { door } from '../threads/main/door';

const STAND = 'office-book';
const PEOPLE = 'office-book/people';
const PERSON = 'book-person';

export type BookStand = Reply<typeof getOfficeBook>;

export const useBookStand = () =>
  useSWR(STAND, () => api(getOfficeBook), { use: [told('office')], revalidateOnFocus: false });

export const isIn = (stand: BookStand | undefined): boolean => stand?.sealedKey !== undefined;

async function listPeople(): Promise<Kept<BookPerson>[]> {
  const items = await door().book.list(PERSON);
  return items.flatMap(({ value, ...item }) => {
    const parsed = bookPersonSchema.safeParse(value);
    return parsed.success ? [{ ...item, value: parsed.data }] : [];
  });
}

/** Asked for by members only. */
export function useBookPeople() {
  const { data: stand } = useBookStand();
  const epoch = isIn(stand) ? stand!.key!.epoch : undefined;
  return useSWR(epoch === undefined ? null : `${PEOPLE}/${epoch}`, listPeople, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
}

const FIRMS = 'office-book/firms';
const FIRM = 'book-firm';

async function listFirms(): Promise<Kept<Firm>[]> {
  const items = await door().book.list(FIRM);
  return items.flatMap(({ value, ...item }) => {
    const parsed = firmSchema.safeParse(value);
    return parsed.success ? [{ ...item, value: parsed.data }] : [];
  });
}

/** Asked for by members only. */
export function useFirms() {
  const { data: stand } = useBookStand();
  const epoch = isIn(stand) ? stand!.key!.epoch : undefined;
  return useSWR(epoch === undefined ? null : `${FIRMS}/${epoch}`, listFirms, {
    use: [told('office')],
    revalidateOnFocus: false,
  });
}

/** What holds for everybody at a domain, from now on. @throws ApiProblem */
export async function keepFirm(
  domain: string,
  next: Omit<Firm, 'changes' | 'domain'>,
  by: Changing['by'],
): Promise<void> {
  const known = (await listFirms()).find(({ value }) => value.domain === domain);
  const fields = (['name', 'lock', 'note'] as const).filter((field) => known?.value[field] !== next[field]);
  if (fields.length === 0) return;
  const change = { at: new Date().toISOString(), by, what: 'changed' as const, fields };
  const changes = [change, ...(known?.value.changes ?? [])].slice(0, MOST_CHANGES);
  await door().book.keep(FIRM, known?.id ?? crypto.randomUUID(), known?.revision ?? 0, { domain, ...next, changes });
  await refreshed();
}

/** @throws ApiProblem */
export async function personInBook(id: string): Promise<BookPerson | undefined> {
  return bookPersonSchema.safeParse((await door().book.read(PERSON, id))?.value).data;
}

const refreshed = (): Promise<unknown> =>
  mutate((key) => typeof key === 'string' && (key === STAND || key.startsWith(`${STAND}/`)));

/** How often somebody else may get in between before it is said. */
const TRIES = 3;

/**
 * Keeps a person, with what changed in their history. `make` gets them as they are now: another may have written since.
 *
 * @returns Their number. @throws ApiProblem `conflict` when that goes on, `storage-full`
 */
export async function keepInBook(
  address: string,
  make: (before: BookPerson | undefined) => Omit<BookPerson, 'changes'>,
  changing: Omit<Changing, 'at'>,
  id?: string,
): Promise<string> {
  for (let left = TRIES; ; left--) {
    const people = await listPeople();
    const known = id === undefined ? personAt(people, address) : people.find((one) => one.id === id);
    const before = known?.value as BookPerson | undefined;
    const next = changedPerson(before, make(before), { ...changing, at: new Date() });
    const at = known?.id ?? id ?? crypto.randomUUID();
    if (next === undefined) return at;
    try {
      await door().book.keep(PERSON, at, known?.revision ?? 0, next);
      await refreshed();
      return at;
    } catch (error) {
      if (!isProblem(error, 'conflict') || left === 1) throw error;
    }
  }
}

export async function takeOutOfBook(id: string): Promise<void> {
  await door().book.drop(PERSON, id);
  await refreshed();
}

/** As they were, under the number they had. */
export async function putBackInBook(id: string, value: BookPerson): Promise<void> {
  await door().book.keep(PERSON, id, 0, value);
  await refreshed();
}

/** @throws ApiProblem */
export async function beginBook(self: NonNullable<Colleague['key']>): Promise<void> {
  await door().book.begin(self);
  await refreshed();
}

/** @throws ApiProblem */
export async function letIn(colleagues: readonly Colleague[]): Promise<void> {
  for (const { id, key } of colleagues) if (key !== undefined) await door().book.letIn(id, key);
  await refreshed();
}

/** @throws ApiProblem */
export async function letOut(id: string): Promise<void> {
  await api(letOutThere, { params: { id } });
  await refreshed();
}

/** @throws ApiProblem */
export async function letBack(id: string): Promise<void> {
  await api(mayBeLetIn, { params: { id } });
  await refreshed();
}

/** A new key for all who are in, as they are now: what the page knows may be a moment old. @throws ApiProblem */
export async function renewKey(): Promise<void> {
  const [{ members }, { colleagues }] = await Promise.all([api(getOfficeBook), api(listColleagues)]);
  const staying = members.flatMap(({ id }) => {
    const key = colleagues.find((one) => one.id === id)?.key;
    return key === undefined ? [] : [{ id, key }];
  });
  await door().book.renew(staying);
  await refreshed();
}

/**
 * Many at once, one after the other: what the book knows is kept, or gives way where `takesTheirs`.
 *
 * @returns How many were new or changed. @throws ApiProblem, and what was taken until then stays
 */
export async function bringIn(
  people: readonly Exchanged[],
  { takesTheirs, by, told: tell }: { takesTheirs: boolean; by: Changing['by']; told: (done: number) => void },
): Promise<number> {
  const known = await listPeople();
  let changed = 0;
  for (const [index, person] of people.entries()) {
    const there = personAt(known, person.address) as Kept<BookPerson> | undefined;
    const next = changedPerson(there?.value, withBroughtIn(there?.value, person, takesTheirs), {
      by,
      at: new Date(),
      what: 'imported',
    });
    if (next !== undefined) {
      await door().book.keep(PERSON, there?.id ?? crypto.randomUUID(), there?.revision ?? 0, next);
      changed += 1;
    }
    tell(index + 1);
  }
  await refreshed();
  return changed;
}
