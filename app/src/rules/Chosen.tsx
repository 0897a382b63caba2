/** One half of a rule: what has been chosen, each a label with its values, opening to where it is changed; and what can be added. */
import { border, Button, colour, Heading, radius, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { type Form, type Names } from './forms/part';
import { ValueForm } from './forms/ValueForm';

interface Common<T> {
  names: Names;
  formOf: (value: T) => Form<T>;
}

interface ChosenProps<T> extends Common<T> {
  value: T;
  problem: string | undefined;
  startsOpen: boolean;
  onChange: (value: T) => void;
  onRemove: () => void;
}

function Chosen<T>({ value, names, formOf, problem, startsOpen, onChange, onRemove }: ChosenProps<T>) {
  const form = formOf(value);
  const [open, setOpen] = useState(startsOpen);
  const said = form.said(value, names);
  const words = said.filter((one) => one !== '');
  return (
    <View role="listitem" style={styles.chosen}>
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={`${form.label}: ${words.length === 0 ? 'nothing chosen yet' : words.join(', ')}`}
        onPress={() => setOpen(!open)}
        style={styles.line}
      >
        <Text kind="small" tone="soft" style={styles.label}>
          {form.label}
        </Text>
        <View style={styles.values}>
          {words.length === 0 ? (
            <View style={styles.value}>
              <Text tone="amber">▲ choose</Text>
            </View>
          ) : (
            words.map((word) => (
              <View key={word} style={styles.value}>
                <Text style={styles.word}>{word}</Text>
              </View>
            ))
          )}
        </View>
      </Pressable>
      {problem === undefined ? null : <Text kind="small" tone="brick">{`■ ${problem}`}</Text>}
      {open && form.parts.length > 0 ? (
        <Stack style={styles.form}>
          <ValueForm form={form} value={value} names={names} onChange={onChange} />
        </Stack>
      ) : null}
      {open ? (
        <Row>
          {form.parts.length === 0 ? null : (
            <TextButton label="Done" describe={`Done: ${form.label}`} onPress={() => setOpen(false)} />
          )}
          <TextButton label="Remove" describe={`Remove: ${form.label} ${words.join(', ')}`} onPress={onRemove} />
        </Row>
      ) : null}
    </View>
  );
}

/** @param choices What can be added, each with its form. */
function Adding<T>({
  label,
  choices,
  onAdd,
}: {
  label: string;
  choices: readonly Form<T>[];
  onAdd: (fresh: T) => void;
}) {
  const [choosing, setChoosing] = useState(false);
  if (!choosing)
    return (
      <Row>
        <TextButton label={label} onPress={() => setChoosing(true)} />
      </Row>
    );
  return (
    <Stack style={styles.choices}>
      {choices.map(({ name, fresh }) => (
        <Button
          key={name}
          label={name}
          onPress={() => {
            setChoosing(false);
            onAdd(fresh);
          }}
        />
      ))}
      <Row>
        <TextButton label="Add nothing" onPress={() => setChoosing(false)} />
      </Row>
    </Stack>
  );
}

interface ListProps<T> extends Common<T> {
  title: string;
  /** Said where nothing is chosen. */
  none?: string;
  add: string;
  values: readonly T[];
  choices: readonly Form<T>[];
  problems: ReadonlyMap<number, string>;
  onChange: (values: T[]) => void;
}

export function ChosenList<T>({ title, none, add, values, choices, problems, onChange, ...common }: ListProps<T>) {
  const [added, setAdded] = useState<number | undefined>();
  return (
    <Stack style={styles.list}>
      {values.length === 0 && none === undefined ? null : (
        <Heading level={2} kind="label" tone="soft">
          {title}
        </Heading>
      )}
      {values.length === 0 ? (
        none === undefined ? null : (
          <Text kind="small">{none}</Text>
        )
      ) : (
        <View role="list" aria-label={title}>
          {values.map((value, index) => (
            <Chosen
              key={`${index} of ${values.length}`}
              {...common}
              value={value}
              problem={problems.get(index)}
              startsOpen={index === added || problems.has(index)}
              onChange={(next) => onChange(values.map((one, place) => (place === index ? next : one)))}
              onRemove={() => {
                setAdded(undefined);
                onChange(values.filter((_, place) => place !== index));
              }}
            />
          ))}
        </View>
      )}
      <Adding
        label={add}
        choices={choices}
        onAdd={(fresh) => {
          setAdded(values.length);
          onChange([...values, fresh]);
        }}
      />
    </Stack>
  );
}

const styles = StyleSheet.create({
  list: { gap: space.xs },
  chosen: { paddingVertical: space.xs, gap: space.xs },
  line: { flexDirection: 'row', gap: space.m, minHeight: space.touch, alignItems: 'flex-start' },
  label: { width: 84, paddingTop: space.s },
  values: { flex: 1, minWidth: 0, flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
  value: {
    borderWidth: border.hair,
    borderColor: colour.sea,
    backgroundColor: colour.paleSea,
    borderRadius: radius.s,
    paddingHorizontal: space.s,
    paddingVertical: space.xs,
    maxWidth: '100%',
  },
  word: { overflowWrap: 'anywhere' } as object,
  form: { paddingLeft: space.m, borderLeftWidth: border.bar, borderLeftColor: colour.line },
  choices: { gap: space.s },
});
