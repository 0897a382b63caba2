/** The office's own lists of words: whole words, whatever their case and accents, with the endings that languages put to them. */
import { type Finding, findingAt } from './finding';
import { type WordList } from './listed';
import { flat } from './near';

/** Shorter words take no ending: "bid" is not found in "bidet". */
const INFLECTED_FROM = 5; // letters
const ENDING = '[a-z]{0,3}';

const escaped = (word: string): string => word.replace(/[.*+?^${}()|[\]\\]/g, String.raw`\$&`);

function asPattern(word: string): string {
  const words = flat(word).split(/\s+/);
  const last = words.at(-1)!;
  const parted = words.map(escaped).join(String.raw`[\s\u00a0-]{1,3}`);
  return last.length >= INFLECTED_FROM && /[a-z]$/.test(last) ? `${parted}${ENDING}` : parted;
}

/**
 * One alternation of literals for each list, which the engine takes in one pass. Made once for a set of lists.
 *
 * @returns What finds them in a text as words are looked for in it (`flat`), in the order of the text.
 */
export function wordFinder(lists: readonly WordList[]): (text: string, plain: string) => Finding[] {
  const compiled = lists
    .filter(({ words }) => words.length > 0)
    .map(({ id, words }) => {
      // A longer one goes before one that it begins with.
      const all = [...new Set(words.map(asPattern))].sort((one, other) => other.length - one.length);
      return { id, pattern: new RegExp(`(?<![a-z0-9])(?:${all.join('|')})(?![a-z0-9])`, 'g') };
    });
  return (text, plain) =>
    compiled
      .flatMap(({ id, pattern }) =>
        [...plain.matchAll(pattern)].map(({ index: from, 0: word }) => {
          const to = from + word.length;
          // The office chose the word itself: it is no secret to whoever writes it.
          const excerpt = text.slice(from, to).replace(/\s+/g, ' ').slice(0, 40);
          return findingAt(text, { from, to }, { kind: 'word', of: id, confidence: 'sure' }, excerpt);
        }),
      )
      .sort((one, other) => one.from - other.from);
}
