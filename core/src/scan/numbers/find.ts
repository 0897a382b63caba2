/** Numbers of cards, accounts and people in a text. */
import { type Confidence, type Finding, findingAt } from '../finding';
import { type Near } from '../near';
import { findIbans } from './iban';
import { NUMBER_KINDS, type NumberKind } from './kinds';
import { type Candidate, candidatesIn, grouped, type KindsOf } from './runs';
import { WORDS } from './vocabulary';

/** A word of another kind this near speaks against a number that nothing but its form speaks for. */
const AGAINST = 25; // characters

/** By how many signs they have, and by the groups they are written in besides. */
const BY_LENGTH = new Map<number, NumberKind[]>();
const BY_GROUPS = new Map<number, NumberKind[]>();
const put = (in_: Map<number, NumberKind[]>, at: number, kind: NumberKind): void =>
  void in_.set(at, [...(in_.get(at) ?? []), kind]);
for (const kind of NUMBER_KINDS) {
  for (const length of kind.lengths) put(BY_LENGTH, length, kind);
  for (const groups of kind.groups) {
    const lengths = groups.split('-').map(Number);
    if (kind.lengths.includes(lengths.reduce((sum, one) => sum + one, 0))) put(BY_GROUPS, grouped(lengths), kind);
  }
}

const kindsOf: KindsOf<NumberKind> = (length, groups) =>
  groups === undefined ? BY_LENGTH.get(length) : BY_GROUPS.get(groups);

interface Judged {
  confidence: Confidence;
  /** One of its own names stands by, not only what many schemes share. */
  isNamed: boolean;
}

function judged(kind: NumberKind, candidate: Candidate<NumberKind>, near: Near): Judged | undefined {
  const { parts, isTorn } = candidate;
  if (!kind.shape.test(candidate.compact) || !kind.isValid(candidate.compact)) return undefined;
  const distance = near.at(candidate);
  const named = kind.own === undefined ? Number.POSITIVE_INFINITY : distance(kind.own);
  const said = Math.min(named, ...kind.words.map((name) => distance(WORDS[name])));
  const other = distance(WORDS.other);
  const isNamed = named !== Number.POSITIVE_INFINITY;
  if (said <= other && said !== Number.POSITIVE_INFINITY) return { confidence: 'sure', isNamed };
  const alone = isTorn ? undefined : kind.alone?.[parts === '' ? 'unbroken' : 'grouped'];
  return alone === undefined || (alone === 'likely' && other <= AGAINST) ? undefined : { confidence: alone, isNamed };
}

interface Ranked {
  finding: Finding;
  /** Less is better. */
  rank: readonly number[];
}

const isBetter = (one: Ranked, other: Ranked): boolean => {
  const index = one.rank.findIndex((value, place) => value !== other.rank[place]);
  return index !== -1 && one.rank[index]! < other.rank[index]!;
};

/** In the order of the text, none over another: the surer one stays, then the longer, the named, the one listed first. */
export function findNumbers(text: string, near: Near): Finding[] {
  const found: Ranked[] = findIbans(text).map((finding) => ({ finding, rank: [0, -100, 0, 0] }));
  for (const candidate of candidatesIn(text, kindsOf))
    for (const kind of candidate.kinds) {
      const is = judged(kind, candidate, near);
      if (is === undefined) continue;
      const { confidence, isNamed } = is;
      found.push({
        finding: findingAt(text, candidate, { kind: kind.kind, of: kind.of, confidence }),
        rank: [confidence === 'sure' ? 0 : 1, -candidate.compact.length, isNamed ? 0 : 1, NUMBER_KINDS.indexOf(kind)],
      });
    }
  return withoutOverlaps(found);
}

function withoutOverlaps(found: Ranked[]): Finding[] {
  const kept: Ranked[] = [];
  for (const one of found.sort((a, b) => a.finding.from - b.finding.from)) {
    const last = kept.at(-1);
    if (last === undefined || one.finding.from >= last.finding.to) kept.push(one);
    else if (isBetter(one, last)) kept[kept.length - 1] = one;
  }
  return kept.map(({ finding }) => finding);
}
