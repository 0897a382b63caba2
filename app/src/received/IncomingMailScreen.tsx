/**
 * A mail that came in: fetched sealed, opened in this browser with the account's key and then with the worker's own
 * keys, shown with what is to be known of it.
 */
import { defined } from '@under-lock/core/defined';
import { type Origin } from '@under-lock/core/incoming/origin';
import { deleteIncoming, type IncomingMail, putIncoming, restoreIncoming } from '@under-lock/contract/received';
import { wordsOf } from '@under-lock/core/search/words';
import { Banner, Button, Line, Loading, Panel, Result, Row } from '@under-lock/ui';
import { officePathIn } from '@under-lock/contract/office-paths';
import { router, useLocalSearchParams } from 'expo-router';
import { useCallback, useEffect, useRef, useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { ConversationPanel } from '../sent/ConversationPanel';
import { addressKey, readingRoomAddress } from '@under-lock/core/people/address';
import { personAt } from '@under-lock/core/people/find';
import { usePeople } from '../people/person';
import { problemWords } from '../problem-words';
import { saveFile } from '../save-file';
import { useOpenSession } from '../session/session';
import { useOffice } from '../session/useOffice';
import { Screen } from '../shell/Screen';
import { BackToMail } from '../mail/BackToMail';
import { door } from '../threads/main/door';
import { reading } from '../threads/keys/reading';
import { type OpenedMail, type OpenOutcome } from '../threads/keys/opening';
import { beginMailAnswer } from './answer';
import { CertificatesFound } from './CertificatesFound';
import { KeysFound } from './KeysFound';
import { MailViewLater } from './MailViewLater';
import { RequestAnswered } from './RequestAnswered';
import { failureOf } from './signer-words';
import { answerQuestion, type Left, LeftInSlot, SlotAnswers, SlotSender, useLeft } from './LeftInSlot';
import { refreshReceived, useIncoming } from './useReceived';
import { fromHere } from '../shell/from-here';
import { offerUndo } from '../shell/Undo';

const back = <BackToMail shelf="received" />;

type FilesOpened = ReadonlyMap<string, Date>;
interface Opened {
  raw: Uint8Array<ArrayBuffer>;
  outcome: OpenOutcome;
}

async function openIt({ id, sealedKey, blobId }: IncomingMail): Promise<Opened> {
  const raw = await door().received.openIncoming({ id, sealedKey, blobId });
  return { raw, outcome: await reading(raw.length, (doors) => doors.opening.open(raw, new Date())) };
}

/** From now on the list shows what stands inside, and that it was read. */
async function remember(mail: IncomingMail, { outcome }: Opened, filesOpened: FilesOpened): Promise<void> {
  if (outcome.outcome !== 'opened') {
    await api(putIncoming, { params: { id: mail.id }, body: { unread: false } });
    return void (await refreshReceived());
  }
  const { message, encrypted, signers } = outcome;
  const [sealedSummary, sealedWords] = await Promise.all([
    door().received.sealIncoming(mail, {
      subject: message.subject,
      from: message.from,
      lock: encrypted !== undefined ? 'encrypted' : signers.length > 0 ? 'signed' : 'none',
      filesOpened: [...filesOpened].map(([name, at]) => ({ name: name.slice(0, 200), at: at.toISOString() })),
    }),
    door().received.sealIncomingWords(mail, wordsOf(message)),
  ]);
  await api(putIncoming, {
    params: { id: mail.id },
    body: { unread: false, sealedSummary, sealedWords },
  });
  await refreshReceived();
}

export function IncomingMailScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data: mail, error } = useIncoming(id);
  // The one before is shown by nobody while this one is on its way.
  if (mail === undefined || mail.id !== id)
    return (
      <Screen title="Mail" back={back}>
        {error === undefined ? (
          <Loading what="Looking for the mail" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  return <Incoming key={id} mail={mail} />;
}

function Incoming({ mail }: { mail: IncomingMail }) {
  const now = useNow();
  const { data: opened, error } = useSWR(['incoming-content', mail.id], () => openIt(mail), {
    revalidateOnFocus: false,
    revalidateIfStale: false,
    revalidateOnReconnect: false,
    shouldRetryOnError: false,
  });
  const { data: left, error: unknownSender } = useLeft(mail);
  const { filesOpened, noteOpened, origin } = useSummary(mail);
  const settled = useRemembered(mail, opened, filesOpened);
  const outcome = opened?.outcome;
  const title =
    outcome?.outcome === 'opened' ? `From ${outcome.message.from.name || outcome.message.from.address}` : 'Received';
  return (
    <Screen title={title} back={back}>
      {error !== undefined ? (
        <Banner tone="brick">{problemWords(error)}</Banner>
      ) : opened === undefined || filesOpened === undefined ? (
        <Panel>
          <Line last>
            <Loading what="Fetching and opening it in your browser" />
          </Line>
        </Panel>
      ) : (
        <>
          {unknownSender === undefined ? null : (
            <Banner tone="brick">
              What is known of whoever left this does not open. Don’t rely on who it says it is from.
            </Banner>
          )}
          {/* What is to be known of it stands there from the first moment. */}
          <Shown
            mail={mail}
            left={left}
            outcome={opened.outcome}
            filesOpened={filesOpened}
            origin={origin}
            onFileOpened={noteOpened}
          />
          <Acts
            mail={mail}
            raw={opened.raw}
            left={left}
            settled={settled}
            opened={opened.outcome.outcome === 'opened' ? opened.outcome : undefined}
          />
          <ConversationPanel conversationId={mail.conversationId} here={mail.id} now={now} zone={zone} />
        </>
      )}
    </Screen>
  );
}

/**
 * Remembers what is known of it, one after the other. Whoever leaves it waits for that: what was marked as unread, or
 * deleted, would be said to be read afterwards.
 */
function useRemembered(
  mail: IncomingMail,
  opened: Opened | undefined,
  filesOpened: FilesOpened | undefined,
): () => Promise<void> {
  const last = useRef(Promise.resolve());
  const isLeft = useRef(false);
  useEffect(() => {
    if (opened === undefined || filesOpened === undefined) return;
    last.current = last.current
      .then(() => (isLeft.current ? undefined : remember(mail, opened, filesOpened)))
      // The list says it at its next look, too: nothing to say here if this fails.
      .catch(() => undefined);
  }, [mail, opened, filesOpened]);
  return useCallback(async () => {
    isLeft.current = true;
    await last.current;
  }, []);
}

/** What is kept with what the list shows: where it came from, and when each locked file among its files was first opened. */
function useSummary(mail: IncomingMail): {
  filesOpened: FilesOpened | undefined;
  noteOpened: (name: string) => void;
  origin: Origin | undefined;
} {
  const [filesOpened, setFilesOpened] = useState<FilesOpened | undefined>();
  const [origin, setOrigin] = useState<Origin | undefined>();
  const { id, sealedKey, sealedSummary } = mail;
  useEffect(() => {
    void door()
      .received.incoming([{ id, sealedKey, sealedSummary }])
      .then(
        ([summary]) => {
          setOrigin(summary?.origin);
          const before = (summary?.filesOpened ?? []).map(({ name, at }): [string, Date] => [name, new Date(at)]);
          // What was opened meanwhile stays, unless it had been before.
          setFilesOpened((now) => new Map([...(now ?? []), ...before]));
        },
        () => setFilesOpened((now) => now ?? new Map()),
      );
    // What came later is what this page itself has kept.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);
  const noteOpened = (name: string): void =>
    setFilesOpened((now) => (now?.has(name) === true ? now : new Map([...(now ?? []), [name, new Date()]])));
  return { filesOpened, noteOpened, origin };
}

interface ShownProps {
  mail: IncomingMail;
  left: Left | undefined;
  outcome: OpenOutcome;
  filesOpened: FilesOpened;
  origin: Origin | undefined;
  onFileOpened: (name: string) => void;
}

function Shown({ mail, left, outcome, filesOpened, origin, onFileOpened }: ShownProps) {
  const { id, requestId, slot } = mail;
  switch (outcome.outcome) {
    case 'opened':
      return (
        <>
          {requestId === undefined ? null : <RequestAnswered requestId={requestId} mail={outcome} />}
          {left === undefined ? null : (
            <>
              <SlotAnswers id={id} address={left.proof.address} />
              <LeftInSlot left={left} from={outcome.message.from} />
            </>
          )}
          <MailViewLater
            mail={outcome}
            onFileOpened={onFileOpened}
            filesOpened={filesOpened}
            answersNotice={mail.answersNotice}
            {...defined({ origin, slot: slot === undefined ? undefined : (left?.proof.slot ?? '') })}
          />
        </>
      );
    case 'only-certificates':
      return <CertificatesFound name={id} found={outcome.certificates} />;
    case 'only-keys':
      return <KeysFound name={id} found={outcome.keys} />;
    // Only files come beside one another.
    case 'beside':
      return null;
    default:
      return <Banner tone="brick">{failureOf(outcome)}</Banner>;
  }
}

/** What the office reports of leads to its page here. */
function WayOn({ text }: { text: string }) {
  const path = officePathIn(text, window.location.origin);
  if (path === undefined) return null;
  return <Button kind="main" label="Go to it" onPress={() => router.push(path as never)} />;
}

function Acts({
  mail,
  left,
  raw,
  settled,
  opened,
}: {
  mail: IncomingMail;
  left: Left | undefined;
  raw: Uint8Array<ArrayBuffer>;
  /** What is being remembered of it is, and nothing more will be. */
  settled: () => Promise<void>;
  opened: OpenedMail | undefined;
}) {
  const { account } = useOpenSession();
  const { data: office } = useOffice();
  const { data: people = [] } = usePeople();
  const [failed, setFailed] = useState<string | undefined>();
  const attempt = async (act: () => Promise<void>): Promise<void> => {
    try {
      await act();
    } catch (error) {
      setFailed(problemWords(error));
    }
  };
  const answer = (toAll: boolean): Promise<void> =>
    attempt(async () => {
      const goOn = fromHere();
      // Somebody with a phone of theirs here is asked for a passcode, as always.
      const isKnown = personAt(people, opened!.message.from.address)?.value.phone !== undefined;
      const asked = left === undefined || isKnown ? undefined : { check: 'question' as const, ...answerQuestion(left) };
      const hadLock = left !== undefined || opened!.encrypted !== undefined;
      const about = { id: mail.id, message: opened!.message, hadLock };
      goOn(`/write/${await beginMailAnswer(about, account, toAll, asked)}`, 'push');
    });
  /** What is done, and away from what it was done with. */
  const leaveBy = (act: () => Promise<unknown>): Promise<void> =>
    attempt(async () => {
      const goOn = fromHere();
      await settled();
      await act();
      await refreshReceived();
      goOn('/mail/received');
    });
  // At once: it can be had back.
  const remove = async (): Promise<void> => {
    const params = { id: mail.id };
    await api(deleteIncoming, { params });
    offerUndo(`“${opened?.message.subject || 'A mail'}” is deleted.`, async () => {
      await api(restoreIncoming, { params });
      await refreshReceived();
    });
  };
  const isReport =
    opened !== undefined &&
    office !== undefined &&
    addressKey(opened.message.from.address) === addressKey(readingRoomAddress(office.mailDomain));
  const others = opened === undefined ? 0 : opened.message.to.length + opened.message.cc.length;
  return (
    <>
      <Result said={failed} />
      <Row>
        {opened === undefined || isReport ? null : (
          <Button kind="main" label="Answer" shortcut="a" onPress={() => void answer(false)} />
        )}
        {isReport ? <WayOn text={opened.message.text} /> : null}
        {others > 1 && !isReport ? <Button label="Answer all" onPress={() => void answer(true)} /> : null}
        <Button
          label="Save as a file"
          describe="Save as a file, the mail as it came"
          onPress={() => saveFile(raw, 'mail.eml', 'message/rfc822')}
        />
        <Button
          kind="quiet"
          label="Mark as unread"
          onPress={() => void leaveBy(() => api(putIncoming, { params: { id: mail.id }, body: { unread: true } }))}
        />
        <Button kind="quiet" label="Delete" onPress={() => void leaveBy(remove)} />
      </Row>
      {left === undefined ? null : <SlotSender id={mail.id} address={left.proof.address} />}
    </>
  );
}
