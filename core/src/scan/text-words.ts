/** Which words stand in a text, and which beside which: enough to be asked later whether somebody is named in it. */
import { flat } from './near';

/** Of one file: whom it is for is said early, and a page has some three hundred. */
const MOST = 10_000;
/** Between the parts of a name, of an address, or two cells of a row. */
const FARTHEST = 3; // characters
const LONGEST = 60; // letters
const WORD = /[\p{L}\p{N}]+/gu;

/** @returns As they are told apart here: in lower case, without accents. */
export const wordsOf = (text: string): string[] => flat(text).match(WORD) ?? [];

export class TextWords {
  private readonly known = new Set<string>();

  /** What does not fit any more is left out. */
  add(text: string): void {
    if (this.known.size >= MOST) return;
    let last = '';
    let end = Number.NEGATIVE_INFINITY;
    for (const { 0: word, index } of flat(text).matchAll(WORD)) {
      if (this.known.size >= MOST) return;
      if (word.length <= LONGEST) {
        this.known.add(word);
        if (index - end <= FARTHEST) this.known.add(`${last} ${word}`);
      }
      last = word.slice(0, LONGEST);
      end = index + word.length;
    }
  }

  /** Whether these words stand in it, each beside the next. */
  has(words: readonly string[]): boolean {
    const [only] = words;
    if (only === undefined) return false;
    if (words.length === 1) return this.known.has(only);
    return words.every((word, index) => index === 0 || this.known.has(`${words[index - 1]!} ${word}`));
  }
}
