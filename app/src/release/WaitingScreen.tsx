/** One message that waits to be released: for whoever decides all of it, for its sender where it stands. */
import { isProblem } from '@under-lock/contract/problem';
import { type AskedRelease, letGo, sendBack } from '@under-lock/contract/release';
import { MAX_WORDS } from '@under-lock/core/release/paper';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button, Dialog, Field, Loading, Result, Row, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { listed, quoted } from '../handling/words';
import { BackToMail } from '../mail/BackToMail';
import { peopleCount } from '../people/words';
import { problemWords } from '../problem-words';
import { subjectOf } from '../sent/useSent';
import { useColleagues } from '../session/useOffice';
import { fromHere } from '../shell/from-here';
import { Screen } from '../shell/Screen';
import { useAttempt } from '../shell/useAttempt';
import { door } from '../threads/main/door';
import { ToRelease } from './ToRelease';
import { takeUp } from './take-up';
import { type OpenedRelease, refreshReleases, useReleases } from './useReleases';

const back = <BackToMail shelf="waiting" />;

export function WaitingScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data, error } = useReleases();
  if (data === undefined)
    return (
      <Screen title="Waiting" back={back}>
        {error === undefined ? (
          <Loading what="Looking for the message" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const asked = data.asked.find((one) => one.id === id);
  if (asked !== undefined) return <Asked key={id} asked={asked} />;
  const own = data.own.find((one) => one.id === id);
  return own === undefined ? <Decided id={id} /> : <Own key={id} own={own} />;
}

/** It has left the list: released, taken back, or decided by somebody else. */
function Decided({ id }: { id: string }) {
  return (
    <Screen title="It does not wait any more" back={back}>
      <Text>It has been released, sent back or taken back. What was released is in its sender’s sent mail.</Text>
      <Row>
        <Button label="Look in Sent" onPress={() => fromHere()(`/mail/${id}`)} />
      </Row>
    </Screen>
  );
}

function Own({ own }: { own: OpenedRelease }) {
  const now = useNow();
  const { busy, said, attempt } = useAttempt();
  const [isGone, setIsGone] = useState(false);
  const { opened, people, rules, askedAt, decidedAt, state, by, sentence, releasers } = own;
  const isBack = state === 'sent-back';
  const goOn = (): Promise<void> =>
    attempt(async () => {
      const go = fromHere();
      const draftId = await takeUp(own);
      if (draftId === undefined) setIsGone(true);
      else go(`/write/${draftId}`);
    });
  const at = momentInWords(decidedAt ?? askedAt, now, zone);
  return (
    <Screen title={subjectOf(opened)} back={back}>
      <Result said={said} />
      {isGone ? (
        <Banner tone="amber">Its draft is not in your vault any more, so there is nothing to go on with.</Banner>
      ) : null}
      {isBack ? (
        <Banner tone="amber">
          {by === undefined
            ? `Nobody decided within two weeks, so it came back to you ${at}. It has not left.`
            : `${by.name} sent it back ${at}. It has not left.${sentence === undefined ? ' Why, does not open with your key: ask them.' : ` “${sentence}”`}`}
        </Banner>
      ) : (
        <Text>
          {`Waiting since ${at}; it has not left. ${releasers.length === 0 ? 'Nobody may release it at present: ask an administrator.' : `${listed(releasers, 'or')} can release it, and are told.`}`}
        </Text>
      )}
      <Text kind="small" tone="soft">
        {`To ${peopleCount(people)}. ${quoted(rules)} ${rules.length === 1 ? 'asks' : 'ask'} for somebody else to look at it.`}
      </Text>
      <Row>
        <Button
          kind={isBack ? 'main' : 'plain'}
          label={isBack ? 'Go on writing' : 'Take it back'}
          busy={busy}
          onPress={() => void goOn()}
        />
      </Row>
    </Screen>
  );
}

function Asked({ asked }: { asked: AskedRelease }) {
  const now = useNow();
  const [asking, setAsking] = useState(false);
  const { busy, said, attempt } = useAttempt();
  const { id, from, rules, askedAt } = asked;
  const release = (): Promise<void> =>
    attempt(async () => {
      const go = fromHere();
      await api(letGo, { params: { id } });
      await refreshReleases();
      go('/mail/waiting');
    });
  return (
    <Screen title={`From ${from.name}`} back={back}>
      <Text kind="small" tone="soft">
        {`Waiting for your release since ${momentInWords(askedAt, now, zone)}, because of ${quoted(rules)}.`}
      </Text>
      <Result said={said} />
      <ToRelease asked={asked}>
        <Row>
          <Button kind="main" label="Release it" busy={busy} onPress={() => void release()} />
          <Button label="Send it back" onPress={() => setAsking(true)} />
        </Row>
      </ToRelease>
      {asking ? <SendBack asked={asked} onClose={() => setAsking(false)} /> : null}
    </Screen>
  );
}

function SendBack({ asked: { id, from }, onClose }: { asked: AskedRelease; onClose: () => void }) {
  const { data: colleagues } = useColleagues();
  const [typed, setTyped] = useState('');
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const send = async (): Promise<void> => {
    const sentence = typed.trim();
    if (sentence === '') return setError(`Say in a sentence what ${from.name} is to change.`);
    const key = colleagues?.find((one) => one.id === from.id)?.key;
    if (key === undefined) return setError(`${from.name} has no key to seal it to. Tell them by another way.`);
    const go = fromHere();
    setBusy(true);
    try {
      const sealed = await door().release.sealSentence(key, sentence, id);
      await api(sendBack, { params: { id }, body: { sentence: sealed } });
      await refreshReleases();
      go('/mail/waiting');
    } catch (problem) {
      setBusy(false);
      setError(isProblem(problem) ? problemWords(problem) : 'It could not be sealed. Try again.');
    }
    return undefined;
  };
  return (
    <Dialog
      title="Send it back"
      open
      onClose={onClose}
      actions={
        <>
          <Button kind="main" label="Send it back" busy={busy} onPress={() => void send()} />
          <Button label="Not now" onPress={onClose} />
        </>
      }
    >
      <Text>{`It becomes ${from.name}’s draft again and does not leave. Only they can read what you say here.`}</Text>
      <Field
        label="What is to change"
        value={typed}
        onChangeText={setTyped}
        maxLength={MAX_WORDS}
        multiline
        error={error}
      />
    </Dialog>
  );
}
