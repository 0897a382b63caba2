/** Conditions on the message itself: its handling, its tags, what was found in it, its files, what it answers. */
import { z } from 'zod';
import { KIND_WORDS, KINDS } from '../../scan/finding';
import { sizeInWords } from '../../when';
import { FILE_KINDS, type FoundFacts, PARTS } from '../facts';
import { defineCondition, either, isSubset, never } from './kind';

const ids = z.array(z.string().min(1).max(64)).min(1).max(200);

export const presetIs = defineCondition({
  schema: z.object({ kind: z.literal('preset-is'), presets: ids }),
  has: ({ presets }, { presetId }) => presetId !== undefined && presets.includes(presetId),
  implies: (one, other) => isSubset(one.presets, other.presets),
  disjoint: (one, other) => !one.presets.some((each) => other.presets.includes(each)),
  describe: ({ presets }, { preset }) => `it goes under ${either(presets.map((id) => `“${preset(id)}”`))}`,
});

export const taggedWith = defineCondition({
  schema: z.object({ kind: z.literal('tagged-with'), tags: ids }),
  has: ({ tags }, facts) => facts.tags.some((each) => tags.includes(each)),
  implies: (one, other) => isSubset(one.tags, other.tags),
  disjoint: never,
  describe: ({ tags }, { tag }) => `it is tagged ${either(tags.map((id) => `“${tag(id)}”`))}`,
});

const counted = (found: readonly FoundFacts[]): number => found.reduce((sum, { count }) => sum + count, 0);

export const saysWords = defineCondition({
  schema: z.object({ kind: z.literal('says-words'), lists: ids, parts: z.array(z.enum(PARTS)).min(1) }),
  has: ({ lists, parts }, { found }) =>
    found.some(
      ({ kind, of, part }) => (kind === 'word' || kind === 'pattern') && lists.includes(of) && parts.includes(part),
    ),
  implies: (one, other) => isSubset(one.lists, other.lists) && isSubset(one.parts, other.parts),
  disjoint: never,
  describe: ({ lists, parts }, { list }) =>
    `${either(lists.map((id) => `“${list(id)}”`))} stands in its ${either(parts.map((part) => partWords[part]))}`,
});
const partWords = { subject: 'subject', text: 'text', names: 'file names', files: 'files' } as const;

export const findingIs = defineCondition({
  schema: z.object({
    kind: z.literal('finding-is'),
    kinds: z.array(z.enum(KINDS)).min(1),
    sureOnly: z.boolean(),
    least: z.number().int().min(1).max(100_000),
  }),
  has: ({ kinds, sureOnly, least }, { found }) =>
    counted(found.filter(({ kind, confidence }) => kinds.includes(kind) && (!sureOnly || confidence === 'sure'))) >=
    least,
  implies: (one, other) =>
    isSubset(one.kinds, other.kinds) && (one.sureOnly || !other.sureOnly) && one.least >= other.least,
  disjoint: never,
  describe: ({ kinds, sureOnly, least }) =>
    `${least === 1 ? 'there is' : `there are ${least} or more of`} ${either(kinds.map((kind) => KIND_WORDS[kind]))} in it${sureOnly ? ', beyond doubt' : ''}`,
});
export const fileIs = defineCondition({
  schema: z.object({
    kind: z.literal('file-is'),
    /** By what is in it, not by its ending. */
    kinds: z.array(z.enum(FILE_KINDS)).min(1),
    /** `any`, or only those that are (or are not) locked already. */
    locked: z.enum(['any', 'locked', 'open']),
    /** Only those that could not be looked into. */
    unreadOnly: z.boolean(),
    /** In octets. */
    leastSize: z.number().int().min(0).max(10_000_000_000),
  }),
  has: ({ kinds, locked, unreadOnly, leastSize }, { files }) =>
    files.some(
      ({ kind, size, isLocked, isUnread }) =>
        kinds.includes(kind) &&
        (locked === 'any' || isLocked === (locked === 'locked')) &&
        (!unreadOnly || isUnread) &&
        size >= leastSize,
    ),
  implies: (one, other) =>
    isSubset(one.kinds, other.kinds) &&
    (other.locked === 'any' || one.locked === other.locked) &&
    (one.unreadOnly || !other.unreadOnly) &&
    one.leastSize >= other.leastSize,
  disjoint: never,
  describe: ({ kinds, locked, unreadOnly, leastSize }) =>
    [
      `a file is ${kinds.length === FILE_KINDS.length ? 'with it' : `of this kind: ${either(kinds)}`}`,
      ...(locked === 'any' ? [] : [locked === 'locked' ? 'locked already' : 'not locked']),
      ...(unreadOnly ? ['can’t be looked into'] : []),
      ...(leastSize === 0 ? [] : [`has ${sizeInWords(leastSize)} or more`]),
    ].join(', '),
});

