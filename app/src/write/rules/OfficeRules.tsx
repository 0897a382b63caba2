/** The rules of the office that act on this draft: what each says, what it asks, and what its writer has to do. */
import { MAX_WORDS } from '@under-lock/core/release/paper';
import { type Rule } from '@under-lock/core/rules/rule';
import { border, Button, colour, Field, Row, Section, space, Stack, Text } from '@under-lock/ui';
import { StyleSheet, View } from 'react-native';
import { capitalised } from '@under-lock/core/first-letter';
import { listed } from '../../handling/words';
import { effectAsks } from '../../rules/words';
import { type Writing } from '../useWriting';

type Acting = Pick<Writing, 'desk' | 'draft' | 'presets'> & { rule: Rule };

/** Said elsewhere, with what settles it. */
const SETTLED_BELOW = new Set(['stop', 'ask']);

function Question({ sentence, desk, draft: { confirmed = [] } }: Acting & { sentence: string }) {
  const isConfirmed = confirmed.includes(sentence);
  const set = (next: string[]): void => desk.change((before) => ({ ...before, confirmed: next }));
  return (
    <View style={styles.settle}>
      <Text kind="small" tone={isConfirmed ? 'sea' : 'brick'}>{`${isConfirmed ? '● Yes:' : '■'} ${sentence}`}</Text>
      <Row>
        {isConfirmed ? (
          <Button
            kind="quiet"
            label="Take it back"
            describe={`Take back: ${sentence}`}
            onPress={() => set(confirmed.filter((one) => one !== sentence))}
          />
        ) : (
          <Button
            label="Yes, send it"
            describe={`Yes, send it: ${sentence}`}
            onPress={() => set([...confirmed, sentence])}
          />
        )}
      </Row>
    </View>
  );
}

function ActingRule(acting: Acting) {
  const { rule, presets } = acting;
  const presetName = (id: string): string => presets.find((one) => one.id === id)?.name ?? 'a preset';
  const asks = rule.effects.flatMap((effect) => (SETTLED_BELOW.has(effect.kind) ? [] : effectAsks(effect, presetName)));
  return (
    <View role="listitem" aria-label={rule.name} style={styles.rule}>
      <Text kind="strong">{rule.name}</Text>
      <Text>{rule.sentence}</Text>
      {asks.length === 0 ? null : <Text kind="small" tone="soft">{`${capitalised(asks.join('; '))}.`}</Text>}
      {rule.effects.map((effect) =>
        effect.kind === 'stop' ? (
          <Text key={effect.sentence} kind="small" tone="brick">{`■ It can’t go like this: ${effect.sentence}`}</Text>
        ) : effect.kind === 'ask' ? (
          <Question key={effect.sentence} {...acting} sentence={effect.sentence} />
        ) : null,
      )}
    </View>
  );
}

export function OfficeRules(writing: Writing) {
  const { planned, policy, draft, set } = writing;
  const acted = new Set((planned.verdict?.acted ?? []).map(({ rule }) => rule.id));
  const acting = policy.rules.filter(({ id }) => acted.has(id));
  if (acting.length === 0) return null;
  const { needs } = planned.verdict!.demand;
  return (
    <Section title="Rules of the office" aside={acting.length === 1 ? '1 rule acts' : `${acting.length} rules act`}>
      <Stack style={styles.rules}>
        <View role="list" aria-label="Rules of the office">
          {acting.map((rule) => (
            <ActingRule key={rule.id} {...writing} rule={rule} />
          ))}
        </View>
        {needs.includes('reference') ? (
          <Field
            label="Reference number"
            describe="Reference number, as a rule asks"
            value={draft.reference}
            onChangeText={(reference) => set({ reference: reference.replace(/[\r\n]+/g, ' ') })}
            maxLength={100}
            code
          />
        ) : null}
        {needs.includes('reason') ? (
          <Field
            label="Reason"
            value={draft.reason ?? ''}
            onChangeText={(reason) => set({ reason: reason.replace(/[\r\n]+/g, ' ') })}
            maxLength={300}
            multiline
            hint="Why it goes out as it does. The office can read it."
          />
        ) : null}
        {planned.releasers === undefined || planned.releasers.length === 0 ? null : (
          <Field
            label="Note to whoever releases it"
            value={draft.releaseNote ?? ''}
            onChangeText={(releaseNote) => set({ releaseNote })}
            maxLength={MAX_WORDS}
            multiline
            hint={`${listed(
              planned.releasers.map(({ name }) => name),
              'or',
            )} will read the message, and this note, before it leaves.`}
          />
        )}
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({
  rules: { gap: space.m },
  rule: {
    gap: border.strong,
    paddingVertical: space.s,
    paddingLeft: space.m,
    borderLeftWidth: border.bar,
    borderLeftColor: colour.sea,
    marginBottom: space.s,
  },
  settle: { gap: space.xs, paddingTop: space.xs },
});
