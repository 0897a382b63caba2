/** The account: out of it, another password, and gone for good. */
import { isProblem } from '@under-lock/contract/problem';
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { Button, Dialog, PasswordField, Result, Row, type Said, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { words } from '../words/words';
import { changePassword, forget, type Session, signOut } from './account';
import { NewPassword, newPasswordProblem } from './NewPassword';
import { sayProblem } from './problems';
import { listWords } from './words';

interface Props {
  session: Session;
  onOver: (said: string) => void;
  onChanged: () => void;
}

export function AccountPanel({ session, onOver, onChanged }: Props) {
  const [open, setOpen] = useState<'password' | 'forget' | undefined>();
  const [said, setSaid] = useState<Said | undefined>();
  return (
    <Section title={listWords.account}>
      <Stack>
        <Result said={said} />
        {open === 'password' ? (
          <ChangePassword
            session={session}
            onCancel={() => setOpen(undefined)}
            onDone={() => {
              setOpen(undefined);
              setSaid({ tone: 'sea', text: listWords.passwordChanged });
              onChanged();
            }}
          />
        ) : (
          <Row>
            <Button
              label={listWords.signOut}
              onPress={() =>
                void signOut().then(
                  () => onOver(listWords.signedOut),
                  (error: unknown) => setSaid({ tone: 'brick', text: sayProblem(error) }),
                )
              }
            />
            <Button
              kind="quiet"
              label={listWords.changePassword}
              onPress={() => {
                setSaid(undefined);
                setOpen('password');
              }}
            />
            <Button
              kind="quiet"
              label={listWords.forget}
              onPress={() => {
                setSaid(undefined);
                setOpen('forget');
              }}
            />
          </Row>
        )}
        <Text kind="small" tone="soft">
          {listWords.signOutHint}
        </Text>
        {open === 'forget' ? (
          <Forget session={session} onCancel={() => setOpen(undefined)} onDone={() => onOver(listWords.forgotten)} />
        ) : null}
      </Stack>
    </Section>
  );
}

/** A wrong current password shows in this browser (what it unwraps does not open) or at the server. */
const sayWrong = (error: unknown): string =>
  isProblem(error, 'wrong-password') || (error instanceof Error && error.name === 'SealError')
    ? listWords.wrongCurrent
    : sayProblem(error);

function ChangePassword({ session, onCancel, onDone }: { session: Session; onCancel: () => void; onDone: () => void }) {
  const [current, setCurrent] = useState('');
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [errors, setErrors] = useState<{ current?: string; pair?: string }>({});
  const [busy, setBusy] = useState(false);
  const submit = async (): Promise<void> => {
    const problem = newPasswordProblem(pair, session.reader.address);
    setErrors(problem === undefined ? {} : { pair: problem });
    if (problem !== undefined) return;
    setBusy(true);
    try {
      await changePassword(session, current, pair.first);
      onDone();
    } catch (error) {
      setErrors({ current: sayWrong(error) });
      setBusy(false);
    }
  };
  return (
    <Stack>
      <PasswordField
        show={listWords.show}
        hide={listWords.hidePassword}
        label={listWords.currentPassword}
        value={current}
        onChangeText={setCurrent}
        autoComplete="current-password"
        autoFocus
        error={errors.current}
      />
      <NewPassword pair={pair} onChange={setPair} error={errors.pair} />
      <Row>
        <Button kind="main" label={listWords.changePassword} onPress={() => void submit()} busy={busy} />
        <Button kind="quiet" label={words.cancel} onPress={onCancel} disabled={busy} />
      </Row>
    </Stack>
  );
}

function Forget({ session, onCancel, onDone }: { session: Session; onCancel: () => void; onDone: () => void }) {
  const [password, setPassword] = useState('');
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const submit = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      await forget(session, password);
      onDone();
    } catch (problem) {
      setError(sayWrong(problem));
      setBusy(false);
    }
  };
  return (
    <Dialog
      title={listWords.forgetTitle}
      open
      onClose={onCancel}
      actions={
        <>
          <Button
            kind="stop"
            label={listWords.forget}
            onPress={() => void submit()}
            busy={busy}
            disabled={password === ''}
          />
          <Button label={words.cancel} onPress={onCancel} />
        </>
      }
    >
      <Text>{listWords.forgetHint}</Text>
      <PasswordField
        show={listWords.show}
        hide={listWords.hidePassword}
        label={listWords.currentPassword}
        value={password}
        onChangeText={setPassword}
        autoComplete="current-password"
        error={error}
      />
    </Dialog>
  );
}
