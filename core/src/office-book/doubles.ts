/** One and the same person twice in the office book: found by what no two people share, and made one. */
import { defined } from '../defined';
import { addressKey, hostOf } from '../people/address';
import { type Kept } from '../vault/kept';
import { type BookPerson, type Unchanged } from './person';

export const SAME = ['secondAddress', 'phone', 'name'] as const;
/** A second address that is the other’s own, one phone, one name at one firm. */
export type Same = (typeof SAME)[number];

export interface Double {
  people: [Kept<BookPerson>, Kept<BookPerson>];
  same: Same[];
}

const MOST_DOUBLES = 100;
/** More than these under one phone or one name is a house’s number, or a function. */
const MOST_ALIKE = 4;

const words = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '')
    .sort()
    .join(' ');

function signsOf({ address, secondAddress, phone, name, firm }: BookPerson): [Same, string][] {
  const spelled = words(name);
  return [
    ['secondAddress', addressKey(address)],
    ...(secondAddress === undefined ? [] : [['secondAddress', addressKey(secondAddress)] as [Same, string]]),
    ...(phone === undefined ? [] : [['phone', phone] as [Same, string]]),
    // A first name alone is anybody’s.
    ...(spelled.includes(' ')
      ? [['name', `${spelled}|${firm === undefined ? hostOf(address) : words(firm)}`] as [Same, string]]
      : []),
  ];
}

const isToldApart = (one: BookPerson, other: BookPerson): boolean =>
  (one.apart ?? []).includes(addressKey(other.address)) || (other.apart ?? []).includes(addressKey(one.address));

/** Once for each list: how many there are is shown on one page, who they are on another. */
const looked = new WeakMap<readonly Kept<BookPerson>[], Double[]>();

/** In time linear in the number of people; the first hundred. Whoever was said to be two is left out. */
export function doublesIn(people: readonly Kept<BookPerson>[]): Double[] {
  const known = looked.get(people) ?? lookedThrough(people);
  looked.set(people, known);
  return known;
}

function lookedThrough(people: readonly Kept<BookPerson>[]): Double[] {
  const bySign = new Map<string, Kept<BookPerson>[]>();
  for (const one of people)
    for (const [same, sign] of signsOf(one.value)) {
      const key = `${same}:${sign}`;
      const alike = bySign.get(key);
      if (alike === undefined) bySign.set(key, [one]);
      else if (alike.length <= MOST_ALIKE) alike.push(one);
    }
  const found = new Map<string, Double>();
  for (const [key, alike] of bySign) {
    if (alike.length > MOST_ALIKE) continue;
    const same = key.slice(0, key.indexOf(':')) as Same;
    for (const [index, one] of alike.entries())
      for (const other of alike.slice(index + 1)) {
        if (one.id === other.id || isToldApart(one.value, other.value)) continue;
        const pair = [one.id, other.id].sort().join();
        const double = found.get(pair) ?? { people: [one, other], same: [] };
        found.set(pair, { ...double, same: SAME.filter((sign) => sign === same || double.same.includes(sign)) });
        if (found.size === MOST_DOUBLES) return [...found.values()];
      }
  }
  return [...found.values()];
}

/**
 * Both as one, who is written to at the address of `stays`. What that one has not is filled; the other's address becomes
 * the second where there is none yet, else it is noted. Certificates and keys are for an address, so those of the one
 * that goes are not taken.
 */
export function madeOne({ changes: _, ...stays }: BookPerson, goes: BookPerson): Unchanged {
  const { firm, phone, check, language, fileWay, password } = goes;
  const secondAddress = stays.secondAddress ?? goes.address;
  const besides = addressKey(secondAddress) === addressKey(goes.address) ? [] : [goes.address];
  const notes = new Set([stays.note, goes.note, ...besides].filter((text) => text !== undefined && text !== ''));
  return {
    ...defined({ firm, phone, check, language, fileWay, password }),
    ...stays,
    name: stays.name || goes.name,
    secondAddress,
    ...(notes.size === 0 ? {} : { note: [...notes].join('\n') }),
  };
}

const MOST_APART = 20;
/** Not asked about again. */
export const toldApart = ({ changes: _, ...one }: BookPerson, other: BookPerson): Unchanged => ({
  ...one,
  apart: [...new Set([addressKey(other.address), ...(one.apart ?? [])])].slice(0, MOST_APART),
});
