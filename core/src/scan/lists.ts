/** Lists of people: many different addresses or telephone numbers in one place. */
import { type Finding, type Span } from './finding';

/** From here on it is a list, not a letter with its copies. */
const FEWEST = 20;
const MOST_BEFORE = 64; // RFC 5321 § 4.5.3.1.1
const AFTER = /[\p{L}\p{N}-]{1,63}(?:\.[\p{L}\p{N}-]{2,63}){1,4}/uy;
const PHONE = /(?<![\w.,])(?:\+|00)[1-9]\d{0,2}[ \d()./-]{6,20}\d(?![\d.,]\d)/g;

interface Entry extends Span {
  named: string;
}

function listOf(of: string, entries: readonly Entry[]): Finding[] {
  const different = new Set(entries.map(({ named }) => named));
  const [first, last] = [entries[0], entries.at(-1)];
  if (different.size < FEWEST || first === undefined || last === undefined) return [];
  const { size: count } = different;
  return [{ kind: 'list', of, from: first.from, to: last.to, confidence: 'sure', excerpt: '', count }];
}

const isWritten = (code: number): boolean =>
  (code >= 97 && code <= 122) ||
  (code >= 65 && code <= 90) ||
  (code >= 48 && code <= 57) ||
  code === 46 || // .
  code === 43 || // +
  code === 45 || // -
  code === 95; // _

/** Where the part before an @ begins: at the sign itself where there is none. */
function begins(text: string, at: number): number {
  let from = at;
  while (from > 0 && at - from < MOST_BEFORE && isWritten(text.charCodeAt(from - 1))) from -= 1;
  return from;
}

/** Found by their sign: few texts have many of it. */
function addressesIn(text: string): Entry[] {
  const entries: Entry[] = [];
  for (let at = text.indexOf('@'); at !== -1; at = text.indexOf('@', at + 1)) {
    const from = begins(text, at);
    AFTER.lastIndex = at + 1;
    const after = from === at ? undefined : AFTER.exec(text)?.[0];
    if (after === undefined) continue;
    const to = at + 1 + after.length;
    entries.push({ from, to, named: text.slice(from, to).toLowerCase() });
  }
  return entries;
}

const phonesIn = (text: string): Entry[] =>
  [...text.matchAll(PHONE)].map(({ index, 0: whole }) => ({
    from: index,
    to: index + whole.length,
    named: whole.replace(/\D/g, ''),
  }));

/** At most one finding of each kind. */
export const findLists = (text: string): Finding[] => [
  ...listOf('addresses', addressesIn(text)),
  ...listOf('phones', phonesIn(text)),
];
