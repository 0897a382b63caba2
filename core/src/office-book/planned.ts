/** What a plan knows of people: what their sender keeps, and what the office book knows beside it. */
import { type Book } from '../passwords/entry';
import { addressKey } from '../people/address';
import { personAt } from '../people/find';
import { type Person } from '../people/kept-person';
import { type Kept } from '../vault/kept';
import { type BookField, type BookPerson, choseFileSince, withBook } from './person';

export interface WithOffice {
  people: Kept<Person>[];
  passwords: Book;
  /** What came from the office book, by the key of an address. */
  fromBook: ReadonlyMap<string, readonly BookField[]>;
}

/** Item numbers and revisions of one's own stay; who is in the office book only has those of the book. */
export function withOffice(
  own: readonly Kept<Person>[],
  passwords: Book,
  book: readonly Kept<BookPerson>[],
): WithOffice {
  const fromBook = new Map<string, readonly BookField[]>();
  const known = new Map(
    passwords
      .filter(({ value }) => value.direction === 'out')
      .map(({ value }) => [addressKey(value.address), value.since] as const),
  );
  const agreed: Book[number][] = [];
  const merged = new Map(own.map((kept) => [kept.id, kept]));
  for (const entry of book) {
    const { value } = entry;
    const key = addressKey(value.address);
    const mine = personAt(own, value.address);
    const planned = withBook(mine?.value, value);
    if (planned === undefined) continue;
    const id = mine?.id ?? entry.id;
    merged.set(id, { ...(mine ?? entry), value: planned.person });
    const since = known.get(key);
    const takesPassword = value.password !== undefined && (since === undefined || choseFileSince(value, since));
    if (takesPassword)
      agreed.push({
        ...entry,
        value: { ...value.password!, address: value.address, direction: 'out', before: [], note: '' },
      });
    fromBook.set(
      key,
      planned.fromBook.filter((field) => field !== 'password' || takesPassword),
    );
  }
  return { people: [...merged.values()], passwords: [...agreed, ...passwords], fromBook };
}