/** `*` stands for any signs, `?` for one. Matched without an engine of patterns, so that none can run away. */
export function fitsName(name: string, pattern: string): boolean {
  const [text, wanted] = [name.toLowerCase(), pattern.toLowerCase()];
  let [at, place, star, back] = [0, 0, -1, 0];
  while (at < text.length) {
    if (place < wanted.length && (wanted[place] === '?' || wanted[place] === text[at]) && wanted[place] !== '*') {
      at += 1;
      place += 1;
    } else if (wanted[place] === '*') {
      star = place;
      back = at;
      place += 1;
    } else if (star !== -1) {
      place = star + 1;
      back += 1;
      at = back;
    } else return false;
  }
  while (wanted[place] === '*') place += 1;
  return place === wanted.length;
}

export const fileNamed = defineCondition({
  schema: z.object({
    kind: z.literal('file-named'),
    patterns: z.array(z.string().trim().min(1).max(100)).min(1).max(100),
  }),
  has: ({ patterns }, { files }) => files.some(({ fits }) => patterns.some((pattern) => fits.includes(pattern))),
  implies: (one, other) => isSubset(one.patterns, other.patterns) || other.patterns.includes('*'),
  disjoint: never,
  describe: ({ patterns }) => `a file is named like ${either(patterns)}`,
});

export const fileCount = defineCondition({
  schema: z.object({ kind: z.literal('file-count'), least: z.number().int().min(1).max(10_000) }),
  has: ({ least }, { files }) => files.length >= least,
  implies: (one, other) => one.least >= other.least,
  disjoint: never,
  describe: ({ least }) => (least === 1 ? 'it has files' : `it has ${least} files or more`),
});

export const answering = defineCondition({
  schema: z.object({
    kind: z.literal('answering'),
    as: z.enum(['reply', 'forward', 'either']),
    hadLock: z.boolean(),
  }),
  has: ({ as, hadLock }, { answers }) =>
    answers !== undefined && (as === 'either' || answers.as === as) && (!hadLock || answers.hadLock),
  implies: (one, other) => (other.as === 'either' || one.as === other.as) && (one.hadLock || !other.hadLock),
  disjoint: (one, other) => one.as !== 'either' && other.as !== 'either' && one.as !== other.as,
  describe: ({ as, hadLock }) =>
    `it ${as === 'reply' ? 'answers' : as === 'forward' ? 'passes on' : 'answers or passes on'} something${hadLock ? ' that was under lock' : ''}`,
});

export const headerIs = defineCondition({
  schema: z.object({
    kind: z.literal('header-is'),
    name: z
      .string()
      .trim()
      .toLowerCase()
      .regex(/^[!-9;-~]{1,60}$/),
    /** Any value without it. */
    value: z.string().trim().toLowerCase().max(200).optional(),
  }),
  has: ({ name, value }, { headers }) => {
    const said = Object.hasOwn(headers, name) ? headers[name]!.trim().toLowerCase() : undefined;
    return said !== undefined && (value === undefined || said === value);
  },
  implies: (one, other) => one.name === other.name && (other.value === undefined || one.value === other.value),
  // A field is there once: it has no two values.
  disjoint: (one, other) =>
    one.name === other.name && one.value !== undefined && other.value !== undefined && one.value !== other.value,
  describe: ({ name, value }) => `its header field ${name} is ${value === undefined ? 'there' : `“${value}”`}`,
});
