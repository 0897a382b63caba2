/** The reading room: from the link to the message, one page for each state. */
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { momentInWords } from '@under-lock/core/when';
import { Button, colour, Heading, Loading, measure, Progress, space, Stack, Text, TextButton } from '@under-lock/ui';
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { AskPage } from './AskPage';
import { type ReplyDraft } from './ReplyPanel';
import { DamagedError, leave, look, openMessage, type Opened, askLeave, visitFromAddress } from './visit';
import { language, words } from './words/words';

// The message's own page comes after the passcode: the first one stays small.
const MessageView = lazy(async () => ({ default: (await import('./MessageView')).MessageView }));
const ForwardPanel = lazy(async () => ({ default: (await import('./ForwardPanel')).ForwardPanel }));
const ReplyPanel = lazy(async () => ({ default: (await import('./ReplyPanel')).ReplyPanel }));

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
type Held = Extract<Room, { state: 'held' }>;
type Ended = Exclude<Room, { state: 'held' }>;

type State =
  | { at: 'loading' }
  | { at: 'ask'; room: Held; again: boolean }
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

/** What may have happened in the meantime: the page is looked up anew and says which. */
const lookAgain = ['grant-closed', 'grant-withdrawn', 'not-identified'] as const;

/** Stands still for a reader and goes on for the bar. */
function useNow(): Date {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 30_000);
    return () => clearInterval(timer);
  }, []);
  return now;
}

