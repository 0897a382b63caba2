/**
 * Figures as they are written: groups with one sign between two. One pass over a text yields its runs, and each run its
 * neighbouring groups as candidates; what they could be, `kinds.ts` knows.
 */
import { type Span } from '../finding';

export interface Candidate<Kind> extends Span {
  /** Without what parts it, letters in upper case. */
  compact: string;
  /** What parts its groups, each sign once, but a line's end. */
  parts: string;
  /** Whether a line's end is among what parts them. */
  isTorn: boolean;
  /** What it could be. */
  kinds: readonly Kind[];
}

/** Between two groups: a space of any width, a full stop, a hyphen, a slash, an apostrophe, a middle dot. */
const PARTING = new Set(" \u00a0\u2007\u2009\u202f.-\u2010\u2011\u2012\u2013/'’·");
const MOST_GROUPS = 12;
/** No number that is looked for has more. */
const MOST_IN_ONE = 7;
const LONGEST_GROUP = 34;

export const isDigit = (code: number): boolean => code >= 48 && code <= 57;
const isUpper = (code: number): boolean => code >= 65 && code <= 90;
export const isLetter = (code: number): boolean => isUpper(code) || (code >= 97 && code <= 122);
const isSign = (code: number): boolean => isDigit(code) || isLetter(code);
/** Letters of other alphabets and with accents make a word of what stands beside them. */
const isWordBeyond = (code: number): boolean =>
  code > 0xbf && code !== 0xd7 && code !== 0xf7 && (code < 0x2000 || code > 0x2bff);

interface Group extends Span {
  parting: string;
}

function endOfGroup(text: string, from: number): number {
  let at = from;
  while (at < text.length && at - from <= LONGEST_GROUP && isSign(text.charCodeAt(at))) at += 1;
  return at - from > LONGEST_GROUP || isWordBeyond(text.charCodeAt(at) || 0) ? from : at;
}

/** Whether what stands here is a group of a number: it has figures, or is up to six capital letters. */
function isGroup(text: string, { from, to }: Span): boolean {
  let figures = 0;
  let lead = 0;
  let capitals = 0;
  for (let at = from; at < to; at += 1) {
    const code = text.charCodeAt(at);
    if (isDigit(code)) figures += 1;
    else {
      if (figures === 0) lead += 1;
      if (isUpper(code)) capitals += 1;
    }
  }
  return figures > 0 ? lead <= 6 : capitals === to - from && capitals <= 6;
}

/** Where the group before this place begins, if one stands there and one sign parts it. */
function groupBefore(text: string, from: number): Group | undefined {
  const parting = text[from - 1] ?? '';
  if (!PARTING.has(parting)) return undefined;
  let at = from - 1;
  while (at > 0 && from - 1 - at <= 6 && isUpper(text.charCodeAt(at - 1))) at -= 1;
  const length = from - 1 - at;
  const before = at === 0 ? 0 : text.charCodeAt(at - 1);
  if (length === 0 || length > 6 || isSign(before) || isWordBeyond(before)) return undefined;
  return { from: at, to: from - 1, parting: '' };
}

/** After a group: the sign that parts it from the next, a line's end with what indents the next line. */
function partingAt(text: string, at: number): string | undefined {
  const sign = text[at] ?? '';
  if (PARTING.has(sign)) return sign;
  if (sign !== '\n' && !(sign === '\r' && text[at + 1] === '\n')) return undefined;
  let end = text.indexOf('\n', at) + 1;
  while (end - at < 10 && (text[end] === ' ' || text[end] === '\t')) end += 1;
  return text.slice(at, end);
}

/** From the group that holds the figure at `at` to the last that follows. */
function runFrom(text: string, at: number): Group[] {
  let from = at;
  while (from > 0 && at - from <= LONGEST_GROUP && isSign(text.charCodeAt(from - 1))) from -= 1;
  const before = from === 0 ? 0 : text.charCodeAt(from - 1);
  const to = endOfGroup(text, from);
  const first = { from, to, parting: '' };
  if (to === from || isWordBeyond(before) || !isGroup(text, first)) return [];
  const earlier = groupBefore(text, from);
  const groups: Group[] = earlier === undefined ? [first] : [earlier, { ...first, parting: text[from - 1]! }];
  while (groups.length < MOST_GROUPS) {
    const end = groups[groups.length - 1]!.to;
    const parting = partingAt(text, end);
    if (parting === undefined) break;
    const next = { from: end + parting.length, to: endOfGroup(text, end + parting.length), parting };
    if (next.to === next.from || !isGroup(text, next)) break;
    groups.push(next);
  }
  return groups;
}

