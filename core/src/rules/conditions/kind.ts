import { type z } from 'zod';
import { type Facts } from '../facts';

/**
 * One kind of condition. `implies(a, b)`: whatever has `a` has `b`. `disjoint(a, b)`: nothing has both. Both are sound
 * and not complete: false says that it is not known.
 */
export interface ConditionKind<Schema extends z.ZodType> {
  schema: Schema;
  has: (value: z.output<Schema>, facts: Facts) => boolean;
  implies: (one: z.output<Schema>, other: z.output<Schema>) => boolean;
  disjoint: (one: z.output<Schema>, other: z.output<Schema>) => boolean;
  /** What has to be so, as the rest of a sentence that begins with "When". */
  describe: (value: z.output<Schema>, names: Names) => string;
}

/** What ids are called by the office. */
export interface Names {
  preset: (id: string) => string;
  tag: (id: string) => string;
  list: (id: string) => string;
}

export const defineCondition = <Schema extends z.ZodType>(kind: ConditionKind<Schema>): ConditionKind<Schema> => kind;

export const isSubset = <T>(one: readonly T[], other: readonly T[]): boolean =>
  one.every((each) => other.includes(each));
export const never = (): boolean => false;

/** "a", "a or b", "a, b or c". */
export const either = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;