export function RoomPage() {
  const [visit] = useState(visitFromAddress);
  const [state, setState] = useState<State>(visit === undefined ? { at: 'wrong-link' } : { at: 'loading' });
  const now = useNow();
  // A reply being written outlives a new identity check.
  const draft = useRef<ReplyDraft | undefined>(undefined);

  const fail = useCallback((error: unknown, room?: Held) => {
    if (isProblem(error, 'unreachable')) setState({ at: 'offline' });
    else if (isProblem(error, 'wrong-link', 'not-found', 'invalid-input')) setState({ at: 'wrong-link' });
    else if (isProblem(error, 'passcode-paused') && room !== undefined) setState({ at: 'paused', until: new Date(error.details.until ?? Date.now()), room });
    else if (isProblem(error, 'passcode-stopped') && room !== undefined) setState({ at: 'stopped', room });
    else setState({ at: 'failed', damaged: error instanceof DamagedError });
  }, []);

  const open = useCallback(
    async (room: Held) => {
      if (visit === undefined) return;
      setState({ at: 'opening', room, done: 0 });
      try {
        const opened = await openMessage(visit, { name: room.senderName, address: room.senderAddress }, (done) => setState({ at: 'opening', room, done }));
        setState({ at: 'reading', room, opened });
      } catch (error) {
        if (isProblem(error, ...lookAgain)) await enter(true);
        else fail(error, room);
      }
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `enter` and `open` call one another
    [visit, fail],
  );

  const enter = useCallback(async (again = false) => {
    if (visit === undefined) return;
    try {
      const room = await look(visit);
      if (room.state !== 'held') setState({ at: 'ended', room });
      else if (room.identified) await open(room);
      else setState({ at: 'ask', room, again });
    } catch (error) {
      fail(error);
    }
  }, [visit, open, fail]);

  useEffect(() => void enter(), [enter]);

  // What has been closed or withdrawn goes from the screen too, not only from the server.
  const closesAt = state.at === 'reading' ? state.opened.handling.closesAt : undefined;
  useEffect(() => {
    if (closesAt === undefined || visit === undefined) return undefined;
    const timer = setInterval(() => {
      look(visit).then(
        (room) => room.state !== 'held' && setState({ at: 'ended', room }),
        () => new Date() >= closesAt && setState({ at: 'offline' }),
      );
    }, 15_000);
    return () => clearInterval(timer);
  }, [closesAt, visit]);

  const use = useCallback((what: 'saved' | 'printed') => askLeave(visit!, what), [visit]);
  const heldRoom = 'room' in state && state.room.state === 'held' ? state.room : undefined;
  const problem = useCallback((error: unknown) => (isProblem(error, ...lookAgain) ? void enter(true) : fail(error, heldRoom)), [enter, fail, heldRoom]);
  const about = 'room' in state ? state.room : undefined;
  const title = state.at === 'reading' ? words.forReader(state.opened.reader.name || state.opened.reader.address) : undefined;
  useEffect(() => {
    document.documentElement.lang = language;
    document.title = about === undefined ? words.room : `${about.officeName} · ${words.room}`;
  }, [about]);

  return (
    <ScrollView style={styles.page} contentContainerStyle={styles.grow}>
      <View style={styles.band} role="banner">
        <View style={styles.column}>
          <Text kind="small" tone="white">{about === undefined ? words.room : `${about.officeName} · ${words.room}`}</Text>
          {title === undefined ? null : <Text kind="heading" tone="white">{title}</Text>}
        </View>
      </View>
      <View style={styles.main} role="main">
        <View style={styles.column}>{body()}</View>
      </View>
    </ScrollView>
  );

  function body() {
    switch (state.at) {
      case 'loading':
        return <Loading what={words.loading} />;
      case 'ask':
        return (
          <AskPage
            room={state.room}
            again={state.again}
            visit={visit!}
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
          <Stack>
            <Suspense fallback={<Loading what={words.opening} />}>
              <MessageView content={state.opened.content} handling={state.opened.handling} reader={state.opened.reader} officeName={state.room.officeName} now={now} pdfBase="/room/pdf" onUse={use} />
              <ReplyPanel visit={visit!} answered={state.opened.content} reader={state.opened.reader} rights={state.opened.handling.rights} now={now} draft={draft} onProblem={problem} />
              {state.opened.handling.rights.forward ? <ForwardPanel visit={visit!} handling={state.opened.handling} now={now} onProblem={problem} /> : null}
            </Suspense>
            <View>
              <TextButton label={words.leave} onPress={() => void leave(visit!).then(() => setState({ at: 'left' }), fail)} />
              <Text kind="small" tone="soft">{words.leaveHint}</Text>
            </View>
          </Stack>
        );
      case 'ended': {
        const date = momentInWords(state.room.endedAt, now, zone, language);
        const withdrawn = state.room.state === 'withdrawn';
        return (
          <Outcome title={withdrawn ? words.withdrawnTitle : words.closedTitle} form="○">
            {withdrawn ? words.withdrawn(state.room.senderName, date) : words.closed(state.room.senderName, date)}
            {` ${words.senderReach(state.room.senderAddress)}`}
          </Outcome>
        );
      }
      case 'not-for-you':
        return <Outcome title={words.notForYouTitle} form="■">{words.notForYou(state.senderName)}</Outcome>;
      case 'wrong-link':
        return <Outcome title={words.wrongTitle} form="■">{words.wrong}</Outcome>;
      case 'paused':
        return <Outcome title={words.pausedTitle} form="■" again={enter}>{words.paused(momentInWords(state.until, now, zone, language))}</Outcome>;
      case 'stopped':
        return <Outcome title={words.stoppedTitle} form="■" again={enter}>{`${words.stopped(state.room.senderName)} ${words.senderReach(state.room.senderAddress)}`}</Outcome>;
      case 'offline':
        return <Outcome title={words.offlineTitle} form="▲" again={enter}>{words.offline}</Outcome>;
      case 'failed':
        return <Outcome title={words.failedTitle} form="■" again={enter}>{state.damaged ? words.damagedMessage : words.failed}</Outcome>;
      case 'left':
        return <Outcome title={words.leftTitle} form="○" again={enter} label={words.startAgain}>{words.left}</Outcome>;
    }
  }
}

function Outcome({ title, form, children, again, label = words.tryAgain }: { title: string; form: string; children: React.ReactNode; again?: () => Promise<void>; label?: string }) {
  return (
    <Stack>
      <Heading level={1}>{`${form} ${title}`}</Heading>
      <Text>{children}</Text>
      {again === undefined ? null : <Button label={label} onPress={() => void again()} />}
    </Stack>
  );
}

const styles = StyleSheet.create({
  page: { flex: 1, backgroundColor: colour.paper },
  grow: { flexGrow: 1 },
  band: { backgroundColor: colour.sea, paddingHorizontal: space.l, paddingVertical: space.l },
  main: { padding: space.l, paddingTop: space.xl },
  column: { width: '100%', maxWidth: measure.column, alignSelf: 'center' },
});
