/** A registered reader's own page: what is held for them, what they wrote, and their account. */
import { Button, Loading, Outcome, Row, space, Stack } from '@under-lock/ui';
import { useCallback, useEffect, useState } from 'react';
import { StyleSheet } from 'react-native';
import { Frame } from '../Frame';
import { words } from '../words/words';
import { lookAround, type Session } from './account';
import { AccountPanel } from './AccountPanel';
import { HeldList } from './HeldList';
import { DevicesPanel, LanguagePanel, TakeAlongPanel } from './OwnPanels';
import { SignIn } from './SignIn';
import { listWords } from './words';
import { WrittenList } from './WrittenList';

type State =
  | { at: 'looking' }
  | { at: 'sign-in' }
  | { at: 'open'; session: Session }
  | { at: 'over'; said: string }
  | { at: 'offline' };

export function ListPage() {
  const [state, setState] = useState<State>({ at: 'looking' });
  const [office, setOffice] = useState<{ officeName: string; colour: string } | undefined>();
  const look = useCallback(() => {
    lookAround().then(
      (found) => {
        setOffice(found);
        setState(found.session === undefined ? { at: 'sign-in' } : { at: 'open', session: found.session });
      },
      () => setState({ at: 'offline' }),
    );
  }, []);
  useEffect(look, [look]);
  const signedOut = useCallback(() => setState({ at: 'sign-in' }), []);
  const session = state.at === 'open' ? state.session : undefined;
  return (
    <Frame
      officeName={office?.officeName}
      colour={office?.colour}
      title={session === undefined ? undefined : listWords.forAddress(session.reader.address)}
    >
      {body()}
    </Frame>
  );

  function body() {
    switch (state.at) {
      case 'looking':
        return <Loading what={listWords.loading} />;
      case 'sign-in':
        return <SignIn title={listWords.signInList} onSignedIn={(next) => setState({ at: 'open', session: next })} />;
      case 'open':
        return (
          <Stack style={styles.parts}>
            <HeldList session={state.session} onSignedOut={signedOut} />
            <WrittenList session={state.session} />
            <LanguagePanel session={state.session} />
            <DevicesPanel session={state.session} />
            <TakeAlongPanel session={state.session} officeName={office?.officeName ?? ''} />
            <AccountPanel session={state.session} onOver={(said) => setState({ at: 'over', said })} onChanged={look} />
          </Stack>
        );
      case 'over':
        return (
          <Outcome
            form="○"
            title={state.said}
            actions={
              <Row>
                <Button label={listWords.signIn} onPress={signedOut} />
              </Row>
            }
          />
        );
      case 'offline':
        return (
          <Outcome
            form="▲"
            title={words.offlineTitle}
            actions={
              <Row>
                <Button
                  label={words.tryAgain}
                  onPress={() => {
                    setState({ at: 'looking' });
                    look();
                  }}
                />
              </Row>
            }
          >
            {words.offline}
          </Outcome>
        );
    }
  }
}

const styles = StyleSheet.create({ parts: { gap: space.xl } });
