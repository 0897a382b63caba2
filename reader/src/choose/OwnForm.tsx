/** Their own certificate or OpenPGP key: from a file or pasted, looked at here before anything of it is sent. */
import { type OwnChoice } from '@under-lock/core/choosing/choice';
import { type Given, type GivenProblem } from '@under-lock/core/choosing/given';
import { MOST_GIVEN } from '@under-lock/core/choosing/limits';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Row, Stack } from '@under-lock/ui';
import { useRef, useState } from 'react';
import { language } from '../words/words';
import { type FormProps } from './form';
import { TryMail } from './TryMail';
import { chooseWords } from './words';
import { zone } from '../zone';

function FromFile({ busy, onPicked }: { busy: boolean; onPicked: (file: File) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        hidden
        aria-label={chooseWords.give}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = '';
          if (file !== undefined) onPicked(file);
        }}
      />
      <Row>
        <Button label={chooseWords.give} busy={busy} onPress={() => picker.current?.click()} />
      </Row>
    </>
  );
}

export function OwnForm({ onKeep, error, ...form }: FormProps) {
  const { choosing, door, busy, attempt } = form;
  const { address } = choosing;
  const [pasted, setPasted] = useState('');
  const [tried, setTried] = useState(false);
  const [given, setGiven] = useState<Extract<Given, { choice: unknown }> | undefined>();
  const problemOf = (problem: GivenProblem): string =>
    (chooseWords.givenProblems[problem] as (address: string) => string)(address);
  const look = async (bytes: Uint8Array): Promise<Extract<Given, { choice: unknown }> | string> => {
    const found = await door.given(bytes, address);
    return 'problem' in found ? problemOf(found.problem) : found;
  };
  const bring = (file: File) =>
    attempt(async () => {
      setGiven(undefined);
      setTried(false);
      if (file.size > MOST_GIVEN) return problemOf('too-large');
      const found = await look(new Uint8Array(await file.arrayBuffer()));
      if (typeof found === 'string') return found;
      setPasted('');
      setGiven(found);
      return undefined;
    });
  const chosen = async (): Promise<OwnChoice | string> => {
    const found = given ?? (await look(new TextEncoder().encode(pasted)));
    if (typeof found === 'string') return found;
    setGiven(found);
    return found.choice;
  };
  const keep = () =>
    attempt(async () => {
      const choice = await chosen();
      if (typeof choice === 'string') return choice;
      await onKeep(choice);
      return undefined;
    });
  return (
    <Stack>
      <FromFile busy={busy} onPicked={(file) => void bring(file)} />
      <Field
        label={chooseWords.paste}
        hint={chooseWords.pasteHint}
        value={pasted}
        onChangeText={(text) => {
          setPasted(text);
          setGiven(undefined);
          setTried(false);
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
      {tried ? <Banner tone="sea">{chooseWords.tryMailHint}</Banner> : null}
      <Row>
        <TryMail {...form} choice={chosen} onTried={() => setTried(true)} />
        <Button kind="main" label={chooseWords.keep} busy={busy} onPress={() => void keep()} />
      </Row>
    </Stack>
  );
}
