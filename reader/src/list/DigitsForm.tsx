/** A new password confirmed by six digits from the mailbox: at the first visit, and after forgetting one. */
import { isProblem } from '@under-lock/contract/problem';
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { readPasscode } from '@under-lock/core/identity/passcode';
import { Banner, Button, Field, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { useSecondsUntil } from '../clock';
import { words } from '../words/words';
import { NewPassword, newPasswordProblem } from './NewPassword';
import { sayProblem } from './problems';
import { listWords } from './words';

interface Props {
  address: string;
  sentHint: string;
  resendAt: Date;
  label: string;
  onResend: () => Promise<{ resendAt: Date }>;
  onSubmit: (code: string, password: string) => Promise<void>;
  onCancel: () => void;
}

export function DigitsForm({ address, sentHint, resendAt, label, onResend, onSubmit, onCancel }: Props) {
  const [again, setAgain] = useState(resendAt);
  const wait = useSecondsUntil(again);
  const [digits, setDigits] = useState('');
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [error, setError] = useState<{ at: 'digits' | 'password' | 'form'; text: string } | undefined>();
  const [busy, setBusy] = useState(false);
  const attempt = async (task: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      await task();
    } catch (problem) {
      setError({
        at: isProblem(problem, 'wrong-code', 'passcode-expired') ? 'digits' : 'form',
        text: sayProblem(problem),
      });
    } finally {
      setBusy(false);
    }
  };
  const submit = (): void => {
    const code = readPasscode(digits);
    const problem = newPasswordProblem(pair, address);
    if (code === undefined) return setError({ at: 'digits', text: listWords.sixDigits });
    if (problem !== undefined) return setError({ at: 'password', text: problem });
    return void attempt(() => onSubmit(code, pair.first));
  };
  return (
    <Stack>
      <Text>{sentHint}</Text>
      <Field
        label={listWords.digits}
        value={digits}
        onChangeText={setDigits}
        code
        inputMode="numeric"
        autoComplete="one-time-code"
        maxLength={60}
        autoFocus
        error={error?.at === 'digits' ? error.text : undefined}
      />
      <NewPassword pair={pair} onChange={setPair} error={error?.at === 'password' ? error.text : undefined} />
      {error?.at === 'form' ? <Banner tone="brick">{error.text}</Banner> : null}
      <Row>
        <Button kind="main" label={label} onPress={submit} busy={busy} />
        <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={busy} />
      </Row>
      {wait > 0 ? (
        <Text kind="small" tone="soft">
          {listWords.digitsAgainIn(wait)}
        </Text>
      ) : (
        <Row>
          <Button
            label={listWords.sendAgain}
            disabled={busy}
            onPress={() => void attempt(async () => setAgain((await onResend()).resendAt))}
          />
        </Row>
      )}
    </Stack>
  );
}
