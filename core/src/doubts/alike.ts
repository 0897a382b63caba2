/** Whether two names look alike to whoever reads them in passing. */
import { distance } from 'fastest-levenshtein';

/**
 * Letters of other scripts and figures that look like these, from the "confusables" of Unicode Technical Standard #39;
 * of those, the ones that host names may hold.
 */
const LOOKS_LIKE: Readonly<Record<string, string>> = {
  а: 'a',
  α: 'a',
  ɑ: 'a',
  Ь: 'b',
  с: 'c',
  ϲ: 'c',
  ԁ: 'd',
  е: 'e',
  ҽ: 'e',
  ɡ: 'g',
  ց: 'g',
  һ: 'h',
  і: 'i',
  ι: 'i',
  ı: 'i',
  ӏ: 'l',
  ј: 'j',
  κ: 'k',
  к: 'k',
  ո: 'n',
  ղ: 'n',
  о: 'o',
  ο: 'o',
  օ: 'o',
  σ: 'o',
  р: 'p',
  ρ: 'p',
  ԛ: 'q',
  г: 'r',
  ѕ: 's',
  τ: 't',
  υ: 'u',
  ս: 'u',
  ν: 'v',
  ѵ: 'v',
  ԝ: 'w',
  ѡ: 'w',
  х: 'x',
  χ: 'x',
  у: 'y',
  γ: 'y',
  ᴢ: 'z',
  '0': 'o',
  '1': 'l',
  '3': 'e',
  '5': 's',
};
const PAIRS: readonly [RegExp, string][] = [
  [/rn/g, 'm'],
  [/vv/g, 'w'],
  [/cl/g, 'd'],
];

/** What is left of a name for the eye: the same for names that look the same. */
export function skeleton(text: string): string {
  const plain = [...text.toLowerCase().normalize('NFKD').replace(/\p{M}/gu, '')]
    .map((sign) => LOOKS_LIKE[sign] ?? sign)
    .join('')
    .replace(/i/g, 'l');
  return PAIRS.reduce((rest, [pair, one]) => rest.replace(pair, one), plain);
}

/** Shorter ones differ from each other by less. */
const LONG = 8;
const SHORT = 5;

/** Not the same, and so near that one is taken for the other. */
export function isNearly(one: string, other: string): boolean {
  if (one === other) return false;
  if (skeleton(one) === skeleton(other)) return true;
  const least = Math.min(one.length, other.length);
  if (least < SHORT || Math.abs(one.length - other.length) > 2) return false;
  return distance(one, other) <= (least >= LONG ? 2 : 1);
}

export interface Stretch {
  text: string;
  differs: boolean;
}

/** `one` in stretches, those marked that the other has not: what both begin and end with is the same. */
export function differing(one: string, other: string): Stretch[] {
  let head = 0;
  while (head < one.length && head < other.length && one[head] === other[head]) head += 1;
  let tail = 0;
  while (
    tail < one.length - head &&
    tail < other.length - head &&
    one[one.length - 1 - tail] === other[other.length - 1 - tail]
  )
    tail += 1;
  // A letter that is missing is marked by its neighbour.
  const to = Math.max(one.length - tail, Math.min(head + 1, one.length));
  return [
    { text: one.slice(0, head), differs: false },
    { text: one.slice(head, to), differs: true },
    { text: one.slice(to), differs: false },
  ].filter(({ text }) => text !== '');
}
