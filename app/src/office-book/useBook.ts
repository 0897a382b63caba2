/** The office book as pages have it: whether one is in, who is, and the people in it. */
import { listColleagues } from '@under-lock/contract/account';
import { listChoices, listKeyGivers, settleChoice } from '@under-lock/contract/choice';
import {
  getOfficeBook,
  letDoorOut as letDoorOutThere,
  letOut as letOutThere,
  mayBeLetIn,
} from '@under-lock/contract/office-book';
import { type Reply } from '@under-lock/contract/client';
import { isProblem } from '@under-lock/contract/problem';
import { defined } from '@under-lock/core/defined';
import { type Firm, firmSchema } from '@under-lock/core/office-book/firm';
import { withChoice } from '@under-lock/core/office-book/choice';
import { type Exchanged } from '@under-lock/core/office-book/exchange';
import {
  type BookPerson,
  bookPersonSchema,
  changedPerson,
  type Changing,
  MOST_CHANGES,
  withBroughtIn,
  type Unchanged,
} from '@under-lock/core/office-book/person';
import { type BookKind } from '@under-lock/core/vault/item';
import { type Kept, shaped } from '@under-lock/core/vault/kept';
import { LOT_ITEMS } from '@under-lock/core/vault/limits';
import { personAt } from '@under-lock/core/people/find';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { followed } from '../followed';
import { told } from '../live/live';
import { type Colleague } from '../session/useOffice';
import { door } from '../threads/main/door';

const STAND = 'office-book';
const PERSON = 'book-person';
const FIRM = 'book-firm';

export type BookStand = Reply<typeof getOfficeBook>;

export const useBookStand = () =>
  useSWR(STAND, () => api(getOfficeBook), { use: [told('office')], revalidateOnFocus: false });

export const isIn = (stand: BookStand | undefined): boolean => stand?.sealedKey !== undefined;

const listPeople = followed(bookPersonSchema, (mark) => door().book.follow(PERSON, mark));
const listFirms = followed(firmSchema, (mark) => door().book.follow(FIRM, mark));

/** Another one whenever something of the kind was changed; null for who is not in. */
const keyOf = (kind: BookKind, stand: BookStand | undefined): string | null =>
  isIn(stand) ? `${STAND}/${kind}/${stand!.key!.epoch}/${stand!.revisions?.[kind] ?? 0}` : null;

/** Fetched only when it was changed: it is as large as the book. What was there before is shown meanwhile. */
function useListed<T>(kind: BookKind, list: () => Promise<Kept<T>[]>) {
  const { data: stand } = useBookStand();
  const { data, error } = useSWR(keyOf(kind, stand), list, {
    revalidateOnFocus: false,
    revalidateIfStale: false,
    keepPreviousData: true,
  });
  return { data: isIn(stand) ? data : undefined, error: error as unknown };
}

export const useBookPeople = () => useListed(PERSON, listPeople);
export const useFirms = () => useListed(FIRM, listFirms);

/** After a change of one's own: the pages have it once this resolves. */
async function listedAnew<T>(kind: BookKind, list: () => Promise<Kept<T>[]>): Promise<void> {
  const [stand, items] = [await api(getOfficeBook), await list()];
  const key = keyOf(kind, stand);
  if (key !== null) await mutate(key, items, { revalidate: false });
  await mutate(STAND, stand, { revalidate: false });
}
const peopleAnew = (): Promise<void> => listedAnew(PERSON, listPeople);

/** After somebody came in or left, or a new key. */
const standAnew = (): Promise<unknown> => mutate(STAND);

/** The lock for everybody at a domain from now on; none where it is left to each plan. @throws ApiProblem */
export async function keepFirmLock(domain: string, lock: string | undefined, by: Changing['by']): Promise<void> {
  const known = (await listFirms()).find(({ value }) => value.domain === domain);
  if (known?.value.lock === lock) return;
  const change = { at: new Date().toISOString(), by, what: 'changed' as const, fields: ['lock'] };
  const next: Firm = {
    domain,
    ...defined({ lock }),
    changes: [change, ...(known?.value.changes ?? [])].slice(0, MOST_CHANGES),
  };
  await door().book.keep(FIRM, known?.id ?? crypto.randomUUID(), known?.revision ?? 0, next);
  await listedAnew(FIRM, listFirms);
}

async function readPerson(id: string): Promise<Kept<BookPerson> | undefined> {
  const item = await door().book.read(PERSON, id);
  return item === undefined ? undefined : shaped(bookPersonSchema, item);
}

/** @throws ApiProblem */
export const personInBook = async (id: string): Promise<BookPerson | undefined> => (await readPerson(id))?.value;

/** How often somebody else may get in between before it is said. */
const TRIES = 3;

/**
 * Keeps a person, with what changed in their history. `make` gets them as they are now: another may have written since.
 *
 * @returns Their number. @throws ApiProblem `conflict` when that goes on, `storage-full`
 */
export async function keepInBook(
  address: string,
  make: (before: BookPerson | undefined) => Unchanged,
  changing: Omit<Changing, 'at'>,
  id?: string,
): Promise<string> {
  for (let left = TRIES; ; left--) {
    const known =
      id === undefined ? (personAt(await listPeople(), address) as Kept<BookPerson> | undefined) : await readPerson(id);
    const before = known?.value;
    const next = changedPerson(before, make(before), { ...changing, at: new Date() });
    const at = known?.id ?? id ?? crypto.randomUUID();
    if (next === undefined) return at;
    try {
      await door().book.keep(PERSON, at, known?.revision ?? 0, next);
      await peopleAnew();
      return at;
    } catch (error) {
      if (!isProblem(error, 'conflict') || left === 1) throw error;
    }
  }
}

