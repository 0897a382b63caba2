/** The reading room: from the link to the message, one page for each state. */
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { type Bytes } from '@under-lock/core/bytes';
import { type Carried } from '@under-lock/core/locks/carried/read';
import { momentInWords } from '@under-lock/core/when';
import { Button, Heading, Loading, Outcome, Progress, Row, Stack, TextButton } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { type Visit, visitFromAddress } from './address';
import { AskPage } from './AskPage';
import { type Asking } from './useAsking';
import { useNow } from './clock';
import { Ended } from './Ended';
import { Frame } from './Frame';
import { isEarlyAsking, showInstead, takeBegun } from './early/over';
import { Entry } from './list/later';
import { keptDraft } from './reply-draft';
import { askDoor, DamagedError, leave, look, openMessage, type Opened, askLeave } from './visit';
import { language, backTo, words } from './words/words';
import { zone } from './zone';

// The message's own page comes after the passcode: the first one stays small.
const RoomReading = later(
  async () => (await import('./RoomReading')).RoomReading,
  () => <Loading what={words.opening} />,
);

// Few come with a file.
const GivePage = later(
  async () => {
    const { GivePage: page, loadCarriedWords } = await import('./carried');
    await loadCarriedWords();
    return page;
  },
  () => <Loading what={words.loading} />,
);

type Held = Extract<Room, { state: 'held' }>;
type Ended = Exclude<Room, { state: 'held' }>;

type State =
  | { at: 'loading' }
  | { at: 'entry'; grantId: string }
  | { at: 'file'; grantId: string; room: Held }
  | { at: 'ask'; room: Asking; again: boolean }
  | { at: 'opening'; room: Held; done: number }
  | { at: 'reading'; room: Held; opened: Opened }
  | { at: 'ended'; room: Ended }
  | { at: 'not-for-you'; senderName: string }
  | { at: 'wrong-link' }
  | { at: 'paused'; until: Date; room: Held }
  | { at: 'stopped'; room: Held }
  | { at: 'offline' }
  | { at: 'failed'; damaged: boolean }
  | { at: 'left' };

/** What ended goes from an open page within seconds. */
const LOOK_AGAIN_MS = 4_000;

/** What may have happened in the meantime: the page is looked up anew and says which. */
const lookAgain = ['grant-closed', 'grant-withdrawn', 'not-identified'] as const;

const isAsking = (room: Held): room is Asking => room.check.kind !== 'password';

/** An early page that asks stays until this one has more to say than that it looks. */
function useShownInstead(isLooking: boolean): void {
  useLayoutEffect(() => {
    if (!isLooking || !isEarlyAsking()) showInstead();
  }, [isLooking]);
}

