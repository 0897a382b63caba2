/** Passports and identity cards: by the lines that machines read (ICAO Doc 9303, by the mrz library), by their number after its name. */
import { parse } from 'mrz';
import { type Finding, findingAt, masked } from './finding';
import { type Near } from './near';
import { WORDS } from './numbers/vocabulary';

/** Two lines of 44 or 36, or three of 30; programs that read pictures put spaces between. */
const LINE = String.raw`[A-Z0-9<]{28,46}`;
const ZONE = new RegExp(
  String.raw`(?<![A-Z0-9<])${LINE}[ \t]{0,4}(?:\r?\n[ \t]{0,8}${LINE}[ \t]{0,4}){1,2}(?![A-Z0-9<])`,
  'g',
);
const NUMBER = /(?<![\p{L}\p{N}])(?=(?:[A-Z]{0,4}\d){5})[A-Z0-9]{7,9}(?![\p{L}\p{N}])/gu;
const PASSPORT = new RegExp(WORDS.passport.source, 'g');
const NEAREST = 24; // characters, from where the word begins
/** Of a number, with what tells where it ends. */
const MOST_SIGNS = 11;

const SHORTEST_LINE = 28;
const isOfZone = (code: number): boolean => (code >= 65 && code <= 90) || (code >= 48 && code <= 57) || code === 60;

/** Whether a line as long as theirs holds two fillers, as one of every zone does: programs' texts are full of both signs. */
function mayHoldZone(text: string): boolean {
  for (let at = text.indexOf('<<'); at !== -1;) {
    let [from, to] = [at, at];
    while (from > 0 && isOfZone(text.charCodeAt(from - 1))) from -= 1;
    while (to < text.length && isOfZone(text.charCodeAt(to))) to += 1;
    if (to - from >= SHORTEST_LINE) return true;
    at = text.indexOf('<<', to);
  }
  return false;
}

function zonesIn(text: string): Finding[] {
  if (!mayHoldZone(text)) return [];
  return [...text.matchAll(ZONE)].flatMap(({ index, 0: zone }) => {
    const lines = zone.split('\n').map((line) => line.trim());
    if (!isZone(lines)) return [];
    const what = { kind: 'passport', of: 'machine-readable', confidence: 'sure' } as const;
    return [findingAt(text, { from: index, to: index + zone.length }, what, masked(lines[0]!.replace(/<+/g, ' ')))];
  });
}

const FEWEST_CHECKS = 3;

function isZone(lines: string[]): boolean {
  try {
    // Whichever state it names: what is right is said by its check digits.
    const checked = parse(lines).details.filter(({ field }) => /CheckDigit$/.test(field ?? ''));
    return checked.length >= FEWEST_CHECKS && checked.every(({ valid }) => valid);
  } catch {
    return false;
  }
}

/** A number that stands right after a word for passport: no scheme of its own has a check that all countries share. */
function numbersIn(text: string, { plain }: Near): Finding[] {
  const found = new Map<number, Finding>();
  PASSPORT.lastIndex = 0;
  for (let word = PASSPORT.exec(plain); word !== null; word = PASSPORT.exec(plain)) {
    const begin = word.index + word[0].length - 1;
    const near = text.slice(begin, word.index + NEAREST + MOST_SIGNS);
    for (const { index, 0: number } of near.matchAll(NUMBER)) {
      const from = begin + index;
      if (index === 0 || from > word.index + NEAREST) continue;
      const what = { kind: 'passport', of: 'passport', confidence: 'likely' } as const;
      found.set(from, findingAt(text, { from, to: from + number.length }, what));
    }
    // One word may stand within another.
    PASSPORT.lastIndex = word.index + 1;
  }
  return [...found.values()];
}

export const findPassports = (text: string, near: Near): Finding[] => [...zonesIn(text), ...numbersIn(text, near)];