export async function takeOutOfBook(id: string): Promise<void> {
  await door().book.drop(PERSON, id);
  await peopleAnew();
}

/** As they were, under the number they had. */
export async function putBackInBook(id: string, value: BookPerson): Promise<void> {
  await door().book.keep(PERSON, id, 0, value);
  await peopleAnew();
}

/** @throws ApiProblem */
export async function beginBook(self: NonNullable<Colleague['key']>): Promise<void> {
  await door().book.begin(self);
  await standAnew();
}

/** @throws ApiProblem */
export async function letIn(colleagues: readonly Colleague[]): Promise<void> {
  for (const { id, key } of colleagues) if (key !== undefined) await door().book.letIn(id, key);
  await standAnew();
}

/** The door for mail programs, whose key was looked at. @throws ApiProblem */
export async function letDoorIn(key: NonNullable<BookStand['door']>): Promise<void> {
  await door().book.letDoorIn(key);
  await standAnew();
}

/** @throws ApiProblem */
export async function letDoorOut(): Promise<void> {
  await api(letDoorOutThere);
  await standAnew();
}

/** @throws ApiProblem */
export async function letOut(id: string): Promise<void> {
  await api(letOutThere, { params: { id } });
  await standAnew();
}

/** @throws ApiProblem */
export async function letBack(id: string): Promise<void> {
  await api(mayBeLetIn, { params: { id } });
  await standAnew();
}

/**
 * Whoever gave a certificate or key of their own, as the book has them now: of a book of thousands these few are opened.
 */
export function useKeyGivers(): readonly Kept<BookPerson>[] | undefined {
  const { data: stand } = useBookStand();
  const key = keyOf(PERSON, stand);
  const { data } = useSWR(
    key === null ? null : `${key}/key-givers`,
    async () => {
      const givers: Kept<BookPerson>[] = [];
      // One after another: the manifest, which names all there are, comes with the first only.
      for (const id of (await api(listKeyGivers)).people) {
        const person = await readPerson(id);
        if (person !== undefined) givers.push(person);
      }
      return givers;
    },
    { use: [told('office')], revalidateOnFocus: false, keepPreviousData: true },
  );
  return key === null ? undefined : data;
}

export type WaitingChoices = Reply<typeof listChoices>['choices'];
/** Some of what readers chose and nobody has taken yet, the oldest first. */
export const waitingChoices = async (): Promise<WaitingChoices> => (await api(listChoices)).choices;

/**
 * What readers chose goes into the book, in their order. One that does not open was sealed under an earlier key, or is
 * none: it is put away. @throws ApiProblem
 */
export async function takeChoices(choices: WaitingChoices, by: Changing['by']): Promise<void> {
  for (const { id, epoch, sealed, name, address, language, at, check } of choices) {
    const choice = await door()
      .book.openChoice(id, epoch, sealed)
      .catch((error: unknown) => {
        if (error instanceof Error && error.name === 'SealError') return undefined;
        throw error;
      });
    const keptAs =
      choice === undefined
        ? undefined
        : await keepInBook(address, (before) => withChoice(before, { name, address, language, at, check }, choice), {
            by,
            what: 'chosen',
          });
    // A colleague's browser may have been at it, too: what it did is the same.
    await api(settleChoice, { params: { id }, body: defined({ keptAs }) }).catch((error: unknown) => {
      if (!isProblem(error, 'not-found')) throw error;
    });
  }
}

/** A new key for all who are in, as they are now: what the page knows may be a moment old. @throws ApiProblem */
export async function renewKey(by: Changing['by']): Promise<void> {
  // What readers chose opens under the key of now only.
  for (let waiting = await waitingChoices(); waiting.length > 0; waiting = await waitingChoices())
    await takeChoices(waiting, by);
  const [{ members }, { colleagues }] = await Promise.all([api(getOfficeBook), api(listColleagues)]);
  const staying = members.flatMap(({ id }) => {
    const key = colleagues.find((one) => one.id === id)?.key;
    return key === undefined ? [] : [{ id, key }];
  });
  await door().book.renew(staying);
  await standAnew();
}

/**
 * Many at once: what the book knows is kept, or gives way where `takesTheirs`.
 *
 * @returns How many were new or changed. @throws ApiProblem, and what was taken until then stays
 */
export async function bringIn(
  people: readonly Exchanged[],
  { takesTheirs, by, told: tell }: { takesTheirs: boolean; by: Changing['by']; told: (done: number) => void },
): Promise<number> {
  const known = await listPeople();
  const changes = people.flatMap((person) => {
    const there = personAt(known, person.address) as Kept<BookPerson> | undefined;
    const value = changedPerson(there?.value, withBroughtIn(there?.value, person, takesTheirs), {
      by,
      at: new Date(),
      what: 'imported',
    });
    return value === undefined ? [] : [{ id: there?.id ?? crypto.randomUUID(), revision: there?.revision ?? 0, value }];
  });
  // Lot by lot, so that it can be said how far they are.
  for (let from = 0; from < changes.length; from += LOT_ITEMS) {
    await door().book.keepAll(PERSON, changes.slice(from, from + LOT_ITEMS));
    tell(Math.min(from + LOT_ITEMS, changes.length));
  }
  await peopleAnew();
  return changes.length;
}
