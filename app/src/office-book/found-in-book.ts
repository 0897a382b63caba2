/** Finding people in a book of thousands, as somebody types. */
import { type BookPerson } from '@under-lock/core/office-book/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { firmOf } from '../people/sorted-people';

export const bookFirm = (person: BookPerson): string => person.firm ?? firmOf(person);

/** What is looked through of each, once for each list. */
const spelled = new WeakMap<readonly Kept<BookPerson>[], { text: string; one: Kept<BookPerson> }[]>();

function spelledOf(people: readonly Kept<BookPerson>[]): { text: string; one: Kept<BookPerson> }[] {
  const known = spelled.get(people);
  if (known !== undefined) return known;
  const order = new Intl.Collator();
  const made = people
    .map((one) => {
      const { name, address, note = '' } = one.value;
      return { text: `${name} ${address} ${bookFirm(one.value)} ${note}`.toLowerCase(), one };
    })
    .sort((a, b) => order.compare(a.one.value.name || a.one.value.address, b.one.value.name || b.one.value.address));
  spelled.set(people, made);
  return made;
}

/** By name; those that have every word of what is looked for. */
export function foundInBook(people: readonly Kept<BookPerson>[], search: string): Kept<BookPerson>[] {
  const words = search.trim().toLowerCase().split(/\s+/);
  return spelledOf(people)
    .filter(({ text }) => words.every((word) => text.includes(word)))
    .map(({ one }) => one);
}

/** Firm by firm, and within one as they were. */
export function byFirms(people: readonly Kept<BookPerson>[]): Kept<BookPerson>[] {
  const order = new Intl.Collator();
  const firms = [...new Set(people.map(({ value }) => bookFirm(value)))].sort((a, b) => order.compare(a, b));
  const place = new Map(firms.map((firm, index) => [firm, index]));
  return [...people].sort((a, b) => place.get(bookFirm(a.value))! - place.get(bookFirm(b.value))!);
}
