/** Everything the scan knows to see in one text. */
import { findBirths } from './births';
import { findCredentials } from './credentials';
import { type Finding } from './finding';
import { findLists } from './lists';
import { nearIn } from './near';
import { findNumbers } from './numbers/find';

export interface About {
  /** The year it is: no one is born later. */
  thisYear: number;
  /** Of a cell: its column's and its row's names. */
  head?: string;
}

/** In the order of the text. */
export function scanText(text: string, { thisYear, head = '' }: About): Finding[] {
  const near = nearIn(text, head);
  return [
    ...findNumbers(text, near),
    ...findCredentials(text),
    ...findBirths(text, near, thisYear),
    ...findLists(text),
  ].sort((one, other) => one.from - other.from || one.to - other.to);
}
