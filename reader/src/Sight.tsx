/**
 * A visit as its reader has it, with no house behind it: the very pages of the reading room, whose doors answer by
 * themselves and let nothing leave.
 */
import { type Room } from '@under-lock/contract/room';
import { type Language } from '@under-lock/core/language';
import { type Correspondent } from '@under-lock/core/people/address';
import { Loading, Outcome, Row, Stack, TextButton } from '@under-lock/ui';
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { AskPage } from './AskPage';
import { type Asking } from './useAsking';
import { Ended } from './Ended';
import { FrameInside } from './Frame';
import { type KeepDoor, type Session } from './list/account';
import { listWordsNow, SignIn } from './list/later';
import { named } from './named';
import { ReadingPage } from './ReadingPage';
import { type ReplyTargets, type WritingDoor } from './replies';
import { type ReplyDraft } from './reply-draft';
import { type AskDoor, type Opened } from './visit';
import { speak, backTo, words } from './words/words';

export interface SightProps {
  step: 'before' | 'message';
  onStep: (step: 'before' | 'message') => void;
  room: Room;
  /** As the sender wrote it, where one is asked. */
  question: string | undefined;
  /** Undefined while it is being put together. */
  opened: Opened | undefined;
  /** Who else reads it, for a reply to all. */
  others: Correspondent[];
  maxBytes: number;
  language: Language;
  now: Date;
  pdfBase: string;
}

const RESEND_MS = 60_000;
const nothing = async (): Promise<void> => undefined;

const askingFor = (question: string | undefined): AskDoor => ({
  askPasscode: async () => ({ resendAt: new Date(Date.now() + RESEND_MS) }),
  identify: nothing,
  readQuestion: async () => question ?? '',
  askOtherWay: nothing,
  sayNotForMe: nothing,
});

const writingTo = (targets: ReplyTargets): WritingDoor => ({
  replyTargets: async () => targets,
  listReplies: async () => [],
  openReply: () => Promise.reject(new Error('Nothing was written')),
  listForwards: async () => [],
  passOn: nothing,
  sealReply: async () => ({
    id: '',
    contentBlobId: '',
    content: new Uint8Array(0),
    grants: [],
    ownKey: new Uint8Array(0),
  }),
  sendReply: async (_sealed, _toAll, progress) => progress(1),
});

const sessionOf = (reader: Correspondent): Session => {
  const none = new Uint8Array(0);
  return {
    reader: { id: '', ...reader },
    language: 'en',
    unproven: false,
    hashing: { salt: none, memoryKiB: 0, iterations: 0, parallelism: 0 },
    wrappedSecret: none,
    sealedPrivateKey: none,
    key: { suite: 0, publicKey: none },
  };
};

/** Has the pages speak the reader's language while this is shown, and ours again afterwards. */
function useLanguage(language: Language): { title: string } | undefined {
  const [spoken, setSpoken] = useState<{ language: Language; title: string } | undefined>();
  useEffect(() => {
    void speak(language)
      .then(listWordsNow)
      .then(({ signInTitle }) => setSpoken({ language, title: signInTitle }));
  }, [language]);
  useEffect(() => () => void speak('en').then(listWordsNow), []);
  return spoken?.language === language ? spoken : undefined;
}

type Held = Extract<Room, { state: 'held' }>;

/** Before it opens they prove who they are; else they sign in to their list. */
const isAsking = (room: Held): room is Asking => room.check.kind !== 'password';

/** What the reading page would do, and what comes of it here. */
function useDoors({ room, opened, others, maxBytes }: SightProps) {
  const { senderName, senderAddress } = room;
  const reader = opened?.reader;
  const byPassword = room.state === 'held' && !isAsking(room);
  return useMemo(() => {
    const keeping: KeepDoor = {
      currentSession: async () => (byPassword && reader !== undefined ? sessionOf(reader) : undefined),
      askForDigits: async () => ({ resendAt: new Date(Date.now() + RESEND_MS), registered: false }),
      register: async () => sessionOf(reader!),
      keep: nothing,
      toList: () => undefined,
    };
    return {
      keeping,
      confirming: { confirm: async () => ({ at: new Date() }) },
      writing: writingTo({ sender: { name: senderName, address: senderAddress }, others, unreachable: [], maxBytes }),
    };
  }, [byPassword, reader, senderName, senderAddress, others, maxBytes]);
}

const NotTheirs = ({ senderName, onAgain }: { senderName: string; onAgain: () => void }) => (
  <Outcome
    title={words.notForYouTitle}
    form="■"
    actions={
      <Row>
        <TextButton label={words.tryAgain} onPress={onAgain} />
      </Row>
    }
  >
    {words.notForYou(senderName)}
  </Outcome>
);

interface HeldProps extends Omit<SightProps, 'room'> {
  room: Held;
}

interface MessageProps extends HeldProps {
  doors: ReturnType<typeof useDoors>;
  /** Stays while one looks at what comes before. */
  draft: RefObject<ReplyDraft | undefined>;
}

function Message({ room, opened, now, pdfBase, onStep, doors, draft }: MessageProps) {
  if (opened === undefined) return <Loading what={words.opening} />;
  return (
    <Stack>
      {isAsking(room) ? null : (
        <Row>
          <TextButton label={backTo(words.list)} onPress={() => undefined} />
        </Row>
      )}
      <ReadingPage
        opened={opened}
        officeName={room.officeName}
        now={now}
        pdfBase={pdfBase}
        doors={doors}
        draft={draft}
        onUse={nothing}
        onLeave={() => onStep('before')}
        onProblem={() => undefined}
      />
    </Stack>
  );
}

interface BeforeProps extends HeldProps {
  /** Of the sign-in. */
  title: string;
  onNotMine: () => void;
}

/** Who they are is asked, and whatever they answer is right. */
function Before({ room, opened, question, now, title, onStep, onNotMine }: BeforeProps) {
  const asking = useMemo(() => askingFor(question), [question]);
  if (isAsking(room))
    return (
      <AskPage
        room={room}
        door={asking}
        now={now}
        again={false}
        onIdentified={() => onStep('message')}
        onNotMine={onNotMine}
        onProblem={() => undefined}
      />
    );
  const session = async (): Promise<Session> => sessionOf(opened?.reader ?? { name: '', address: '' });
  return (
    <SignIn
      title={title}
      door={{
        signIn: session,
        reset: session,
        askForReset: async () => ({ resendAt: new Date(Date.now() + RESEND_MS) }),
      }}
      onSignedIn={() => onStep('message')}
    />
  );
}

export function Sight(props: SightProps) {
  const { step, room, opened, language, now } = props;
  const spoken = useLanguage(language);
  const [notTheirs, setNotTheirs] = useState(false);
  const doors = useDoors(props);
  const draft = useRef<ReplyDraft | undefined>(undefined);
  if (spoken === undefined) return <Loading what="Opening the page" />;
  const reader = step === 'message' && room.state === 'held' ? opened?.reader : undefined;
  return (
    <FrameInside
      officeName={room.officeName}
      colour={room.colour}
      title={reader === undefined ? undefined : words.forReader(named(reader))}
    >
      {room.state !== 'held' ? (
        <Ended room={room} now={now} />
      ) : notTheirs ? (
        <NotTheirs senderName={room.senderName} onAgain={() => setNotTheirs(false)} />
      ) : step === 'message' ? (
        <Message {...props} room={room} doors={doors} draft={draft} />
      ) : (
        <Before {...props} room={room} title={spoken.title} onNotMine={() => setNotTheirs(true)} />
      )}
    </FrameInside>
  );
}
