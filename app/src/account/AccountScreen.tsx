import {
  changePassword,
  endOtherSessions,
  listSessions,
  replaceRecoveryCode,
  setOwnPhone,
} from '@under-lock/contract/account';
import { isProblem } from '@under-lock/contract/problem';
import { inOneLine } from '@under-lock/core/in-one-line';
import { momentInWords } from '@under-lock/core/when';
import {
  Button,
  Choice,
  Dialog,
  Line,
  Loading,
  OnEnter,
  Panel,
  PasswordField,
  Result,
  Row,
  type Said,
  Section,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { told } from '../live/live';
import { useOffice } from '../session/useOffice';
import { phoneOf } from '../phone/phone-value';
import { ClosingWordsPanel } from './ClosingWordsPanel';
import { PhoneInput } from '../phone/PhoneInput';
import { problemWords } from '../problem-words';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { door } from '../threads/main/door';
import { IDLE_CHOICES, idleMinutes, setIdleMinutes } from '../session/idle';
import { NewPassword, weakPasswordProblem } from '../session/NewPassword';
import { RecoveryCode } from '../session/RecoveryCode';
import { OnThisDevice } from './OnThisDevice';
import { ToldPanel } from './ToldPanel';
import { leave, lock, refreshSession, useOpenSession } from '../session/session';

const wrongCurrent = (error: unknown): boolean =>
  isProblem(error, 'wrong-password') || (error instanceof Error && error.name === 'SealError');

function PasswordPanel() {
  const session = useOpenSession();
  const [current, setCurrent] = useState('');
  const [pair, setPair] = useState({ first: '', second: '' });
  const [busy, setBusy] = useState(false);
  const [message, setMessage] = useState<Said | undefined>();
  const submit = async (): Promise<void> => {
    const problem = await weakPasswordProblem(pair, session.account.address);
    if (problem !== undefined) return setMessage({ tone: 'brick', text: problem });
    setBusy(true);
    try {
      const made = await door().account.changePassword(
        session.account.id,
        current,
        session.hashing,
        session.wrappedSecret,
        pair.first,
      );
      await api(changePassword, { body: made });
      setCurrent('');
      setPair({ first: '', second: '' });
      setMessage({ tone: 'sea', text: 'Your password is changed. Your other devices have been signed out.' });
      await refreshSession();
    } catch (error) {
      setMessage({ tone: 'brick', text: wrongCurrent(error) ? 'The current password is wrong.' : problemWords(error) });
    } finally {
      setBusy(false);
    }
    return undefined;
  };
  return (
    <Section title="Password">
      <Panel>
        <Line last>
          <Stack>
            <OnEnter does={busy || current === '' ? undefined : () => void submit()}>
              <PasswordField
                label="Current password"
                value={current}
                onChangeText={setCurrent}
                autoComplete="current-password"
              />
              <NewPassword pair={pair} onChange={setPair} />
            </OnEnter>
            <Result said={message} />
            <Row>
              <Button label="Change password" onPress={() => void submit()} busy={busy} disabled={current === ''} />
            </Row>
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}

function RecoveryPanel() {
  const session = useOpenSession();
  const [asking, setAsking] = useState(false);
  const [current, setCurrent] = useState('');
  const [busy, setBusy] = useState(false);
  const [code, setCode] = useState<string | undefined>();
  const [error, setError] = useState<string | undefined>();
  const close = (): void => {
    setAsking(false);
    setCurrent('');
    setCode(undefined);
    setError(undefined);
  };
  const make = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      const made = await door().account.replaceRecoveryCode(
        session.account.id,
        current,
        session.hashing,
        session.wrappedSecret,
      );
      await api(replaceRecoveryCode, { body: { currentAuthKey: made.currentAuthKey, recovery: made.recovery } });
      setCode(made.code);
    } catch (cause) {
      setError(wrongCurrent(cause) ? 'The current password is wrong.' : problemWords(cause));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Section title="Recovery code">
      <Panel>
        <Line last>
          <Text>It opens your vault when the password is forgotten. A new code makes the old one worthless.</Text>
          <Row>
            <Button label="Make a new code" onPress={() => setAsking(true)} />
          </Row>
        </Line>
      </Panel>
      <Dialog
        title={code === undefined ? 'New recovery code' : 'Keep your recovery code'}
        open={asking}
        onClose={close}
        actions={
          code === undefined ? (
            <>
              <Button
                kind="main"
                label="Make the code"
                onPress={() => void make()}
                busy={busy}
                disabled={current === ''}
              />
              <Button label="Cancel" onPress={close} />
            </>
          ) : null
        }
      >
        {code === undefined ? (
          <Stack>
            <OnEnter does={busy || current === '' ? undefined : () => void make()}>
              <PasswordField
                label="Current password"
                value={current}
                onChangeText={setCurrent}
                autoComplete="current-password"
                error={error}
              />
            </OnEnter>
          </Stack>
        ) : (
          <RecoveryCode code={code} address={session.account.address} onDone={close} />
        )}
      </Dialog>
    </Section>
  );
}

function DevicesPanel() {
  const now = useNow();
  const { data } = useSWR('sessions', async () => (await api(listSessions)).sessions, { use: [told('account')] });
  const others = (data ?? []).filter(({ current }) => !current).length;
  return (
    <Section title="Signed in on">
      <Panel>
        {data === undefined ? (
          <Loading what="Looking for your devices" />
        ) : (
          data.map((one, index) => (
            <Line key={one.id} last={index === data.length - 1 && others === 0}>
              <Row>
                <Text kind="strong">{one.device}</Text>
                {one.current ? <StateMark tone="done" word="This one" /> : null}
              </Row>
              <Text
                kind="small"
                tone="soft"
              >{`Since ${momentInWords(one.createdAt, now, zone)}, last used ${momentInWords(one.lastSeenAt, now, zone)}`}</Text>
            </Line>
          ))
        )}
        {others === 0 ? null : (
          <Line last>
            <Row>
              <Button
                kind="stop"
                label="Sign out everywhere else"
                onPress={() => void api(endOtherSessions).then(() => mutate('sessions'))}
              />
            </Row>
          </Line>
        )}
      </Panel>
    </Section>
  );
}

function PhonePanel() {
  const session = useOpenSession();
  const [value, setValue] = useState(phoneOf(session.account.phone));
  const [message, setMessage] = useState<Said | undefined>();
  const save = async (): Promise<void> => {
    if (value.typed.trim() !== '' && value.e164 === undefined)
      return setMessage({ tone: 'brick', text: 'The number is not complete. Correct it or leave it empty.' });
    try {
      await api(setOwnPhone, { body: value.e164 === undefined ? {} : { phone: value.e164 } });
      await refreshSession();
      setMessage({ tone: 'sea', text: 'Kept.' });
    } catch (error) {
      setMessage({ tone: 'brick', text: problemWords(error) });
    }
    return undefined;
  };
  return (
    <Section title="Your own phone">
      <Panel>
        <Line last>
          <Stack>
            <OnEnter does={() => void save()}>
              <PhoneInput
                label="Mobile number"
                value={value}
                onChange={setValue}
                hint="Known here so that a recipient’s passcode is never sent to you by mistake."
              />
            </OnEnter>
            <Result said={message} />
            <Row>
              <Button label="Keep the number" onPress={() => void save()} />
            </Row>
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}

function IdlePanel() {
  const [minutes, setMinutes] = useState(String(idleMinutes()));
  return (
    <Panel>
      <Line last>
        <Choice
          label="Lock my vault on this device after"
          value={minutes}
          onChange={(value) => {
            setMinutes(value);
            setIdleMinutes(Number(value));
          }}
          options={IDLE_CHOICES.map((choice) => ({
            value: String(choice),
            label: `${choice} minutes without a touch`,
          }))}
        />
      </Line>
    </Panel>
  );
}

export function AccountScreen() {
  const session = useOpenSession();
  const { data: office } = useOffice();
  const { account } = session;
  return (
    <Screen title="Account">
      <Panel>
        <Line last>
          <Text kind="strong">{account.name}</Text>
          <Text tone="soft">{inOneLine(account.title, account.address)}</Text>
          <Row>
            <Button label="Lock my vault" onPress={() => void lock(session)} />
            <Button label="Sign out" onPress={() => void leave()} />
            {office?.outsideUrl === undefined ? null : (
              <Button label="Outside world" onPress={() => router.push('/outside')} />
            )}
          </Row>
        </Line>
      </Panel>
      <PhonePanel />
      <ToldPanel />
      <ClosingWordsPanel />
      <PasswordPanel />
      <RecoveryPanel />
      <Section title="Mail programs">
        <Panel>
          <Line last>
            <Text>Send under lock from the mail program you know.</Text>
            <WayLink href="/account/programs" label="Mail programs" forward />
          </Line>
        </Panel>
      </Section>
      <DevicesPanel />
      <OnThisDevice />
      <Section title="Idle lock">
        <IdlePanel />
      </Section>
    </Screen>
  );
}
