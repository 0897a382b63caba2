import { type Session } from '@under-lock/contract/account';
import { Button, PasswordField, Result } from '@under-lock/ui';
import { useState } from 'react';
import { Entrance } from './Entrance';
import { leave, unlock } from './session';

export function UnlockScreen({ session }: { session: Session }) {
  const [password, setPassword] = useState('');
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const submit = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      await unlock(session, password);
    } catch {
      setError('That password does not open your vault.');
      setBusy(false);
    }
  };
  return (
    <Entrance
      title="Your vault is locked"
      lead={`${session.account.name}, you are still signed in. Type your password to go on; drafts are kept.`}
    >
      <PasswordField
        label="Password"
        value={password}
        onChangeText={setPassword}
        autoComplete="current-password"
        autoFocus
        onSubmitEditing={() => void submit()}
      />
      <Result said={error} />
      <Button kind="main" label="Open my vault" onPress={() => void submit()} busy={busy} disabled={password === ''} />
      <Button kind="quiet" label="Sign out" onPress={() => void leave()} />
    </Entrance>
  );
}
