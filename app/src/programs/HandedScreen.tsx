/** A mail from a mail program that waits: it becomes a draft, and its page is Write's. */
import { Banner, Button, Empty, Loading, Row, Stack } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { fromHere } from '../shell/from-here';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { makeDraftOf } from './useHanded';

type State = { at: 'opening' } | { at: 'nowhere' } | { at: 'failed'; sentence: string };

/** What is no mail, or was sealed to another key, can't become one here. */
const failedWords = (error: unknown): string =>
  error instanceof Error && ['SealError', 'ContentError', 'MessageReadError'].includes(error.name)
    ? 'It does not open as a mail. Look for it among what your mail program has sent, and write it here anew.'
    : problemWords(error);

export function HandedScreen({ id }: { id: string }) {
  const { account } = useOpenSession();
  const [state, setState] = useState<State>({ at: 'opening' });
  const [tries, setTries] = useState(0);
  useEffect(() => {
    let gone = false;
    const goOn = fromHere();
    setState({ at: 'opening' });
    makeDraftOf(id, account).then(
      (there) => {
        if (gone) return;
        if (there) goOn(`/write/${id}`);
        else setState({ at: 'nowhere' });
      },
      (error: unknown) => {
        if (!gone) setState({ at: 'failed', sentence: failedWords(error) });
      },
    );
    return () => {
      gone = true;
    };
    // Once for each try: what the account is called does not matter here.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, tries]);
  return (
    <Screen title="From your mail program" back={<WayLink href="/mail/drafts" label="Drafts" />}>
      {state.at === 'opening' ? (
        <Loading what="Making a draft of it" />
      ) : state.at === 'nowhere' ? (
        <Empty title="It is not waiting any more">It has been sent or removed, here or on another device.</Empty>
      ) : (
        <Stack>
          <Banner tone="brick">{state.sentence}</Banner>
          <Row>
            <Button label="Try again" onPress={() => setTries(tries + 1)} />
          </Row>
        </Stack>
      )}
    </Screen>
  );
}
