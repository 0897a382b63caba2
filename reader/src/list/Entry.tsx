/** A message opened without its link: the sign-in brings the share, and is the identity check where it is enough. */
import { isProblem } from '@under-lock/contract/problem';
import { Button, Heading, Loading, Stack, Text } from '@under-lock/ui';
import { useCallback, useEffect, useRef, useState } from 'react';
import { type Visit } from '../address';
import { currentSession, enter, type Session } from './account';
import { toList } from './places';
import { SignIn } from './SignIn';
import { listWords } from './words';

interface Props {
  grantId: string;
  onEntered: (visit: Visit) => void;
  onProblem: (error: unknown) => void;
}

export function Entry({ grantId, onEntered, onProblem }: Props) {
  // Whoever is told may be drawn anew meanwhile: that is no reason to look again.
  const told = useRef({ onEntered, onProblem });
  told.current = { onEntered, onProblem };
  const [state, setState] = useState<'looking' | 'sign-in' | 'needs-link'>('looking');
  const go = useCallback(
    (session: Session) =>
      enter(session, grantId).then(
        (visit) => told.current.onEntered(visit),
        (error: unknown) => {
          if (isProblem(error, 'not-found')) setState('needs-link');
          else told.current.onProblem(error);
        },
      ),
    [grantId],
  );
  useEffect(() => {
    currentSession().then(
      (session) => (session === undefined ? setState('sign-in') : go(session)),
      (error: unknown) => told.current.onProblem(error),
    );
  }, [go]);
  switch (state) {
    case 'looking':
      return <Loading what={listWords.loading} />;
    case 'sign-in':
      return <SignIn title={listWords.signInTitle} onSignedIn={(session) => void go(session)} />;
    case 'needs-link':
      return (
        <Stack>
          <Heading level={1}>{`■ ${listWords.needsLink}`}</Heading>
          <Text>{listWords.needsLinkHint}</Text>
          <Button label={listWords.toList} onPress={toList} />
        </Stack>
      );
  }
}
