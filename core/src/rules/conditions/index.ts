/** All kinds of conditions. A further one is an entry of this list. */
import { z } from 'zod';
import { type Facts } from '../facts';
import { type ConditionKind, type Names } from './kind';
import {
  answering,
  fileCount,
  fileIs,
  fileNamed,
  findingIs,
  headerIs,
  presetIs,
  saysWords,
  taggedWith,
} from './message';
import { recipientAmong, recipientAt, recipientCount, recipientIs, senderIs } from './people';

export const conditionSchema = z.discriminatedUnion('kind', [
  recipientIs.schema,
  recipientAt.schema,
  recipientAmong.schema,
  recipientCount.schema,
  senderIs.schema,
  presetIs.schema,
  taggedWith.schema,
  saysWords.schema,
  findingIs.schema,
  fileIs.schema,
  fileNamed.schema,
  fileCount.schema,
  answering.schema,
  headerIs.schema,
]);
export type Condition = z.infer<typeof conditionSchema>;

const KINDS = {
  'recipient-is': recipientIs,
  'recipient-at': recipientAt,
  'recipient-among': recipientAmong,
  'recipient-count': recipientCount,
  'sender-is': senderIs,
  'preset-is': presetIs,
  'tagged-with': taggedWith,
  'says-words': saysWords,
  'finding-is': findingIs,
  'file-is': fileIs,
  'file-named': fileNamed,
  'file-count': fileCount,
  answering,
  'header-is': headerIs,
} satisfies { [Kind in Condition['kind']]: unknown };

/** The kind's functions for one of its values: which of the list it is, the value itself says. */
const kindOf = ({ kind }: Condition): ConditionKind<z.ZodType> => KINDS[kind] as unknown as ConditionKind<z.ZodType>;

export const has = (condition: Condition, facts: Facts): boolean => kindOf(condition).has(condition, facts);

/** Whatever has the one has the other. Sound, not complete. */
export const implies = (one: Condition, other: Condition): boolean =>
  one.kind === other.kind && kindOf(one).implies(one, other);

/** Nothing has both. Sound, not complete. */
export const disjoint = (one: Condition, other: Condition): boolean =>
  one.kind === other.kind && kindOf(one).disjoint(one, other);

export const describe = (condition: Condition, names: Names): string => kindOf(condition).describe(condition, names);
