/** A rule of the office, and what all of them together say of one message. */
import { z } from 'zod';
import { type Condition, conditionSchema, disjoint, has, implies } from './conditions/index';
import {
  asksAtLeast,
  type Demand,
  demandOf,
  type Effect,
  effectSchema,
  forbidsOpen,
  forbidsOpenText,
  isPermission,
  join,
  NOTHING,
} from './demand';
import { type Facts } from './facts';
import { type Container } from '../ways/file-way';

export const RULE_STATES = ['off', 'tried', 'on'] as const;
export const MAX_RULES = 200;

const conditions = z.array(conditionSchema).max(20);

export const ruleSchema = z.object({
  id: z.uuid(),
  name: z.string().trim().min(1).max(80),
  /** What people read when it acts. */
  sentence: z.string().trim().min(1).max(300),
  /** `tried`: it says nothing to anybody and is counted. */
  state: z.enum(RULE_STATES),
  when: z.object({ allOf: conditions, anyOf: conditions, noneOf: conditions }),
  effects: z.array(effectSchema).min(1).max(12),
});
export type Rule = z.infer<typeof ruleSchema>;
export type When = Rule['when'];

/** Without any condition it holds for every message. */
export const applies = (when: When, facts: Facts): boolean => unmet(when, facts) === undefined;

/** Why it does not hold: the first condition that is not as wanted, or that none of those of which one is wanted is so. */
export function unmet(
  { allOf, anyOf, noneOf }: When,
  facts: Facts,
): { in: 'allOf' | 'noneOf'; condition: Condition } | { in: 'anyOf' } | undefined {
  const lacking = allOf.find((one) => !has(one, facts));
  if (lacking !== undefined) return { in: 'allOf', condition: lacking };
  if (anyOf.length > 0 && !anyOf.some((one) => has(one, facts))) return { in: 'anyOf' };
  const unwanted = noneOf.find((one) => has(one, facts));
  return unwanted === undefined ? undefined : { in: 'noneOf', condition: unwanted };
}

export interface Acted {
  rule: Pick<Rule, 'id' | 'name' | 'sentence'>;
  demand: Demand;
}

export interface LockedFiles {
  /** Names of the rules that permit it. */
  by: readonly string[];
  /** That of the first that names one. */
  container: Container | undefined;
  /** What is locked already goes along as it is, where all of them say so. */
  lockedStay: boolean;
}

export interface Verdict {
  demand: Demand;
  /** In the order of their names: which acted, and what each asks. */
  acted: readonly Acted[];
  /** Tried silently: ids of those that would have acted. */
  wouldHave: readonly string[];
  /** Names of rules that permit it to leave open; of none where one that acted forbids it. */
  openBy: readonly string[];
  /** Likewise, what mail programs hand in: it then does leave open. */
  programsOpenBy: readonly string[];
  /** What mail programs hand in leaves with its text open and its files locked. */
  programsLockFiles: LockedFiles | undefined;
  /** Names of rules that acted and ask for more than leaving open gives. */
  openAgainst: readonly string[];
}

const demandOfRule = ({ effects }: Pick<Rule, 'effects'>): Demand => effects.map(demandOf).reduce(join, NOTHING);

const byName = (one: Rule, other: Rule): number =>
  one.name < other.name ? -1 : one.name > other.name ? 1 : one.id < other.id ? -1 : 1;

const isLockFiles = (effect: Effect): effect is Extract<Effect, { kind: 'programs-lock-files' }> =>
  effect.kind === 'programs-lock-files';

/** @param on The rules that act, in the order of their names. */
function lockedFiles(on: readonly Rule[]): LockedFiles | undefined {
  if (on.some(({ effects }) => effects.some(forbidsOpenText))) return undefined;
  const permitting = on.filter(({ effects }) => effects.some(isLockFiles));
  if (permitting.length === 0) return undefined;
  const ways = permitting.flatMap(({ effects }) => effects.filter(isLockFiles));
  return {
    by: permitting.map(({ name }) => name),
    container: ways.find(({ container }) => container !== undefined)?.container,
    lockedStay: ways.every(({ lockedStay }) => lockedStay),
  };
}

const named = (rules: readonly Rule[], is: (effect: Effect) => boolean): string[] =>
  rules.flatMap(({ name, effects }) => (effects.some(is) ? [name] : []));

/** Where files are to be locked and there is none, its text is all there is. */
function programsMay(
  on: readonly Rule[],
  { files }: Facts,
  isOpenForbidden: boolean,
): Pick<Verdict, 'programsOpenBy' | 'programsLockFiles'> {
  const locked = lockedFiles(on);
  const isLeftToLock = locked !== undefined && files.some(({ isLocked }) => !(locked.lockedStay && isLocked));
  if (isLeftToLock) return { programsOpenBy: [], programsLockFiles: locked };
  const permits = ({ kind }: Effect): boolean =>
    kind === 'programs-leave-open' || (locked !== undefined && kind === 'programs-lock-files');
  return { programsOpenBy: isOpenForbidden ? [] : named(on, permits), programsLockFiles: undefined };
}

