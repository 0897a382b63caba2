/** What is asked of every catalogue of words: that it says everything, with all it is given, in its own language. */
import { type Language } from '../src/language';

type Catalogue = object;

/** What stands in the place of a name, date or number; each place gets one of its own. */
const given = (count: number): string[][] => [...'ABCDEFGH'].slice(0, count).map((letter) => [`Given${letter}`]);
const GIVEN = /Given[A-H]/g;

/** Every sentence with its path; functions are given something for each place. */
export function sentences(catalogue: Catalogue, path = ''): [path: string, said: string][] {
  return Object.entries(catalogue).flatMap(([key, value]: [string, unknown]): [string, string][] => {
    const at = `${path}${key}`;
    if (typeof value === 'string') return [[at, value]];
    if (typeof value === 'object' && value !== null) return sentences(value, `${at}.`);
    if (typeof value !== 'function') return [];
    // A list of one is a name, a number and a list to whoever joins, counts or prints it.
    const said: unknown = (value as (...all: unknown[]) => unknown)(...given(8));
    if (typeof said !== 'string') throw new Error(`${at} says nothing`);
    return [[at, said]];
  });
}

const placesIn = (said: string): string[] =>
  [...new Set([...(said.match(GIVEN) ?? []), ...(said.match(/\{\w+\}/g) ?? [])])].sort();

const WORDS = /\p{L}{4}/u;

/** The same in more than one language, rightly: a sentence that is spelt alike, by the last part of its path. */
export type Alike = ReadonlySet<string>;

/** Everything wrong with a catalogue beside the English one, as sentences; none is what is wanted. */
export function faultsIn(language: Language, english: Catalogue, other: Catalogue, alike: Alike): string[] {
  const own = new Map(sentences(english));
  const theirs = new Map(sentences(other));
  const faults: string[] = [];
  for (const at of own.keys()) if (!theirs.has(at)) faults.push(`${at} is missing`);
  for (const [at, said] of theirs) {
    const inEnglish = own.get(at);
    if (inEnglish === undefined) {
      faults.push(`${at} is nothing that English says`);
      continue;
    }
    if (/undefined|NaN|\[object/.test(said) || (said.trim() === '') !== (inEnglish.trim() === ''))
      faults.push(`${at} has a gap: ${said}`);
    if (placesIn(said).join() !== placesIn(inEnglish).join())
      faults.push(`${at} names ${placesIn(said).join()} and not ${placesIn(inEnglish).join()}`);
    const bare = inEnglish.replace(GIVEN, '');
    if (language !== 'en' && said === inEnglish && WORDS.test(bare) && !alike.has(at.replace(/.*\./, '')))
      faults.push(`${at} is English: ${said}`);
  }
  return faults;
}
