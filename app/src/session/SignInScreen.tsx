import { Button, Field, PasswordField, Result, Row } from '@under-lock/ui';
import { useState } from 'react';
import { isProblem } from '@under-lock/contract/problem';
import { useOffice } from './useOffice';
import { problemWords } from '../problem-words';
import { WayLink } from '../shell/WayLink';
import { Entrance } from './Entrance';
import { signInWith } from './session';

export function SignInScreen() {
  const { data: office } = useOffice();
  const [address, setAddress] = useState('');
  const [password, setPassword] = useState('');
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const submit = async (): Promise<void> => {
    if (address.trim() === '' || password === '') return setError('Type your office address and your password.');
    setBusy(true);
    setError(undefined);
    try {
      await signInWith(address.trim(), password);
    } catch (problem) {
      setError(isProblem(problem, 'wrong-password') ? 'Address or password is wrong.' : problemWords(problem));
      setBusy(false);
    }
    return undefined;
  };
  return (
    <Entrance
      title="Sign in"
      lead="Your password stays in this browser. It opens your vault here; the server only learns that it was right."
      footer={
        <Row>
          <WayLink href="/recover" label="Forgotten your password?" forward />
          {office?.outsideUrl === undefined ? null : (
            <WayLink href="/outside" label="Look at the outside world" forward />
          )}
        </Row>
      }
    >
      <Field
        label="Office address"
        value={address}
        onChangeText={setAddress}
        inputMode="email"
        autoComplete="username"
        autoCapitalize="none"
        autoFocus
        onSubmitEditing={() => void submit()}
      />
      <PasswordField
        label="Password"
        value={password}
        onChangeText={setPassword}
        autoComplete="current-password"
        onSubmitEditing={() => void submit()}
      />
      <Result said={error} />
      <Button kind="main" label="Sign in" onPress={() => void submit()} busy={busy} />
    </Entrance>
  );
}
