/** What a rule is tried on before it is switched on: messages made up for it, each with whether it should act. */
import { listExamples, removePolicyItem } from '@under-lock/contract/rules';
import { fromBase64 } from '@under-lock/core/bytes';
import { EXAMPLE_FILE, exampleFacts } from '@under-lock/core/outgoing/example';
import { type Looked } from '@under-lock/core/outgoing/looked';
import { type Example, type Policy } from '@under-lock/core/rules/policy';
import { type Rule, unmet } from '@under-lock/core/rules/rule';
import { Banner, Line, Panel, Result, Row, Section, space, StateMark, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import useSWR from 'swr';
import { api } from '../api';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { useColleagues, useOffice } from '../session/useOffice';
import { useAttempt } from '../shell/useAttempt';
import { scanDoor } from '../threads/scan/door';
import { ExampleForm } from './ExampleForm';
import { conditionForm } from './forms/conditions';
import { type Names } from './forms/part';

/** What the scan sees in an example. */
async function looked({ subject, text, file }: Example, { words, patterns }: Policy): Promise<Looked> {
  const lists = { words, patterns };
  const inside = file && (await scanDoor().bytes({ name: file.name, bytes: fromBase64(file.base64) }, lists));
  const open = await scanDoor().message({ subject, text, fileNames: file === undefined ? [] : [file.name] }, lists);
  return {
    open: [...open, ...(inside?.seen ?? [])],
    passed: [],
    files: new Map(inside === undefined ? [] : [[EXAMPLE_FILE, inside]]),
  };
}

/** Why the rule does not act, in a few words; undefined when it acts. */
function useWhyNot(
  example: Example,
  rule: Rule,
  policy: Policy,
  names: Names,
): { known: boolean; why?: string | undefined } {
  const { account } = useOpenSession();
  const { data: office } = useOffice();
  const { data: colleagues } = useColleagues();
  const { data: seen } = useSWR(['example', JSON.stringify(example), policy.version], () => looked(example, policy), {
    revalidateOnFocus: false,
    keepPreviousData: false,
  });
  if (seen === undefined || office === undefined || colleagues === undefined) return { known: false };
  const reason = unmet(rule.when, exampleFacts(example, seen, policy, { office, colleagues, account }));
  if (reason === undefined) return { known: true };
  if (reason.in === 'anyOf') return { known: true, why: 'none of several is so' };
  const form = conditionForm(reason.condition);
  const said = `${form.label} ${form.said(reason.condition, names).join(', ')}`;
  return { known: true, why: reason.in === 'allOf' ? `not so: ${said}` : `excepted: ${said}` };
}

interface LineProps {
  example: Example;
  rule: Rule;
  policy: Policy;
  names: Names;
  last: boolean;
  onChange: () => void;
}

function ExampleLine({ example, rule, policy, names, last, onChange }: LineProps) {
  const { known, why } = useWhyNot(example, rule, policy, names);
  const [editing, setEditing] = useState(false);
  const { said, attempt } = useAttempt();
  const acts = why === undefined;
  const isRight = acts === example.acts;
  const remove = (): void =>
    void attempt(async () => {
      await api(removePolicyItem, { params: { id: example.id } });
      onChange();
    });
  return (
    <Line last={last} role="listitem" aria-label={example.name}>
      <Row style={styles.between}>
        <View style={styles.words}>
          <Text>{example.name}</Text>
          <Text kind="small" tone="soft">{`should ${example.acts ? 'act' : 'not act'}`}</Text>
        </View>
        {!known ? (
          <Text kind="small" tone="soft" aria-live="polite">
            Trying
          </Text>
        ) : (
          <StateMark
            tone={isRight ? 'done' : 'stopped'}
            word={isRight ? 'as expected' : acts ? 'it acts' : 'it does not act'}
          />
        )}
      </Row>
      {known && !isRight && why !== undefined ? <Text kind="small">{`Not acting, ${why}.`}</Text> : null}
      <Result said={said} />
      {editing ? (
        <ExampleForm
          example={example}
          names={names}
          onKept={() => {
            setEditing(false);
            onChange();
          }}
          onCancel={() => setEditing(false)}
        />
      ) : (
        <Row>
          <TextButton label="Change" describe={`Change: ${example.name}`} onPress={() => setEditing(true)} />
          <TextButton label="Remove" describe={`Remove: ${example.name}`} onPress={remove} />
        </Row>
      )}
    </Line>
  );
}

const freshFor = (rule: string): Example => ({
  id: crypto.randomUUID(),
  rule,
  name: '',
  acts: true,
  to: ['somebody@elsewhere.example'],
  subject: '',
  text: '',
  as: 'new',
  isNew: false,
  hasNoLock: false,
});

export function Examples({
  rule,
  policy,
  names,
  isKept,
}: Omit<LineProps, 'example' | 'last' | 'onChange'> & { isKept: boolean }) {
  const { data, error, mutate } = useSWR(
    isKept ? ['examples', rule.id] : null,
    async () => (await api(listExamples, { params: { id: rule.id } })).examples,
  );
  const [adding, setAdding] = useState<Example | undefined>();
  const again = (): void => void mutate();
  return (
    <Section
      title="Examples"
      aside={
        isKept && adding === undefined ? (
          <TextButton label="Add an example" onPress={() => setAdding(freshFor(rule.id))} />
        ) : undefined
      }
    >
      <Panel>
        {error === undefined ? null : (
          <Line last>
            <Banner tone="brick">{problemWords(error)}</Banner>
          </Line>
        )}
        {data === undefined || data.length === 0 ? (
          <Line last={adding === undefined}>
            <Text kind="small" tone="soft">
              {isKept
                ? 'None yet. An example is a message made up for this rule, with whether it should act on it; each is tried whenever the rule changes.'
                : 'Keep the rule first; then make up messages on which it should act, and on which it should not.'}
            </Text>
          </Line>
        ) : (
          <View role="list" aria-label="Examples">
            {data.map((example, index) => (
              <ExampleLine
                key={example.id}
                {...{ example, rule, policy, names }}
                last={index === data.length - 1 && adding === undefined}
                onChange={again}
              />
            ))}
          </View>
        )}
        {adding === undefined ? null : (
          <Line last>
            <ExampleForm
              example={adding}
              names={names}
              onKept={() => {
                setAdding(undefined);
                again();
              }}
              onCancel={() => setAdding(undefined)}
            />
          </Line>
        )}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start', gap: space.m },
  words: { flexShrink: 1, minWidth: 0 },
});
