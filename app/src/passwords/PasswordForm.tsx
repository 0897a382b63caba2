/**
 * A password for somebody's locked files: made here, or typed as it was agreed, with how hard it is to guess and how it
 * reaches them.
 */
import { type Telling } from '@under-lock/core/ways/file-way';
import { type PasswordKind } from '@under-lock/core/ways/password-kind';
import { passwordProblem } from '@under-lock/core/passwords/minimum';
import { Button, Check, Choice, Field, Row, space, Stack, Text } from '@under-lock/ui';
import { useEffect, useState } from 'react';
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

export function PasswordForm({
  who,
  known,
  leastGuesses,
  kind: usualKind,
  telling: usualTelling,
  remember: usualRemember,
  agreedOnly = false,
  onUse,
  onCancel,
}: Props) {
  const [source, setSource] = useState<'made' | 'agreed'>(agreedOnly ? 'agreed' : 'made');
  const [kind, setKind] = useState(usualKind);
  const [made, setMade] = useState('');
  const [typed, setTyped] = useState('');
  const [chosenTelling, setTelling] = useState<Telling | undefined>();
  const [remember, setRemember] = useState(usualRemember);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const password = source === 'made' ? made : typed.normalize('NFC');
  const guesses = useGuesses(password, known);
  const another = (wanted: PasswordKind): void =>
    void keysDoor()
      .file.newPassword(wanted)
      .then(setMade, (cause: unknown) => setError(problemWords(cause)));
  useEffect(() => another(usualKind), [usualKind]);
  const problem = source === 'agreed' && typed !== '' ? passwordProblem(typed) : undefined;
  const strength = guesses === undefined || problem !== undefined ? undefined : strengthWords(guesses, leastGuesses);
  const isReady = password !== '' && problem === undefined && guesses !== undefined && guesses >= leastGuesses;
  // What was made just now nobody can have; what was agreed they have, unless it is said otherwise.
  const usual: Telling = source === 'agreed' ? 'agreed' : usualTelling === 'agreed' ? 'phone' : usualTelling;
  const said: Telling =
    chosenTelling === undefined || (source === 'made' && chosenTelling === 'agreed') ? usual : chosenTelling;
  const use = async (): Promise<void> => {
    if (!isReady || busy) return;
    setBusy(true);
    setError(undefined);
    try {
      await onUse({ password, guesses: guesses!, telling: said, remember });
    } catch (cause) {
      setError(problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Stack style={styles.form}>
      {agreedOnly ? null : (
        <Choice
          row
          label={`Password for ${who}`}
          value={source}
          onChange={setSource}
          options={[
            { value: 'made', label: 'Make one' },
            { value: 'agreed', label: 'One we agreed' },
          ]}
        />
      )}
      {source === 'made' ? (
        <>
          <Choice
            row
            label="Made of"
            value={kind}
            onChange={(next) => {
              setKind(next);
              another(next);
            }}
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
      ) : (
        <Field
          label={`The password agreed with ${who}`}
          value={typed}
          onChangeText={setTyped}
          code
          autoCapitalize="none"
          autoCorrect={false}
          spellCheck={false}
          autoComplete="off"
          maxLength={100}
          error={problem === undefined ? undefined : passwordProblemWords[problem]}
          onSubmitEditing={() => void use()}
        />
      )}
      {strength === undefined ? null : (
        <Text
          kind="small"
          tone={strength.tone}
          aria-live="polite"
        >{`${strength.tone === 'sea' ? '●' : '▲'} ${strength.text}`}</Text>
      )}
      {agreedOnly ? null : (
        <Choice
          label={`How ${who} gets it`}
          value={said}
          onChange={setTelling}
          options={(source === 'made' ? (['phone', 'text'] as const) : (['agreed', 'phone', 'text'] as const)).map(
            (value) => ({ value, label: tellingWords[value] }),
          )}
        />
      )}
      <Check
        label="Keep it in the password book"
        detail="Sealed in your vault. Otherwise it is gone when the message has left"
        value={remember}
        onChange={setRemember}
      />
      {error === undefined ? null : <Text kind="small" tone="brick">{`■ ${error}`}</Text>}
      <Row>
        <Button
          label="Use this password"
          describe={`Use this password for ${who}`}
          onPress={() => void use()}
          disabled={!isReady}
          busy={busy}
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
