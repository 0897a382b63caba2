/** Beside a message that was opened by its link: put it into one's list, or set a password to have one. */
import { isProblem } from '@under-lock/contract/problem';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { Banner, Button, Result, Row, Section, Stack, Text } from '@under-lock/ui';
import { useCallback, useEffect, useState } from 'react';
import { words } from '../words/words';
import { type KeepDoor, type Session } from './account';
import { DigitsForm } from './DigitsForm';
import { sayProblem } from './problems';
import { SignIn } from './SignIn';
import { listWords } from './words';

interface Props {
  door: KeepDoor;
  reader: Correspondent;
  subject: string;
}
type At =
  | { at: 'looking' }
  | { at: 'offer' }
  | { at: 'digits'; resendAt: Date }
  | { at: 'sign-in' }
  | { at: 'kept'; fresh: boolean }
  | { at: 'nothing' };

/** Where the message stands with one's list, and the ways on from there. */
function useKeeping({ door, reader, subject }: Props) {
  const [state, setState] = useState<At>({ at: 'looking' });
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const put = useCallback(
    async (session: Session, fresh = false) => {
      await door.keep(session, subject);
      setState({ at: 'kept', fresh });
    },
    [door, subject],
  );
  useEffect(() => {
    door
      .currentSession()
      .then(async (session) => {
        if (session === undefined) setState({ at: 'offer' });
        // Somebody else's list is not for this message.
        else if (addressKey(session.reader.address) !== addressKey(reader.address)) setState({ at: 'nothing' });
        else await put(session);
      })
      // Without it the message can be read all the same.
      .catch(() => setState({ at: 'nothing' }));
  }, [door, put, reader.address]);
  const begin = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      const { registered, resendAt } = await door.askForDigits();
      setState(registered ? { at: 'sign-in' } : { at: 'digits', resendAt });
    } catch (problem) {
      if (isProblem(problem, 'passcode-too-soon'))
        setState({ at: 'digits', resendAt: new Date(problem.details.until ?? Date.now()) });
      else setError(sayProblem(problem));
    } finally {
      setBusy(false);
    }
  };
  const offer = (): void => setState({ at: 'offer' });
  const signIn = (): void => setState({ at: 'sign-in' });
  const signedIn = (session: Session): Promise<void> =>
    put(session).catch((problem: unknown) => {
      setError(sayProblem(problem));
      offer();
    });
  return { state, error, busy, put, begin, offer, signIn, signedIn };
}

export function KeepPanel(props: Props) {
  const { door, reader } = props;
  const { state, error, busy, put, begin, offer, signIn, signedIn } = useKeeping(props);
  switch (state.at) {
    case 'looking':
    case 'nothing':
      return null;
    case 'kept':
      return (
        <Banner tone="sea" actions={<Button label={listWords.toList} onPress={() => door.toList()} />}>
          {state.fresh ? listWords.registered : listWords.kept}
        </Banner>
      );
    case 'offer':
      return (
        <Section title={listWords.registerTitle}>
          <Stack>
            <Text kind="small" tone="soft">
              {listWords.registerHint}
            </Text>
            <Result said={error} />
            <Row>
              <Button label={listWords.registerStart} onPress={() => void begin()} busy={busy} />
              <Button kind="quiet" label={listWords.signIn} onPress={signIn} />
            </Row>
          </Stack>
        </Section>
      );
    case 'digits':
      return (
        <Section title={listWords.registerTitle}>
          <DigitsForm
            address={reader.address}
            sentHint={listWords.registerSend(reader.address)}
            resendAt={state.resendAt}
            label={listWords.registerSet}
            onResend={() => door.askForDigits()}
            onSubmit={async (code, password) => put(await door.register(code, password), true)}
            onCancel={offer}
          />
        </Section>
      );
    case 'sign-in':
      return (
        <Section title={listWords.registerTitle}>
          <Stack>
            <SignIn
              title={listWords.signInList}
              level={2}
              address={reader.address}
              onSignedIn={(session) => void signedIn(session)}
            />
            <Row>
              <Button kind="quiet" label={words.cancel} onPress={offer} />
            </Row>
          </Stack>
        </Section>
      );
  }
}
