/**
 * A password for somebody's locked files: made here, or typed as it was agreed, with how hard it is to guess and how it
 * reaches them.
 */
import { type Telling } from '@under-lock/core/ways/file-way';
import { type PasswordKind } from '@under-lock/core/ways/password-kind';
import { passwordProblem, type PasswordProblem } from '@under-lock/core/passwords/minimum';
import { Button, Check, Choice, Field, Row, space, Stack, Text } from '@under-lock/ui';
import { useCallback, useEffect, useState } from 'react';
import { StyleSheet } from 'react-native';
import useSWR from 'swr';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { passwordProblemWords, strengthWords, tellingWords } from './words';

export interface ChosenPassword {
  password: string;
  guesses: number;
  telling: Telling;
  remember: boolean;
}

/** Made here, or agreed with them. */
type Source = 'made' | 'agreed';

interface Props {
  who: string;
  /** What whoever guesses would try first. */
  known: readonly string[];
  leastGuesses: number;
  kind: PasswordKind;
  telling: Telling;
  remember: boolean;
  /** A rule wants one that they have already. */
  agreedOnly?: boolean;
  onUse: (chosen: ChosenPassword) => Promise<void>;
  onCancel?: (() => void) | undefined;
}

function useGuesses(password: string, known: readonly string[]): number | undefined {
  const { data } = useSWR(
    password === '' ? null : ['password-guesses', password, ...known],
    () => keysDoor().file.guesses(password, known),
    { keepPreviousData: false, revalidateOnFocus: false },
  );
  return data;
}

/** Words or signs drawn at random, and others in their place as often as one likes. `onError` stays the same. */
function useMadePassword(usualKind: PasswordKind, onError: (sentence: string) => void) {
  const [kind, setKind] = useState(usualKind);
  const [made, setMade] = useState('');
  const draw = useCallback(
    (wanted: PasswordKind): void =>
      void keysDoor()
        .file.newPassword(wanted)
        .then(setMade, (cause: unknown) => onError(problemWords(cause))),
    [onError],
  );
  useEffect(() => draw(usualKind), [draw, usualKind]);
  const another = (wanted: PasswordKind): void => {
    setKind(wanted);
    draw(wanted);
  };
  return { kind, made, another };
}

function MadePassword({ who, kind, made, another }: ReturnType<typeof useMadePassword> & { who: string }) {
  return (
    <>
      <Choice
        row
        label="Made of"
        value={kind}
        onChange={another}
        options={[
          { value: 'words', label: 'Words' },
          { value: 'characters', label: 'Characters' },
        ]}
      />
      <Text kind="mono" selectable>
        {made === '' ? '…' : made}
      </Text>
      <Row>
        <Button
          kind="quiet"
          label="Another one"
          describe={`Another one: a password for ${who}`}
          onPress={() => another(kind)}
        />
      </Row>
    </>
  );
}

interface TypedProps {
  who: string;
  typed: string;
  onType: (text: string) => void;
  problem: PasswordProblem | undefined;
  onEnter: () => void;
}

const TypedPassword = ({ who, typed, onType, problem, onEnter }: TypedProps) => (
  <Field
    label={`The password agreed with ${who}`}
    value={typed}
    onChangeText={onType}
    code
    autoCapitalize="none"
    autoCorrect={false}
    spellCheck={false}
    autoComplete="off"
    maxLength={100}
    error={problem === undefined ? undefined : passwordProblemWords[problem]}
    onSubmitEditing={onEnter}
  />
);

interface HandedProps {
  who: string;
  source: Source;
  value: Telling;
  onChange: (telling: Telling) => void;
}

const Handed = ({ who, source, value, onChange }: HandedProps) => (
  <Choice
    label={`How ${who} gets it`}
    value={value}
    onChange={onChange}
    options={(source === 'made' ? (['phone', 'text'] as const) : (['agreed', 'phone', 'text'] as const)).map((one) => ({
      value: one,
      label: tellingWords[one],
    }))}
  />
);

/** What was made just now nobody can have; what was agreed they have, unless it is said otherwise. */
function tellingFor(source: Source, usual: Telling, chosen: Telling | undefined): Telling {
  if (chosen !== undefined && !(source === 'made' && chosen === 'agreed')) return chosen;
  return source === 'agreed' ? 'agreed' : usual === 'agreed' ? 'phone' : usual;
}

/** What is chosen so far, and whether it will do. */
function useChosen({ known, leastGuesses, kind, telling, agreedOnly = false, onUse, remember: usual }: Props) {
  const [source, setSource] = useState<Source>(agreedOnly ? 'agreed' : 'made');
  const [typed, setTyped] = useState('');
  const [chosenTelling, setTelling] = useState<Telling | undefined>();
  const [remember, setRemember] = useState(usual);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const making = useMadePassword(kind, setError);
  const password = source === 'made' ? making.made : typed.normalize('NFC');
  const guesses = useGuesses(password, known);
  const problem = source === 'agreed' && typed !== '' ? passwordProblem(typed) : undefined;
  const isReady = password !== '' && problem === undefined && guesses !== undefined && guesses >= leastGuesses;
  const said = tellingFor(source, telling, chosenTelling);
  const use = async (): Promise<void> => {
    if (!isReady || busy) return;
    setBusy(true);
    setError(undefined);
    try {
      await onUse({ password, guesses, telling: said, remember });
    } catch (cause) {
      setError(problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  const strength = guesses === undefined || problem !== undefined ? undefined : strengthWords(guesses, leastGuesses);
  return {
    ...{ source, setSource, typed, setTyped, making, problem, strength },
    ...{ said, setTelling, remember, setRemember, busy, error, isReady, use },
  };
}

export function PasswordForm(props: Props) {
  const { who, agreedOnly = false, onCancel } = props;
  const { source, making, strength, error, ...form } = useChosen(props);
  return (
    <Stack style={styles.form}>
      {agreedOnly ? null : (
        <Choice
          row
          label={`Password for ${who}`}
          value={source}
          onChange={form.setSource}
          options={[
            { value: 'made', label: 'Make one' },
            { value: 'agreed', label: 'One we agreed' },
          ]}
        />
      )}
      {source === 'made' ? (
        <MadePassword who={who} {...making} />
      ) : (
        <TypedPassword
          who={who}
          typed={form.typed}
          onType={form.setTyped}
          problem={form.problem}
          onEnter={() => void form.use()}
        />
      )}
      {strength === undefined ? null : (
        <Text
          kind="small"
          tone={strength.tone}
          aria-live="polite"
        >{`${strength.tone === 'sea' ? '●' : '▲'} ${strength.text}`}</Text>
      )}
      {agreedOnly ? null : <Handed who={who} source={source} value={form.said} onChange={form.setTelling} />}
      <Check
        label="Keep it in the password book"
        detail="Sealed in your vault. Otherwise it is gone when the message has left"
        value={form.remember}
        onChange={form.setRemember}
      />
      {error === undefined ? null : <Text kind="small" tone="brick">{`■ ${error}`}</Text>}
      <Row>
        <Button
          label="Use this password"
          describe={`Use this password for ${who}`}
          onPress={() => void form.use()}
          disabled={!form.isReady}
          busy={form.busy}
        />
        {onCancel === undefined ? null : (
          <Button
            kind="quiet"
            label="Leave it"
            describe={`Leave it: the password for ${who} stays`}
            onPress={onCancel}
          />
        )}
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.s } });
