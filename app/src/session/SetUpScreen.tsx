import { lookAtInvitation } from '@under-lock/contract/account';
import { fromBase64Url } from '@under-lock/core/bytes';
import { Button, Loading, OnEnter, Result, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { noPhone } from '../phone/phone-value';
import { PhoneInput } from '../phone/PhoneInput';
import { problemWords } from '../problem-words';
import { WayLink } from '../shell/WayLink';
import { Entrance } from './Entrance';
import { NewPassword, weakPasswordProblem } from './NewPassword';
import { RecoveryCode } from './RecoveryCode';
import { setUp } from './session';

const tokenFromAddress = (): Uint8Array<ArrayBuffer> | undefined => {
  const text = window.location.hash.slice(1);
  return /^[\w-]{43}$/.test(text) ? fromBase64Url(text) : undefined;
};

export function SetUpScreen() {
  const [token] = useState(tokenFromAddress);
  const { data: invited, error: refused } = useSWR(
    token === undefined ? null : 'invitation',
    () => api(lookAtInvitation, { body: { token: token! } }),
    { revalidateOnFocus: false, shouldRetryOnError: false },
  );
  const [pair, setPair] = useState({ first: '', second: '' });
  const [phone, setPhone] = useState(noPhone);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const [made, setMade] = useState<{ code: string; enter: () => Promise<unknown> } | undefined>();

  if (token === undefined || refused !== undefined) {
    return (
      <Entrance title="This invitation is not valid" footer={<WayLink href="/desk" label="Go to the sign-in" />}>
        <Text>It has been used, has run out, or the link is not complete. Ask your administrator for a new one.</Text>
      </Entrance>
    );
  }
  if (invited === undefined)
    return (
      <Entrance title="Set up your account">
        <Loading what="Looking at your invitation" />
      </Entrance>
    );
  if (made !== undefined) {
    return (
      <Entrance title="Keep your recovery code">
        <RecoveryCode
          code={made.code}
          address={invited.address}
          onDone={() => void made.enter().then(() => router.replace('/desk'))}
        />
      </Entrance>
    );
  }
  const submit = async (): Promise<void> => {
    const problem =
      (await weakPasswordProblem(pair, invited.address, [invited.name])) ??
      (phone.typed.trim() !== '' && phone.e164 === undefined
        ? 'The phone number is not complete. Correct it or leave it out.'
        : undefined);
    setError(problem);
    if (problem !== undefined) return;
    setBusy(true);
    try {
      setMade(await setUp(token, invited.id, pair.first, phone.e164));
    } catch (cause) {
      setError(problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Entrance
      title="Set up your account"
      lead={`Welcome, ${invited.name} (${invited.address}). Choose the password that opens your vault. It never leaves your browser.`}
    >
      <OnEnter does={busy ? undefined : () => void submit()}>
        <NewPassword pair={pair} onChange={setPair} />
        <PhoneInput
          label="Your mobile number"
          value={phone}
          onChange={setPhone}
          hint="If you like: so that a recipient’s passcode is never sent to you by mistake."
        />
      </OnEnter>
      <Result said={error} />
      <Button kind="main" label="Set up" onPress={() => void submit()} busy={busy} />
    </Entrance>
  );
}