/** The order in which the rules are given says nothing. */
export function judge(rules: readonly Rule[], facts: Facts): Verdict {
  const fitting = rules.filter(({ state, when }) => state !== 'off' && applies(when, facts)).sort(byName);
  const on = fitting.filter(({ state }) => state === 'on');
  const acted = on.map((rule) => ({
    rule: { id: rule.id, name: rule.name, sentence: rule.sentence },
    demand: demandOfRule(rule),
  }));
  const openAgainst = named(on, forbidsOpen);
  const isOpenForbidden = openAgainst.length > 0;
  return {
    demand: acted.map(({ demand }) => demand).reduce(join, NOTHING),
    acted,
    wouldHave: fitting.filter(({ state }) => state === 'tried').map(({ id }) => id),
    openBy: isOpenForbidden ? [] : named(on, ({ kind }) => kind === 'may-leave-open'),
    ...programsMay(on, facts, isOpenForbidden),
    openAgainst,
  };
}

/** No message can have all of it. Sound, not complete. */
export function isImpossible({ allOf, anyOf, noneOf }: When): boolean {
  const contradicts = (one: Condition): boolean =>
    noneOf.some((not) => implies(one, not)) || allOf.some((other) => disjoint(one, other));
  return allOf.some(contradicts) || (anyOf.length > 0 && anyOf.every(contradicts));
}

/** Whatever the one holds for, the other holds for. Sound, not complete. */
export function isWithin(one: When, other: When): boolean {
  const certain = (wanted: Condition): boolean =>
    one.allOf.some((given) => implies(given, wanted)) ||
    (one.anyOf.length > 0 && one.anyOf.every((given) => implies(given, wanted)));
  return (
    other.allOf.every(certain) &&
    (other.anyOf.length === 0 ||
      other.anyOf.some(certain) ||
      (one.anyOf.length > 0 && one.anyOf.every((given) => other.anyOf.some((wanted) => implies(given, wanted))))) &&
    other.noneOf.every(
      (unwanted) =>
        one.noneOf.some((not) => implies(unwanted, not)) || one.allOf.some((given) => disjoint(given, unwanted)),
    )
  );
}

export type Warning =
  | { kind: 'never-acts'; rule: string }
  /** Whenever `rule` acts, `by` acts and asks as much. */
  | { kind: 'swallowed'; rule: string; by: string }
  /** Together they leave no lock for anybody, wherever both act. */
  | { kind: 'no-lock-left'; rule: string; and: string }
  /** They leave no way to lock a file: in one container and in another, or by an agreed password and a new one. */
  | { kind: 'no-way-left'; rule: string; and: string };

/** Each of them leaves something to choose from, and both together nothing. */
function leavesNone(one: Demand, other: Demand, choices: (demand: Demand) => readonly (readonly string[])[]): boolean {
  const together = choices(join(one, other));
  const isOpen = (demand: Demand, index: number): boolean => choices(demand)[index]!.length > 0;
  return together.some((left, index) => left.length === 0 && isOpen(one, index) && isOpen(other, index));
}

/** What is the matter with a set of rules, for whoever makes them; `off` ones are looked at as if they were on. */
export function warningsOf(rules: readonly Rule[]): Warning[] {
  const warnings: Warning[] = [];
  const sound = rules.filter((rule) => {
    const never = isImpossible(rule.when);
    if (never) warnings.push({ kind: 'never-acts', rule: rule.id });
    return !never;
  });
  const demands = new Map(sound.map((rule) => [rule.id, demandOfRule(rule)]));
  for (const [index, rule] of sound.entries())
    for (const [place, other] of sound.entries()) {
      if (index === place) continue;
      const [mine, theirs] = [demands.get(rule.id)!, demands.get(other.id)!];
      const permits = rule.effects.some(isPermission);
      // Of two that are the same, the later is swallowed.
      const isSame = index < place && isWithin(other.when, rule.when) && asksAtLeast(mine, theirs);
      if (!permits && !isSame && isWithin(rule.when, other.when) && asksAtLeast(theirs, mine))
        warnings.push({ kind: 'swallowed', rule: rule.id, by: other.id });
      if (index < place && leavesNone(mine, theirs, ({ locks }) => [locks]))
        warnings.push({ kind: 'no-lock-left', rule: rule.id, and: other.id });
      if (index < place && leavesNone(mine, theirs, ({ ways: { containers, passwords } }) => [containers, passwords]))
        warnings.push({ kind: 'no-way-left', rule: rule.id, and: other.id });
    }
  return warnings;
}
