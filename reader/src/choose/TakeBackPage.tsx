/** From the mail that told of a choice: what was chosen, and one press that takes it back. Nothing is changed before. */
import { lookAtChoice, takeChoiceBack } from '@under-lock/contract/choice';
import { type Reply } from '@under-lock/contract/client';
import { isProblem } from '@under-lock/contract/problem';
import { type TakeBack } from '@under-lock/core/choosing/link';
import { dayInWords } from '@under-lock/core/when';
import { Button, Heading, Loading, Outcome, Row, Stack, Text } from '@under-lock/ui';
import { useCallback, useEffect, useState } from 'react';
import { useNow } from '../clock';
import { Frame } from '../Frame';
import { client } from '../visit';
import { language, words } from '../words/words';
import { zone } from '../zone';
import { chooseWords } from './words';

type Found = Reply<typeof lookAtChoice>;
type State = { at: 'looking' | 'gone' | 'back' | 'offline' | 'failed' } | { at: 'stands'; busy: boolean };

const stateAfter = (error: unknown): State => ({
  at: isProblem(error, 'wrong-link', 'invalid-input') ? 'gone' : isProblem(error, 'unreachable') ? 'offline' : 'failed',
});

function useTakeBack(link: TakeBack | 'broken') {
  const [state, setState] = useState<State>({ at: link === 'broken' ? 'gone' : 'looking' });
  const [found, setFound] = useState<Found | undefined>();
  const look = useCallback(() => {
    if (link === 'broken') return;
    client(lookAtChoice, { params: { id: link.id }, body: { token: link.token } }).then(
      (one) => {
        setFound(one);
        setState({ at: 'stands', busy: false });
      },
      (error: unknown) => setState(stateAfter(error)),
    );
  }, [link]);
  useEffect(look, [look]);
  const takeBack = async (): Promise<void> => {
    if (link === 'broken') return;
    setState({ at: 'stands', busy: true });
    try {
      await client(takeChoiceBack, { params: { id: link.id }, body: { token: link.token } });
      setState({ at: 'back' });
    } catch (error) {
      setState(stateAfter(error));
    }
  };
  return { state, found, look, takeBack };
}

export function TakeBackPage({ link }: { link: TakeBack | 'broken' }) {
  const { state, found, look, takeBack } = useTakeBack(link);
  const now = useNow();
  return (
    <Frame officeName={found?.officeName} colour={found?.colour}>
      {body()}
    </Frame>
  );

  function body() {
    switch (state.at) {
      case 'looking':
        return <Loading what={words.loading} />;
      case 'gone':
        return (
          <Outcome title={chooseWords.backGoneTitle} form="○">
            {chooseWords.backGone}
          </Outcome>
        );
      case 'back':
        return (
          <Outcome title={chooseWords.backTitle} form="●">
            {chooseWords.takenBack}
          </Outcome>
        );
      case 'offline':
      case 'failed':
        return (
          <Outcome
            title={state.at === 'offline' ? words.offlineTitle : words.failedTitle}
            form="▲"
            actions={<Button label={words.tryAgain} onPress={look} />}
          >
            {state.at === 'offline' ? words.offline : words.failed}
          </Outcome>
        );
      case 'stands': {
        const { way, at } = found!.chosen;
        return (
          <Stack>
            <Heading level={1}>{chooseWords.backTitle}</Heading>
            <Text>{chooseWords.stands(chooseWords.names[way], dayInWords(at, now, zone, language))}</Text>
            <Text tone="soft">{chooseWords.backHint}</Text>
            <Row>
              <Button kind="main" label={chooseWords.takeBack} busy={state.busy} onPress={() => void takeBack()} />
            </Row>
          </Stack>
        );
      }
    }
  }
}
