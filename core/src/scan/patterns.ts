/**
 * The office's own patterns, by an engine whose time grows with the text alone (re2js): no pattern that an administrator
 * writes can stop anybody's browser. It has no look-around and no back-references, and says so of a pattern with them.
 */
import { RE2JS, RE2Set } from 're2js';
import { type Finding, findingAt } from './finding';
import { type OfficePattern } from './listed';

export interface PatternProblem {
  /** In plain words. */
  what: string;
  /** The part of the pattern it is about, where the engine names one. */
  where?: string;
}

const PROBLEMS: readonly [RegExp, string][] = [
  [/missing closing \)/, 'A bracket ( is not closed'],
  [/unexpected \)/, 'A bracket ) was not opened'],
  [/missing closing \]/, 'A bracket [ is not closed'],
  [/missing argument to repetition/, 'A sign of repetition has nothing to repeat'],
  [/invalid nested repetition|repetition operator/, 'Two signs of repetition follow one another'],
  [/invalid repeat count|invalid repetition size/, 'Something is to be repeated more often than a thousand times'],
  [
    /invalid or unsupported Perl syntax|lookbehind/i,
    'It looks ahead, looks behind or refers back, which no pattern may here',
  ],
  [/invalid escape/, 'A sign after \\ that means nothing here'],
  [/invalid character class range/, 'A range from a later sign to an earlier one'],
  [/trailing backslash/, 'It ends with \\, which needs a sign after it'],
];

const flagsOf = ({ exact }: Pick<OfficePattern, 'exact'>): number =>
  (exact ? 0 : RE2JS.CASE_INSENSITIVE) | RE2JS.MULTILINE;

/** Undefined for one that can be taken. */
export function patternProblem(one: Pick<OfficePattern, 'pattern' | 'exact'>): PatternProblem | undefined {
  try {
    const compiled = RE2JS.compile(one.pattern, flagsOf(one));
    return compiled.matcher('').find()
      ? { what: 'It fits where nothing stands, so it would be found everywhere' }
      : undefined;
  } catch (error) {
    const message = error instanceof Error ? error.message : '';
    const [, what = 'It can’t be read as a pattern'] = PROBLEMS.find(([said]) => said.test(message)) ?? [];
    const [, where] = /: `(?:\(\?[a-z]\)){0,3}([^`]*)`\s*$/.exec(message) ?? [];
    return { what, ...(where === undefined || where === '' ? {} : { where }) };
  }
}

/** Of one pattern in one text; more of it says nothing new. */
const MOST_OF_ONE = 100;

/** Made once for a set of patterns; those that can't be taken are left out. Which of them are there at all is asked first. */
export function patternFinder(patterns: readonly OfficePattern[]): (text: string) => Finding[] {
  const taken = patterns
    .filter((one) => patternProblem(one) === undefined)
    .map((one) => ({ ...one, compiled: RE2JS.compile(one.pattern, flagsOf(one)) }));
  if (taken.length === 0) return () => [];
  const set = new RE2Set(RE2Set.UNANCHORED);
  for (const { pattern, exact } of taken) set.add(`(?m${exact ? '' : 'i'})${pattern}`);
  set.compile();
  return (text) =>
    set.match(text).flatMap((index) => {
      const { id, compiled } = taken[index]!;
      const matcher = compiled.matcher(text);
      const found: Finding[] = [];
      while (found.length < MOST_OF_ONE && matcher.find()) {
        const span = { from: matcher.start(), to: matcher.end() };
        found.push(findingAt(text, span, { kind: 'pattern', of: id, confidence: 'sure' }));
      }
      return found;
    });
}
