/**
 * Which passwords may open what somebody sent: theirs first, then what we send them under, then, for a file without a
 * sender, everybody's.
 */
import { addressKey } from '@under-lock/core/people/address';
import { type PasswordEntry } from '@under-lock/core/passwords/entry';
import { type Book } from '@under-lock/core/passwords/entry';

const MOST = 200;
const allOf = ({ password, before }: PasswordEntry): string[] => [password, ...before.map((one) => one.password)];

export function passwordsToTry(book: Book, from: string | undefined): string[] {
  const key = from === undefined ? undefined : addressKey(from);
  const theirs = book
    .map(({ value }) => value)
    .filter(({ address }) => key === undefined || addressKey(address) === key);
  // What was agreed for their direction is likelier.
  const sorted = theirs.sort((a, b) => Number(b.direction === 'in') - Number(a.direction === 'in'));
  return [...new Set(sorted.flatMap(allOf))].slice(0, MOST);
}
