/** Their own certificate or OpenPGP key: from a file or pasted, looked at here before anything of it is sent. */
import { type Given, type GivenProblem, MOST_GIVEN } from '@under-lock/core/choosing/given';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Row, Stack } from '@under-lock/ui';
import { useRef, useState } from 'react';
import { language } from '../words/words';
import { type FormProps } from './form';
import { chooseWords } from './words';
import { zone } from '../zone';

export function OwnForm({ choosing: { address }, door, busy, attempt, onKeep, error }: FormProps) {
  const [pasted, setPasted] = useState('');
  const [given, setGiven] = useState<Extract<Given, { choice: unknown }> | undefined>();
  const picker = useRef<HTMLInputElement>(null);
  const problemOf = (problem: GivenProblem): string =>
    (chooseWords.givenProblems[problem] as (address: string) => string)(address);
  const look = async (bytes: Uint8Array): Promise<Extract<Given, { choice: unknown }> | string> => {
    const found = await door.given(bytes, address);
    return 'problem' in found ? problemOf(found.problem) : found;
  };
  const bring = (file: File) =>
    attempt(async () => {
      setGiven(undefined);
      if (file.size > MOST_GIVEN) return problemOf('too-large');
      const found = await look(new Uint8Array(await file.arrayBuffer()));
      if (typeof found === 'string') return found;
      setPasted('');
      setGiven(found);
      return undefined;
    });
  const keep = () =>
    attempt(async () => {
      const found = given ?? (await look(new TextEncoder().encode(pasted)));
      if (typeof found === 'string') return found;
      setGiven(found);
      await onKeep(found.choice);
      return undefined;
    });
  return (
    <Stack>
      <input
        ref={picker}
        type="file"
        hidden
        aria-label={chooseWords.give}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file !== undefined) void bring(file);
        }}
      />
      <Row>
        <Button label={chooseWords.give} busy={busy} onPress={() => picker.current?.click()} />
      </Row>
      <Field
        label={chooseWords.paste}
        hint={chooseWords.pasteHint}
        value={pasted}
        onChangeText={(text) => {
          setPasted(text);
          setGiven(undefined);
        }}
        multiline
        code
        autoCapitalize="none"
        autoCorrect={false}
      />
      {error}
      {given === undefined ? null : (
        <Banner tone="sea">
          {chooseWords.given(
            address,
            given.until === undefined ? undefined : dayInWords(given.until, new Date(), zone, language),
          )}
        </Banner>
      )}
      <Row>
        <Button kind="main" label={chooseWords.keep} busy={busy} onPress={() => void keep()} />
      </Row>
    </Stack>
  );
}