/** Lengths of groups as one number, each behind the one before: comparing texts for each reading takes most of the time. */
export const grouped = (lengths: readonly number[]): number => lengths.reduce(behind, 0);
const behind = (groups: number, length: number): number => groups * (LONGEST_GROUP + 1) + length;

/**
 * Kinds with so many signs in such groups (`grouped`); `undefined` for groups that say nothing, as there is one alone or
 * nothing but lines' ends, which may fall anywhere, parts them.
 */
export type KindsOf<Kind> = (length: number, groups: number | undefined) => readonly Kind[] | undefined;

const isLineEnd = (parting: string): boolean => parting.length > 0 && parting.includes('\n');

/** By one sign, or by the two that schemes write by turns. */
const PARTED = /^(?:|.|\.[-/]|-[./]| -|- )$/u;
const known = new Map<string, boolean>();
function mayPart(parts: string): boolean {
  const said = known.get(parts) ?? PARTED.test(parts);
  known.set(parts, said);
  return said;
}

function candidate<Kind>(text: string, taken: readonly Group[], kinds: readonly Kind[]): Candidate<Kind> | undefined {
  let parts = '';
  let isTorn = false;
  for (let index = 1; index < taken.length; index += 1) {
    const { parting } = taken[index]!;
    if (isLineEnd(parting)) isTorn = true;
    else if (!parts.includes(parting)) parts += parting;
  }
  // Where a line's end is among them, whatever else there is was put there by who broke the line.
  if (!isTorn && !mayPart(parts)) return undefined;
  const compact = taken.map((one) => text.slice(one.from, one.to)).join('');
  const [{ from }, to] = [taken[0]!, taken[taken.length - 1]!.to];
  return { from, to, compact: compact.toUpperCase(), parts, isTorn, kinds };
}

function* candidatesOf<Kind>(text: string, all: readonly Group[], kindsOf: KindsOf<Kind>): Generator<Candidate<Kind>> {
  for (let first = 0; first < all.length; first += 1) {
    let length = 0;
    let groups = 0;
    let isParted = false;
    for (let last = first; last < all.length && last < first + MOST_IN_ONE; last += 1) {
      const { from, to, parting } = all[last]!;
      length += to - from;
      groups = behind(groups, to - from);
      isParted ||= last > first && !isLineEnd(parting);
      const kinds = kindsOf(length, isParted ? groups : undefined);
      const made = kinds === undefined ? undefined : candidate(text, all.slice(first, last + 1), kinds);
      if (made !== undefined) yield made;
    }
  }
}

/** The next figure from here on; the text's end where there is none. */
export function figureFrom(text: string, from: number): number {
  FIGURE.lastIndex = from;
  return FIGURE.test(text) ? FIGURE.lastIndex - 1 : text.length;
}
const FIGURE = /\d/g;

/**
 * Every way of reading figures that stand together as one number; longer readings of the same place come later.
 *
 * @param kindsOf Asked before anything is made of a candidate: most are none.
 */
export function* candidatesIn<Kind>(text: string, kindsOf: KindsOf<Kind>): Generator<Candidate<Kind>> {
  for (let at = figureFrom(text, 0); at < text.length;) {
    const groups = runFrom(text, at);
    const last = groups.at(-1);
    yield* candidatesOf(text, groups, kindsOf);
    // What begins within the last of too many groups may go on behind it.
    let next = last === undefined ? at + 1 : groups.length === MOST_GROUPS ? last.from : last.to;
    if (last === undefined) while (next < text.length && isSign(text.charCodeAt(next))) next += 1;
    at = figureFrom(text, Math.max(next, at + 1));
  }
}
