/** All that the office has said of what must happen: its rules, and the words, patterns and tags they speak of. */
import { z } from 'zod';
import { patternSchema, PATTERN_LIMITS, wordListSchema, WORD_LIMITS } from '../scan/listed';
import { type Condition } from './conditions/index';
import { MAX_RULES, ruleSchema } from './rule';
import { MAX_TAGS, tagSchema } from './tags';

const MAX_EXAMPLE_FILE = 300_000; // signs of base64

/** A message made up by an administrator, on which a rule is tried: whether it should act on it. */
export const exampleSchema = z.object({
  id: z.uuid(),
  rule: z.uuid(),
  name: z.string().trim().min(1).max(80),
  acts: z.boolean(),
  to: z.array(z.string().trim().min(3).max(254)).min(1).max(200),
  subject: z.string().max(300),
  text: z.string().max(20_000),
  as: z.enum(['new', 'reply', 'forward']),
  /** What only whoever writes could know of those it goes to. */
  isNew: z.boolean(),
  hasNoLock: z.boolean(),
  presetId: z.string().max(64).optional(),
  file: z.object({ name: z.string().min(1).max(200), base64: z.base64().max(MAX_EXAMPLE_FILE) }).optional(),
});
export type Example = z.infer<typeof exampleSchema>;

/** One of them, as it is kept: each has an id of its own. */
export const policyItemSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('rule'), value: ruleSchema }),
  z.object({ kind: z.literal('words'), value: wordListSchema }),
  z.object({ kind: z.literal('pattern'), value: patternSchema }),
  z.object({ kind: z.literal('tag'), value: tagSchema }),
  z.object({ kind: z.literal('example'), value: exampleSchema }),
]);
export type PolicyItem = z.infer<typeof policyItemSchema>;
export type PolicyKind = PolicyItem['kind'];

/** How many there may be of each. */
export const MOST_OF: Record<PolicyKind, number> = {
  rule: MAX_RULES,
  words: WORD_LIMITS.lists,
  pattern: PATTERN_LIMITS.patterns,
  tag: MAX_TAGS,
  example: 1_000,
};

export const policySchema = z.object({
  /** Rises with every change of anything in it; 0 as long as nothing was ever said. */
  version: z.number().int().min(0),
  rules: z.array(ruleSchema),
  words: z.array(wordListSchema),
  patterns: z.array(patternSchema),
  tags: z.array(tagSchema),
});
export type Policy = z.infer<typeof policySchema>;

export const NO_POLICY: Policy = { version: 0, rules: [], words: [], patterns: [], tags: [] };

export const nameOfItem = ({ kind, value }: PolicyItem): string => (kind === 'tag' ? value.word : value.name);

/** Everything that a rule speaks of, conditions of all three lists. */
export const conditionsOf = (policy: Pick<Policy, 'rules'>): Condition[] =>
  policy.rules.flatMap(({ when }) => [...when.allOf, ...when.anyOf, ...when.noneOf]);

/** Whether any of them asks who was never written to. */
export const asksOfNew = (policy: Pick<Policy, 'rules'>): boolean =>
  conditionsOf(policy).some((one) => one.kind === 'recipient-is' && one.is === 'new');

/** All patterns of file names among the rules, each once. */
export const namePatterns = (policy: Pick<Policy, 'rules'>): string[] => [
  ...new Set(conditionsOf(policy).flatMap((one) => (one.kind === 'file-named' ? one.patterns : []))),
];

/** All header fields that rules ask about, each once. */
export const headersAsked = (policy: Pick<Policy, 'rules'>): string[] => [
  ...new Set(conditionsOf(policy).flatMap((one) => (one.kind === 'header-is' ? [one.name] : []))),
];

/** The rules that speak of a preset, list, pattern or tag: as long as there are any, it can't go. */
export const rulesNaming = (policy: Pick<Policy, 'rules'>, id: string): string[] =>
  policy.rules
    .filter(
      (rule) =>
        rule.effects.some((effect) => effect.kind === 'preset' && effect.presetId === id) ||
        conditionsOf({ rules: [rule] }).some(
          (one) =>
            (one.kind === 'preset-is' && one.presets.includes(id)) ||
            (one.kind === 'tagged-with' && one.tags.includes(id)) ||
            (one.kind === 'says-words' && one.lists.includes(id)),
        ),
    )
    .map(({ name }) => name);
