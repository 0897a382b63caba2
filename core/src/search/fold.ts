/** Text as it is compared when searching: without case, accents and ligatures, its words parted by single spaces. */

/** Letters that Unicode does not take apart (Unicode 15, ch. 7.1). */
const APART: Record<string, string> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  ł: 'l',
  þ: 'th',
  ı: 'i',
};
const TAKEN_APART = new RegExp(`[${Object.keys(APART).join('')}]`, 'g');
const BEYOND_ASCII = /[^\0-\x7f]/;

/** Letters and digits only; may be longer than what it was. */
export function foldLetters(text: string): string {
  const lower = text.toLowerCase();
  if (!BEYOND_ASCII.test(lower)) return lower;
  return lower
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(TAKEN_APART, (letter) => APART[letter]!);
}

/** Begins and ends with a space, so that a word's beginning is a space and its letters. */
export const fold = (text: string): string =>
  ` ${foldLetters(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()} `;

const MOST_WORDS = 12;

/** The words of what was asked, each once, at most twelve. */
export const wordsAsked = (query: string): string[] => {
  const folded = fold(query).trim();
  return folded === '' ? [] : [...new Set(folded.split(' '))].slice(0, MOST_WORDS);
};

export interface Mark {
  from: number;
  to: number;
}

const WORD = /[\p{L}\p{N}\p{M}]+/gu;

/** How many units of `word` are the fold `asked`. */
function foldedUpTo(word: string, asked: string): number {
  let length = 0;
  for (const character of word) {
    length += character.length;
    if (foldLetters(word.slice(0, length)).length >= asked.length) break;
  }
  // A mark on the last letter belongs to it.
  while (/^\p{M}/u.test(word.slice(length))) length += [...word.slice(length)][0]!.length;
  return length;
}

/** Where words of the text begin with one that was asked for, in UTF-16 units, in order. Linear in the text. */
export function marksIn(text: string, asked: readonly string[], most = 50): Mark[] {
  const marks: Mark[] = [];
  if (asked.length === 0) return marks;
  for (const { 0: word, index } of text.matchAll(WORD)) {
    const folded = foldLetters(word);
    const longest = asked.filter((one) => folded.startsWith(one)).sort((a, b) => b.length - a.length)[0];
    if (longest === undefined) continue;
    marks.push({ from: index, to: index + foldedUpTo(word, longest) });
    if (marks.length === most) break;
  }
  return marks;
}

/** Whether each of the words that were asked for begins a word of the text. */
export const holdsAll = (text: string, asked: readonly string[]): boolean =>
  asked.every((word) => marksIn(text, [word], 1).length > 0);

/**
 * Where `phrase` stands in the text, in UTF-16 units, in order: without case and accents, any white space for any other.
 * Linear in the text.
 */
export function placesOf(text: string, phrase: string, most = 1000): Mark[] {
  const asked = foldLetters(phrase).replace(/\s+/g, ' ').trim();
  if (asked === '') return [];
  let folded = '';
  /** Of each unit of `folded`, where its character begins, and where the next one does. */
  const begins: number[] = [];
  const ends: number[] = [];
  let at = 0;
  for (const character of text) {
    const next = at + character.length;
    const letters = /\s/.test(character) ? (folded.endsWith(' ') ? '' : ' ') : foldLetters(character);
    for (let unit = 0; unit < letters.length; unit++) {
      begins.push(at);
      ends.push(next);
    }
    folded += letters;
    at = next;
  }
  const places: Mark[] = [];
  for (let found = folded.indexOf(asked); found !== -1 && places.length < most;) {
    places.push({ from: begins[found]!, to: ends[found + asked.length - 1]! });
    found = folded.indexOf(asked, found + asked.length);
  }
  return places;
}
