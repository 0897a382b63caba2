import { isProblem } from '@under-lock/contract/problem';
import { Button, Field, Result } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { problemWords } from '../problem-words';
import { WayLink } from '../shell/WayLink';
import { Entrance } from './Entrance';
import { NewPassword, weakPasswordProblem } from './NewPassword';
import { RecoveryCode } from './RecoveryCode';
import { recover } from './session';

export function RecoverScreen() {
  const [address, setAddress] = useState('');
  const [code, setCode] = useState('');
  const [pair, setPair] = useState({ first: '', second: '' });
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const [made, setMade] = useState<{ code: string; enter: () => Promise<unknown> } | undefined>();
  if (made !== undefined) {
    return (
      <Entrance title="Keep your new recovery code" lead="The old one has been used and is worth nothing any more.">
        <RecoveryCode
          code={made.code}
          address={address}
          onDone={() => void made.enter().then(() => router.replace('/desk'))}
        />
      </Entrance>
    );
  }
  const submit = async (): Promise<void> => {
    const problem = await weakPasswordProblem(pair, address);
    setError(problem);
    if (problem !== undefined) return;
    setBusy(true);
    try {
      setMade(await recover(address.trim(), code, pair.first));
    } catch (cause) {
      if (cause instanceof Error && cause.name === 'RecoveryCodeError')
        setError('The recovery code is mistyped: seven groups of four. Compare it with your print.');
      else
        setError(isProblem(cause, 'wrong-recovery-code') ? 'Address or recovery code is wrong.' : problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Entrance
      title="Forgotten password"
      lead="With your printed recovery code you set a new password and keep everything in your vault. Every other device is signed out."
      footer={<WayLink href="/desk" label="Back to the sign-in" />}
    >
      <Field
        label="Office address"
        value={address}
        onChangeText={setAddress}
        inputMode="email"
        autoCapitalize="none"
        autoComplete="username"
      />
      <Field
        label="Recovery code"
        value={code}
        onChangeText={setCode}
        code
        autoCapitalize="characters"
        autoComplete="off"
        hint="Seven groups of four, as printed. Capitals and dashes don’t matter."
      />
      <NewPassword pair={pair} onChange={setPair} />
      <Result said={error} />
      <Button kind="main" label="Set the new password" onPress={() => void submit()} busy={busy} />
    </Entrance>
  );
}
