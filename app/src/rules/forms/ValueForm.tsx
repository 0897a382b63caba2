/** The parts of one value, each with its label, to be chosen or written. */
import { Check, Choice, Field, space, Stack, Text } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { toggled } from '../../toggled';
import { type Form, type Names, type Part } from './part';

interface Props<T> {
  form: Form<T>;
  value: T;
  names: Names;
  onChange: (value: T) => void;
}

type PartOf<T, As extends Part<T>['as']> = Extract<Part<T>, { as: As }>;

const lines = (text: string): string[] =>
  text
    .split(/[\n,;]/)
    .map((one) => one.trim())
    .filter((one) => one !== '');

/** What is typed stays as it is typed; what it comes to is told at once. */
function Lines<T>({ part, value, onChange }: { part: PartOf<T, 'list'>; value: T; onChange: (value: T) => void }) {
  const [text, setText] = useState(part.get(value).join('\n'));
  return (
    <Field
      label={part.label}
      value={text}
      multiline
      hint={part.hint}
      autoCapitalize="none"
      onChangeText={(next) => {
        setText(next);
        onChange(part.set(value, lines(next)));
      }}
    />
  );
}

function Count<T>({ part, value, onChange }: { part: PartOf<T, 'number'>; value: T; onChange: (value: T) => void }) {
  const [text, setText] = useState(String(part.get(value)));
  const typed = text.trim().replace(',', '.');
  const isNumber = typed !== '' && Number.isFinite(Number(typed));
  return (
    <Field
      label={part.label}
      value={text}
      inputMode="decimal"
      code
      {...(part.hint === undefined ? {} : { hint: part.hint })}
      error={isNumber ? undefined : 'A number.'}
      onChangeText={(next) => {
        setText(next);
        onChange(part.set(value, Number(next.trim().replace(',', '.'))));
      }}
    />
  );
}

function Many<T>({
  part,
  value,
  names,
  onChange,
}: {
  part: PartOf<T, 'many'>;
  value: T;
  names: Names;
  onChange: (value: T) => void;
}) {
  const options = part.options(names);
  const chosen = part.get(value);
  return (
    <View role="group" aria-label={part.label}>
      <Text kind="label" tone="soft">
        {part.label}
      </Text>
      {options.length === 0 && part.none !== undefined ? (
        <Text kind="small">{part.none}</Text>
      ) : (
        <View style={styles.chips}>
          {options.map((option) => {
            const isOn = chosen.includes(option.value);
            return (
              <Chip
                key={option.value}
                label={option.label}
                on={isOn}
                onPress={() => onChange(part.set(value, toggled(chosen, option.value)))}
              />
            );
          })}
        </View>
      )}
    </View>
  );
}

export function ValueForm<T>({ form, value, names, onChange }: Props<T>) {
  return (
    <Stack style={styles.parts}>
      {form.parts.map((part) => {
        const common = { key: part.label, value, onChange };
        switch (part.as) {
          case 'one':
            return (
              <Choice
                key={part.label}
                label={part.label}
                options={part.options(names)}
                value={part.get(value)}
                onChange={(next) => onChange(part.set(value, next))}
              />
            );
          case 'many':
            return <Many {...common} key={part.label} part={part} names={names} />;
          case 'list':
            return <Lines {...common} key={part.label} part={part} />;
          case 'number':
            return <Count {...common} key={part.label} part={part} />;
          case 'check':
            return (
              <Check
                key={part.label}
                label={part.label}
                {...(part.detail === undefined ? {} : { detail: part.detail })}
                value={part.get(value)}
                onChange={(next) => onChange(part.set(value, next))}
              />
            );
          case 'text':
            return (
              <Field
                key={part.label}
                label={part.label}
                value={part.get(value)}
                onChangeText={(next) => onChange(part.set(value, next.replace(/[\r\n]+/g, ' ')))}
                maxLength={300}
                multiline
                hint={part.hint}
              />
            );
        }
      })}
    </Stack>
  );
}

const styles = StyleSheet.create({
  parts: { gap: space.m },
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s },
});
