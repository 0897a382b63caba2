/** Whether a file speaks of somebody who does not get it, and of nobody who does: then it may be meant for them. */
import { type Correspondent, hostOf, localPartOf } from '../people/address';
import { type TextWords, wordsOf } from '../scan/text-words';

/** Shorter ones stand in other words' places too often. */
export const SHORTEST_NAME = 4; // letters

/** First name first, or last name first; what stands behind a comma, such as a firm, is a name of its own. */
function spellings(name: string): string[][] {
  const parts = [name, ...name.split(/[,;()]/)].map(wordsOf).filter(({ length }) => length > 1);
  return parts.flatMap((words) => [words, [words.at(-1)!, ...words.slice(0, -1)]]);
}

/** By their whole name or their address. */
const isNamed = (words: TextWords, { name, address }: Correspondent): boolean =>
  [...spellings(name), wordsOf(address)].some((one) => words.has(one));

/** By anything that might mean them: a part of their name or else of their address, their firm. */
export function isMeant(words: TextWords, { name, address }: Correspondent): boolean {
  const [firm = ''] = wordsOf(hostOf(address));
  const parts = [...wordsOf(name === '' ? localPartOf(address) : name), firm];
  return parts.some((one) => one.length >= SHORTEST_NAME && words.has([one]));
}

/**
 * @param known Whom the sender has written to or kept.
 * @param mailDomain The office's own: colleagues stand in everything that the office writes.
 */
export function otherNamed(
  words: TextWords,
  known: readonly Correspondent[],
  recipients: readonly Correspondent[],
  mailDomain: string,
): Correspondent | undefined {
  if (recipients.length === 0 || recipients.some((one) => isMeant(words, one))) return undefined;
  const inside = mailDomain.toLowerCase();
  return known.find((one) => hostOf(one.address).toLowerCase() !== inside && isNamed(words, one));
}
