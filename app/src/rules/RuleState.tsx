import { type Rule } from '@under-lock/core/rules/rule';
import { StateMark } from '@under-lock/ui';

const MARKS = {
  on: ['done', 'on'],
  tried: ['wants', 'trying'],
  off: ['over', 'off'],
} as const;

export const RuleState = ({ state }: Pick<Rule, 'state'>) => (
  <StateMark tone={MARKS[state][0]} word={MARKS[state][1]} />
);
