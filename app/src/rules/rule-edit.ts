/** A rule while it is being made: what is still wrong with it, and where. */
import { conditionSchema } from '@under-lock/core/rules/conditions/index';
import { effectSchema } from '@under-lock/core/rules/demand';
import { type Rule } from '@under-lock/core/rules/rule';
import { type z } from 'zod';

export const newRule = (id: string): Rule => ({
  id,
  name: '',
  sentence: '',
  state: 'tried',
  when: { allOf: [], anyOf: [], noneOf: [] },
  effects: [],
});

export interface RuleProblems {
  name?: string;
  sentence?: string;
  effects?: string;
  allOf: ReadonlyMap<number, string>;
  anyOf: ReadonlyMap<number, string>;
  noneOf: ReadonlyMap<number, string>;
  each: ReadonlyMap<number, string>;
}

const GENERAL = 'Choose a value.';

/** What a schema says of each, in a sentence of ours. */
const problemsOf = (schema: z.ZodType, values: readonly unknown[]): ReadonlyMap<number, string> =>
  new Map(
    values.flatMap((value, index) => {
      const parsed = schema.safeParse(value);
      if (parsed.success) return [];
      const [issue] = parsed.error.issues;
      const where = issue?.path[0];
      const at = typeof issue?.path[1] === 'number' ? issue.path[1] : undefined;
      const list = at === undefined ? undefined : (value as Record<string, unknown>)[String(where)];
      const which = Array.isArray(list) && at !== undefined ? String(list[at]) : undefined;
      return [[index, which === undefined ? GENERAL : `“${which}” can’t be taken.`] as const];
    }),
  );

export function problemsIn({ name, sentence, when, effects }: Rule): RuleProblems {
  return {
    ...(name.trim() === '' ? { name: 'Give it a name that says what it is about.' } : {}),
    ...(sentence.trim() === ''
      ? { sentence: 'Say in one sentence what it asks and why: workers read it when it acts.' }
      : {}),
    ...(effects.length === 0 ? { effects: 'Choose what it asks.' } : {}),
    allOf: problemsOf(conditionSchema, when.allOf),
    anyOf: problemsOf(conditionSchema, when.anyOf),
    noneOf: problemsOf(conditionSchema, when.noneOf),
    each: problemsOf(effectSchema, effects),
  };
}

export const isSound = ({ name, sentence, effects, ...lists }: RuleProblems): boolean =>
  name === undefined &&
  sentence === undefined &&
  effects === undefined &&
  Object.values(lists).every((one) => one.size === 0);
