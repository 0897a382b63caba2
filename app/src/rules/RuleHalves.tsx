/** A rule as two framed halves: when it acts, and what it then asks at least. */
import { type Condition } from '@under-lock/core/rules/conditions/index';
import { type Effect } from '@under-lock/core/rules/demand';
import { type Rule, type When } from '@under-lock/core/rules/rule';
import { border, colour, Field, Panel, space, Stack, Text } from '@under-lock/ui';
import { Columns } from '@under-lock/ui/columns';
import { StyleSheet } from 'react-native';
import { ChosenList } from './Chosen';
import { CONDITION_KINDS, conditionForm } from './forms/conditions';
import { EFFECT_KINDS, effectForm } from './forms/effects';
import { type Names } from './forms/part';
import { type RuleProblems } from './rule-edit';

const LISTS = [
  {
    part: 'allOf',
    title: 'When all of this is so',
    none: 'Nothing: it acts on every message.',
    add: 'Add a condition',
  },
  { part: 'anyOf', title: 'and one of this', add: 'Add one of several' },
  { part: 'noneOf', title: 'and none of this', add: 'Add an exception' },
] as const;

interface Props {
  rule: Rule;
  names: Names;
  problems: RuleProblems | undefined;
  onChange: (change: Partial<Rule>) => void;
}
const NONE: ReadonlyMap<number, string> = new Map();

export const RuleHalves = ({ rule, names, problems, onChange }: Props) => (
  <Columns room="even">
    <Panel style={styles.half}>
      {LISTS.map(({ part, title, add, ...rest }) => (
        <ChosenList<Condition>
          key={part}
          title={title}
          add={add}
          {...('none' in rest ? { none: rest.none } : {})}
          names={names}
          formOf={conditionForm}
          values={rule.when[part]}
          choices={CONDITION_KINDS.map((kind) => conditionForm({ kind }))}
          problems={problems?.[part] ?? NONE}
          onChange={(values) => onChange({ when: { ...rule.when, [part]: values } satisfies When })}
        />
      ))}
    </Panel>
    <Panel style={[styles.half, styles.then]}>
      <ChosenList<Effect>
        title="then at least"
        add="Add what it asks"
        names={names}
        formOf={effectForm}
        values={rule.effects}
        choices={EFFECT_KINDS.map((kind) => effectForm({ kind }))}
        problems={problems?.each ?? NONE}
        onChange={(effects) => onChange({ effects })}
      />
      {problems?.effects === undefined ? null : <Text kind="small" tone="brick">{`■ ${problems.effects}`}</Text>}
      <Stack style={styles.sentence}>
        <Field
          label="Workers read"
          value={rule.sentence}
          onChangeText={(sentence) => onChange({ sentence: sentence.replace(/[\r\n]+/g, ' ') })}
          maxLength={300}
          multiline
          hint="One sentence: what it asks, and why."
          error={problems?.sentence}
        />
      </Stack>
    </Panel>
  </Columns>
);

const styles = StyleSheet.create({
  half: { padding: space.l, gap: space.m },
  then: { borderLeftWidth: border.bar, borderLeftColor: colour.sea },
  sentence: { paddingTop: space.s },
});
