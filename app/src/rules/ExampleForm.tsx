/** An example being made up: to whom, what it says, a file, and whether the rule should act on it. */
import { putPolicyItem } from '@under-lock/contract/rules';
import { toBase64 } from '@under-lock/core/bytes';
import { type Example, exampleSchema } from '@under-lock/core/rules/policy';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Check, Choice, Field, Result, Row, space, Stack, Text, TextButton } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';
import { type Names } from './forms/part';

const MOST_BYTES = 200_000;
const AS = { new: 'A new message', reply: 'An answer', forward: 'Passed on' } as const;

/** A file of its own, small and made up. */
function ExampleFile({ file, onChange }: { file: Example['file']; onChange: (file: Example['file']) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [error, setError] = useState<string | undefined>();
  const take = async (chosen: File | undefined): Promise<void> => {
    setError(undefined);
    if (chosen === undefined) return;
    if (chosen.size > MOST_BYTES)
      setError(
        `“${chosen.name}” is ${sizeInWords(chosen.size)}; an example’s file has ${sizeInWords(MOST_BYTES)} at most.`,
      );
    else onChange({ name: chosen.name.slice(0, 200), base64: toBase64(new Uint8Array(await chosen.arrayBuffer())) });
  };
  return (
    <View>
      <input
        ref={input}
        type="file"
        hidden
        aria-label="File of the example"
        onChange={({ target }) => {
          void take(target.files?.[0]);
          target.value = '';
        }}
      />
      <Row>
        {file === undefined ? (
          <Button label="Add a file" onPress={() => input.current?.click()} />
        ) : (
          <>
            <Text kind="small">{file.name}</Text>
            <TextButton label="Remove the file" onPress={() => onChange(undefined)} />
          </>
        )}
      </Row>
      {error === undefined ? null : <Text kind="small" tone="brick">{`■ ${error}`}</Text>}
    </View>
  );
}

/** What kind of message it is, and the preset it goes under. */
const ExampleKind = ({
  value,
  names,
  onChange,
}: {
  value: Example;
  names: Names;
  onChange: (change: Partial<Example>) => void;
}) => (
  <>
    <View role="radiogroup" aria-label="It is">
      <Row>
        {(Object.keys(AS) as (keyof typeof AS)[]).map((one) => (
          <Chip key={one} as="radio" label={AS[one]} on={value.as === one} onPress={() => onChange({ as: one })} />
        ))}
      </Row>
    </View>
    {names.presets.length === 0 ? null : (
      <View role="radiogroup" aria-label="Goes under">
        <Row>
          {names.presets.map((one) => (
            <Chip
              key={one.value}
              as="radio"
              label={one.label}
              on={value.presetId === one.value}
              onPress={() => onChange({ presetId: one.value })}
            />
          ))}
        </Row>
      </View>
    )}
  </>
);

interface Props {
  example: Example;
  names: Names;
  onKept: () => void;
  onCancel: () => void;
}

export function ExampleForm({ example, names, onKept, onCancel }: Props) {
  const [value, setValue] = useState(example);
  const [to, setTo] = useState(example.to.join(', '));
  const { busy, said, say, attempt } = useAttempt();
  const set = (change: Partial<Example>): void => setValue((before) => ({ ...before, ...change }));
  const refuse = (text: string): void => say({ tone: 'brick', text });
  const keep = (): void => {
    const whole = { ...value, to: to.split(/[\s,;]+/).filter((one) => one !== '') };
    if (whole.name.trim() === '') return refuse('Give it a name: what it is an example of.');
    if (!exampleSchema.safeParse(whole).success) return refuse('Say whom it goes to, an address at least.');
    return void attempt(async () => {
      await api(putPolicyItem, {
        params: { id: whole.id },
        body: { item: { kind: 'example', value: whole }, over: 0 },
      });
      onKept();
    });
  };
  return (
    <Stack style={styles.form}>
      <Text kind="small" tone="soft">
        Make it up: examples are kept where administrators can read them.
      </Text>
      <Field label="Name of the example" value={value.name} onChangeText={(name) => set({ name })} maxLength={80} />
      <Choice
        label="The rule should"
        row
        value={value.acts ? 'act' : 'not act'}
        options={[
          { value: 'act', label: 'act' },
          { value: 'not act', label: 'not act' },
        ]}
        onChange={(acts) => set({ acts: acts === 'act' })}
      />
      <Field label="Goes to" value={to} onChangeText={setTo} autoCapitalize="none" />
      <Field label="Its subject" value={value.subject} onChangeText={(subject) => set({ subject })} maxLength={300} />
      <Field label="Its text" value={value.text} onChangeText={(text) => set({ text })} multiline maxLength={20_000} />
      <ExampleFile
        file={value.file}
        onChange={(file) => setValue(({ file: _, ...before }) => (file === undefined ? before : { ...before, file }))}
      />
      <ExampleKind value={value} names={names} onChange={set} />
      <Check label="They were never written to before" value={value.isNew} onChange={(isNew) => set({ isNew })} />
      <Check
        label="They have no lock of their own"
        value={value.hasNoLock}
        onChange={(hasNoLock) => set({ hasNoLock })}
      />
      <Result said={said} />
      <Row>
        <Button kind="main" label="Keep the example" onPress={keep} busy={busy} />
        <Button label="Cancel" onPress={onCancel} />
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.m } });
