/** A password that somebody else chose for what they send: taken as it is, however weak. */
import { Button, PasswordField, Row, space, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';

export function TheirPassword({
  who,
  onKeep,
}: {
  who: string;
  onKeep: (password: string, guesses: number) => Promise<void>;
}) {
  const [password, setPassword] = useState('');
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const keep = async (): Promise<void> => {
    if (password === '' || busy) return;
    setBusy(true);
    setError(undefined);
    try {
      const normal = password.normalize('NFC');
      await onKeep(normal, await keysDoor().file.guesses(normal, [who]));
    } catch (cause) {
      setError(problemWords(cause));
    }
    setBusy(false);
  };
  return (
    <Stack style={styles.form}>
      <PasswordField
        label={`Password for what ${who} sends`}
        value={password}
        onChangeText={setPassword}
        autoComplete="off"
        maxLength={200}
        error={error}
        onSubmitEditing={() => void keep()}
      />
      <Row>
        <Button
          label="Keep it"
          describe={`Keep it: the password for what ${who} sends`}
          onPress={() => void keep()}
          disabled={password === ''}
          busy={busy}
        />
      </Row>
    </Stack>
  );
}

const styles = StyleSheet.create({ form: { gap: space.s } });
