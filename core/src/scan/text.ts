/** Everything the scan knows to see in one text. */
import { findBirths } from './births';
import { findCredentials } from './credentials';
import { type Finding } from './finding';
import { findLists } from './lists';
import { nearIn } from './near';
import { findNumbers } from './numbers/find';
import { findPassports } from './passports';
import { type OfficePattern, type WordList } from './listed';
import { patternFinder } from './patterns';
import { wordFinder } from './words';

export interface About {
  /** The year it is: no one is born later. */
  thisYear: number;
  /** Of a cell: its column's and its row's names. */
  head?: string;
  /** What finds the office's own words and patterns. */
  office?: OfficeFinder;
}

/** What the office lists itself. */
export interface OfficeLists {
  words: readonly WordList[];
  patterns: readonly OfficePattern[];
}

export type OfficeFinder = (text: string, plain: string) => Finding[];

/** Made once for all texts that are looked through. */
export function officeFinder({ words, patterns }: OfficeLists): OfficeFinder {
  const [findWords, findPatterns] = [wordFinder(words), patternFinder(patterns)];
  return (text, plain) => [...findWords(text, plain), ...findPatterns(text)];
}

/** In the order of the text. */
export function scanText(text: string, { thisYear, head = '', office }: About): Finding[] {
  const near = nearIn(text, head);
  return [
    ...(office?.(text, near.plain) ?? []),
    ...findNumbers(text, near),
    ...findPassports(text, near),
    ...findCredentials(text, near),
    ...findBirths(text, near, thisYear),
    ...findLists(text),
  ].sort((one, other) => one.from - other.from || one.to - other.to);
}
