/**
 * A received message: opened in this browser with the account's key, under the sender's limits. Whom it comes from is
 * what the house knows, not what the message says of itself.
 */
import { confirmReceived, markReceived, recordReceivedUse } from '@under-lock/contract/received';
import { isProblem } from '@under-lock/contract/problem';
import { type MessageContent } from '@under-lock/core/message/content';
import { wordsOf } from '@under-lock/core/search/words';
import { momentInWords } from '@under-lock/core/when';
import { ConfirmPanel } from '@under-lock/reader/ConfirmPanel';
import { Banner, Button, Line, Loading, Panel, Progress, Result, Row, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { useCallback, useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { MessageViewLater } from '../sent/MessageViewLater';
import { ConversationPanel } from '../sent/ConversationPanel';
import { useOffice } from '../session/useOffice';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { BackToMail } from '../mail/BackToMail';
import { callback, door } from '../threads/main/door';
import { searchDoor } from '../threads/search/door';
import { beginAnswer, beginPassingOn } from './answer';
import { refreshReceived, useReceivedMessage } from './useReceived';
import { fromHere } from '../shell/from-here';

const back = <BackToMail shelf="received" />;
const openWords = (error: unknown): string =>
  isProblem(error)
    ? problemWords(error)
    : 'What is held does not open with your key, so nothing of it is shown. Ask the sender to give you access again.';

export function ReceivedMessageScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: about, error } = useReceivedMessage(id);
  if (about === undefined || about.grantId !== id)
    return (
      <Screen title="Message" back={back}>
        {error === undefined ? (
          <Loading what="Looking for the message" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  return <Opened key={`${id} ${about.state}`} id={id} about={about} />;
}

/** Found by its text from now on, on this device. Where that fails it is still found by its subject. */
function noteFound(about: About, content: MessageContent): Promise<void> {
  const { grantId: id, arrivedAt, closesAt, from, reference } = about;
  return searchDoor()
    .note({
      id,
      kind: 'held',
      at: arrivedAt.getTime(),
      subject: content.subject,
      people: [from],
      reference,
      ...wordsOf(content),
      worded: true,
      closesAt: closesAt.getTime(),
    })
    .catch(() => undefined);
}

type About = NonNullable<ReturnType<typeof useReceivedMessage>['data']>;

/** It is fetched, opened and counted as read once, whatever else changes on the page. */
function useContent(id: string, about: About) {
  const [done, setDone] = useState(0);
  const { data: opened, error } = useSWR(
    about.state === 'held' ? ['received-content', id] : null,
    async () => {
      const read = await door().received.open(id, callback(setDone));
      void refreshReceived();
      if (read.handling.rights.copy) void noteFound(about, read.content);
      return read;
    },
    { revalidateOnFocus: false, revalidateIfStale: false, revalidateOnReconnect: false, shouldRetryOnError: false },
  );
  return { opened, error: error as unknown, done };
}

type Read = NonNullable<ReturnType<typeof useContent>['opened']>;

function Acts({
  id,
  about,
  subject,
  content,
  onProblem,
}: {
  id: string;
  about: About;
  subject: string;
  content: Read['content'];
  onProblem: (problem: unknown) => void;
}) {
  const { account } = useOpenSession();
  const [busy, setBusy] = useState(false);
  const markUnread = async (): Promise<void> => {
    const goOn = fromHere();
    await api(markReceived, { params: { id }, body: { unread: true } });
    await refreshReceived();
    goOn('/mail/received');
  };
  const { rights } = about.handling;
  // What somebody outside wrote to us is ours to answer; a colleague's message as its handling says.
  const mayAnswer = about.fromReader || rights.reply;
  const mayAnswerAll = about.people.length > 1 && (about.fromReader || rights.replyAll);
  const goTo = async (draft: () => Promise<string>): Promise<void> => {
    const goOn = fromHere();
    try {
      goOn(`/write/${await draft()}`, 'push');
    } catch (problem) {
      onProblem(problem);
    }
  };
  const answer = (toAll: boolean): Promise<void> =>
    goTo(() => beginAnswer(about, subject, about.reference, account, toAll));
  const passOn = async (): Promise<void> => {
    setBusy(true);
    await goTo(() => beginPassingOn(about, content, new Date()));
    setBusy(false);
  };
  return (
    <Row>
      {mayAnswer ? <Button kind="main" label="Answer" shortcut="a" onPress={() => void answer(false)} /> : null}
      {mayAnswerAll ? <Button label="Answer all" onPress={() => void answer(true)} /> : null}
      {rights.forward ? <Button label="Pass on" busy={busy} onPress={() => void passOn()} /> : null}
      <Button kind="quiet" label="Mark as unread" onPress={() => void markUnread()} />
    </Row>
  );
}

function Content({ id, about, opened, officeName }: { id: string; about: About; opened: Read; officeName: string }) {
  const { account } = useOpenSession();
  const now = useNow();
  const [failed, setFailed] = useState<string | undefined>();
  const use = useCallback(
    (what: 'saved' | 'printed') => api(recordReceivedUse, { params: { id }, body: { what } }),
    [id],
  );
  const onProblem = (problem: unknown): void => setFailed(problemWords(problem));
  return (
    <>
      <Panel>
        <Line last>
          <MessageViewLater
            content={{ ...opened.content, from: about.from }}
            handling={{ ...opened.handling, closesAt: about.closesAt }}
            reader={account}
            officeName={officeName}
            now={now}
            pdfBase="/pdf"
            headingLevel={2}
            onUse={use}
          />
        </Line>
      </Panel>
      {opened.confirm === undefined ? null : (
        <ConfirmPanel
          door={{ confirm: () => api(confirmReceived, { params: { id } }) }}
          sender={about.from}
          confirmedAt={opened.confirm.at}
          now={now}
          onProblem={onProblem}
        />
      )}
      <Result said={failed} />
      <Acts id={id} about={about} subject={opened.content.subject} content={opened.content} onProblem={onProblem} />
      <ConversationPanel conversationId={about.conversationId} here={id} now={now} zone={zone} />
    </>
  );
}

function Ended({ about }: { about: About }) {
  const now = useNow();
  const withdrawn = about.state === 'withdrawn';
  const at = about.endedAt === undefined ? '' : ` ${momentInWords(about.endedAt, now, zone)}`;
  return (
    <Screen title={withdrawn ? 'This message was withdrawn' : 'This message is closed'} back={back}>
      <Text>{`${nameOf(about)} ${withdrawn ? 'ended your access' : 'let you read it until'}${at}. Ask them if you still need it.`}</Text>
    </Screen>
  );
}

const nameOf = ({ from }: About): string => from.name || from.address;

function Opened({ id, about }: { id: string; about: About }) {
  const { data: office } = useOffice();
  const { opened, error, done } = useContent(id, about);
  if (about.state !== 'held') return <Ended about={about} />;
  return (
    <Screen title={`From ${nameOf(about)}`} back={back}>
      {error !== undefined ? (
        <Banner tone="brick">{openWords(error)}</Banner>
      ) : opened === undefined || office === undefined ? (
        <Panel>
          <Line last>
            <Text kind="small">Fetching and opening it in your browser</Text>
            <Progress done={done} label="Fetching the message" />
          </Line>
        </Panel>
      ) : (
        <Content id={id} about={about} opened={opened} officeName={office.name} />
      )}
    </Screen>
  );
}
