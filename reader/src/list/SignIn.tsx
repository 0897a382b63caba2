/** Signing in to a list, and what a forgotten password means, said before it is replaced. */
import { checkAddress } from '@under-lock/core/people/address';
import { Banner, Button, Field, Heading, PasswordField, Row, Stack, Text, TextButton } from '@under-lock/ui';
import { useState } from 'react';
import { words } from '../words/words';
import { askForReset, reset, type Session, signIn } from './account';
import { DigitsForm } from './DigitsForm';
import { sayProblem } from './problems';
import { listWords } from './words';

/** What signing in asks for; the sender's view of it gives itself the answers. */
export interface SignInDoor {
  signIn(address: string, password: string): Promise<Session>;
  askForReset(address: string): Promise<{ resendAt: Date }>;
  reset(address: string, code: string, password: string): Promise<Session>;
}
const realDoor: SignInDoor = { signIn, askForReset, reset };

interface Props {
  title: string;
  level?: 1 | 2;
  address?: string;
  door?: SignInDoor;
  onSignedIn: (session: Session) => void;
}

export function SignIn({ title, level = 1, address: known = '', door = realDoor, onSignedIn }: Props) {
  const [address, setAddress] = useState(known);
  const [password, setPassword] = useState('');
  const [error, setError] = useState<string | undefined>();
  const [addressError, setAddressError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const [forgotten, setForgotten] = useState(false);
  if (forgotten)
    return (
      <Reset door={door} level={level} address={address} onCancel={() => setForgotten(false)} onSignedIn={onSignedIn} />
    );
  const submit = async (): Promise<void> => {
    const checked = checkAddress(address);
    setAddressError(checked.ok ? undefined : words.addressNotRight);
    if (!checked.ok) return;
    setBusy(true);
    setError(undefined);
    try {
      onSignedIn(await door.signIn(checked.address, password));
    } catch (problem) {
      setError(sayProblem(problem));
      setBusy(false);
    }
  };
  return (
    <Stack>
      <Heading level={level}>{title}</Heading>
      <Text tone="soft">{listWords.signInHint}</Text>
      <Field
        label={listWords.address}
        value={address}
        onChangeText={setAddress}
        inputMode="email"
        autoCapitalize="none"
        autoComplete="username"
        maxLength={254}
        error={addressError}
      />
      <PasswordField
        show={listWords.show}
        hide={listWords.hidePassword}
        label={listWords.password}
        value={password}
        onChangeText={setPassword}
        autoComplete="current-password"
        onSubmitEditing={() => void submit()}
        error={error}
      />
      <Row>
        <Button kind="main" label={listWords.signIn} onPress={() => void submit()} busy={busy} />
      </Row>
      <Row>
        <TextButton label={listWords.forgot} onPress={() => setForgotten(true)} />
      </Row>
    </Stack>
  );
}

function Reset({
  door,
  level,
  address: known,
  onCancel,
  onSignedIn,
}: {
  door: SignInDoor;
  level: 1 | 2;
  address: string;
  onCancel: () => void;
  onSignedIn: (session: Session) => void;
}) {
  const [address, setAddress] = useState(known);
  const [sent, setSent] = useState<{ address: string; resendAt: Date } | undefined>();
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const ask = async (): Promise<void> => {
    const checked = checkAddress(address);
    if (!checked.ok) return setError(words.addressNotRight);
    setBusy(true);
    setError(undefined);
    try {
      setSent({ address: checked.address, ...(await door.askForReset(checked.address)) });
    } catch (problem) {
      setError(sayProblem(problem));
    } finally {
      setBusy(false);
    }
    return undefined;
  };
  return (
    <Stack>
      <Heading level={level}>{listWords.resetTitle}</Heading>
      <Banner tone="amber">{listWords.resetWarning}</Banner>
      {sent === undefined ? (
        <>
          <Field
            label={listWords.address}
            value={address}
            onChangeText={setAddress}
            inputMode="email"
            autoCapitalize="none"
            autoComplete="username"
            maxLength={254}
            error={error}
            onSubmitEditing={() => void ask()}
          />
          <Row>
            <Button kind="main" label={listWords.resetSend} onPress={() => void ask()} busy={busy} />
            <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={busy} />
          </Row>
        </>
      ) : (
        <DigitsForm
          address={sent.address}
          sentHint={listWords.resetSent(sent.address)}
          resendAt={sent.resendAt}
          label={listWords.resetSet}
          onResend={() => door.askForReset(sent.address)}
          onSubmit={async (code, password) => onSignedIn(await door.reset(sent.address, code, password))}
          onCancel={onCancel}
        />
      )}
    </Stack>
  );
}