export function RoomPage() {
  const [arrival] = useState(visitFromAddress);
  const [visit, setVisit] = useState<Visit | undefined>(arrival?.share === undefined ? undefined : arrival);
  const [state, setState] = useState<State>(
    arrival === undefined
      ? { at: 'wrong-link' }
      : arrival.fromList
        ? { at: 'entry', grantId: arrival.id }
        : { at: 'loading' },
  );
  const now = useNow();
  // A carried page's content outlives the sign-in of who has an account.
  const held = useRef<Bytes | undefined>(undefined);
  // A reply being written outlives a new identity check, and a reload.
  const [draft] = useState(() => keptDraft(arrival?.id ?? ''));

  const fail = useCallback((error: unknown, room?: Held) => {
    if (isProblem(error, 'unreachable')) setState({ at: 'offline' });
    else if (isProblem(error, 'wrong-link', 'not-found', 'invalid-input')) setState({ at: 'wrong-link' });
    else if (isProblem(error, 'passcode-paused') && room !== undefined)
      setState({ at: 'paused', until: new Date(error.details.until ?? Date.now()), room });
    else if (isProblem(error, 'passcode-stopped') && room !== undefined) setState({ at: 'stopped', room });
    else setState({ at: 'failed', damaged: error instanceof DamagedError });
  }, []);

  const open = useCallback(
    async (room: Held) => {
      if (visit === undefined) return;
      setState({ at: 'opening', room, done: 0 });
      try {
        const opened = await openMessage(visit, { name: room.senderName, address: room.senderAddress }, (done) =>
          setState({ at: 'opening', room, done }),
        );
        setState({ at: 'reading', room, opened });
      } catch (error) {
        if (isProblem(error, ...lookAgain)) await enter(true);
        else fail(error, room);
      }
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `enter` and `open` call one another
    [visit, fail],
  );

  const enter = useCallback(
    async (again = false) => {
      if (visit === undefined) return;
      try {
        const room = await look(visit);
        if (room.state !== 'held') setState({ at: 'ended', room });
        // First of all the file: nobody is to ask for a passcode in vain.
        else if (room.carried && visit.sealed === undefined) setState({ at: 'file', grantId: visit.id, room });
        else if (room.identified) await open(room);
        // The sign-in is asked again before anything else is.
        else if (visit.byAccount === true && again) setState({ at: 'entry', grantId: visit.id });
        else if (isAsking(room)) setState({ at: 'ask', room, again });
        else setState({ at: 'entry', grantId: visit.id });
      } catch (error) {
        fail(error);
      }
    },
    [visit, open, fail],
  );

  useEffect(() => void enter(), [enter]);
  // A link without its second half: right for who signs in, and incomplete for everybody else.
  useEffect(() => {
    if (arrival === undefined || arrival.share !== undefined || arrival.fromList) return;
    look(arrival).then(
      (room) =>
        setState(
          room.state !== 'held'
            ? { at: 'ended', room }
            : room.carried
              ? { at: 'file', grantId: arrival.id, room }
              : room.check.kind === 'password'
                ? { at: 'entry', grantId: arrival.id }
                : { at: 'wrong-link' },
        ),
      fail,
    );
  }, [arrival, fail]);
  const given = useCallback(
    ({ share = visit?.share, sealed }: Pick<Carried, 'share' | 'sealed'>) => {
      held.current = sealed;
      if (share !== undefined) setVisit({ id: arrival!.id, ...visit, share, sealed });
      // A registered reader's share lies in their account.
      else setState({ at: 'entry', grantId: arrival!.id });
    },
    [arrival, visit],
  );
  const entryProblem = useCallback(
    (error: unknown) => {
      // What has ended says when, also to who came without a link.
      if (isProblem(error, 'grant-closed', 'grant-withdrawn') && arrival !== undefined)
        look(arrival).then((room) => (room.state === 'held' ? fail(error) : setState({ at: 'ended', room })), fail);
      else fail(error);
    },
    [arrival, fail],
  );

  // What has been closed or withdrawn goes from the screen too, not only from the server.
  const closesAt = state.at === 'reading' ? state.opened.handling.closesAt : undefined;
  useEffect(() => {
    if (closesAt === undefined || visit === undefined) return undefined;
    const timer = setInterval(() => {
      look(visit).then(
        (room) => room.state !== 'held' && setState({ at: 'ended', room }),
        () => new Date() >= closesAt && setState({ at: 'offline' }),
      );
    }, LOOK_AGAIN_MS);
    return () => clearInterval(timer);
  }, [closesAt, visit]);

  const door = useMemo(() => (visit === undefined ? undefined : askDoor(visit)), [visit]);
  const use = useCallback((what: 'saved' | 'printed') => askLeave(visit!, what), [visit]);
  const heldRoom = 'room' in state && state.room.state === 'held' ? state.room : undefined;
  const problem = useCallback(
    (error: unknown) => (isProblem(error, ...lookAgain) ? void enter(true) : fail(error, heldRoom)),
    [enter, fail, heldRoom],
  );
  useShownInstead(state.at === 'loading');
  const about = 'room' in state ? state.room : undefined;
  const title =
    state.at === 'reading' ? words.forReader(state.opened.reader.name || state.opened.reader.address) : undefined;

  return (
    <Frame officeName={about?.officeName} colour={about?.colour} title={title}>
      {visit?.byAccount === true ? (
        <Row>
          <TextButton label={backTo(words.list)} onPress={() => window.location.assign('/room/list')} />
        </Row>
      ) : null}
      {body()}
    </Frame>
  );

  function again(label: string = words.tryAgain) {
    return <Button label={label} onPress={() => (visit === undefined ? window.location.reload() : void enter())} />;
  }

  function body() {
    switch (state.at) {
      case 'loading':
        return <Loading what={words.loading} />;
      case 'entry':
        return (
          <Entry
            grantId={state.grantId}
            onEntered={(next) => {
              setState({ at: 'loading' });
              setVisit(held.current === undefined ? next : { ...next, sealed: held.current });
            }}
            onProblem={entryProblem}
          />
        );
      case 'file':
        return (
          <GivePage
            grantId={state.grantId}
            room={state.room}
            hasShare={visit !== undefined || state.room.check.kind === 'password'}
            now={now}
            onGiven={given}
          />
        );
      case 'ask':
        return (
          <AskPage
            room={state.room}
            again={state.again}
            takeBegun={takeBegun}
            door={door!}
            now={now}
            onIdentified={() => void open(state.room)}
            onNotMine={() => setState({ at: 'not-for-you', senderName: state.room.senderName })}
            onProblem={problem}
          />
        );
      case 'opening':
        return (
          <Stack>
            <Heading level={1}>{state.done < 1 ? words.fetching : words.opening}</Heading>
            <Progress done={state.done} label={words.fetching} />
          </Stack>
        );
      case 'reading':
        return (
          <RoomReading
            visit={visit!}
            opened={state.opened}
            officeName={state.room.officeName}
            now={now}
            draft={draft}
            onUse={use}
            onLeave={() =>
              void leave(visit!).then(() => {
                draft.current = undefined;
                setState({ at: 'left' });
              }, fail)
            }
            onProblem={problem}
          />
        );
      case 'ended':
        return <Ended room={state.room} now={now} />;
      case 'not-for-you':
        return (
          <Outcome title={words.notForYouTitle} form="■">
            {words.notForYou(state.senderName)}
          </Outcome>
        );
      case 'wrong-link':
        return (
          <Outcome title={words.wrongTitle} form="■">
            {words.wrong}
          </Outcome>
        );
      case 'paused':
        return (
          <Outcome title={words.pausedTitle} form="■" actions={again()}>
            {words.paused(momentInWords(state.until, now, zone, language))}
          </Outcome>
        );
      case 'stopped':
        return (
          <Outcome
            title={words.stoppedTitle}
            form="■"
            actions={again()}
          >{`${words.stopped(state.room.senderName)} ${words.senderReach(state.room.senderAddress)}`}</Outcome>
        );
      case 'offline':
        return (
          <Outcome title={words.offlineTitle} form="▲" actions={again()}>
            {words.offline}
          </Outcome>
        );
      case 'failed':
        return (
          <Outcome title={words.failedTitle} form="■" actions={again()}>
            {state.damaged ? words.damagedMessage : words.failed}
          </Outcome>
        );
      case 'left':
        return (
          <Outcome title={words.leftTitle} form="○" actions={again(words.startAgain)}>
            {words.left}
          </Outcome>
        );
    }
  }
}
