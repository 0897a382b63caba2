/** The reading room: from the link to the message, one page for each state. */
import { momentInWords } from '@under-lock/core/when';
import { Button, Heading, Loading, Outcome, Progress, Row, Stack, TextButton } from '@under-lock/ui';
import { later } from '@under-lock/ui/later';
import { useCallback, useLayoutEffect, useMemo, useState } from 'react';
import { AskPage } from './AskPage';
import { useNow } from './clock';
import { Ended } from './Ended';
import { Frame } from './Frame';
import { isEarlyAsking, showInstead, takeBegun } from './early/over';
import { Entry } from './list/later';
import { keptDraft } from './reply-draft';
import { type RoomState, type RoomWalk, useRoom } from './useRoom';
import { askDoor, askLeave } from './visit';
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

/** An early page that asks stays until this one has more to say than that it looks. */
function useShownInstead(isLooking: boolean): void {
  useLayoutEffect(() => {
    if (!isLooking || !isEarlyAsking()) showInstead();
  }, [isLooking]);
}

export function RoomPage() {
  const walk = useRoom();
  const { state, visit } = walk;
  useShownInstead(state.at === 'loading');
  const here = 'room' in state ? state.room : undefined;
  // Whose room it is was known before it went no further.
  const [before, setBefore] = useState(here);
  if (here !== undefined && here !== before) setBefore(here);
  const about = here ?? before;
  const title =
    state.at === 'reading' ? words.forReader(state.opened.reader.name || state.opened.reader.address) : undefined;
  return (
    <Frame officeName={about?.officeName} colour={about?.colour} title={title}>
      {visit?.byAccount === true ? (
        <Row>
          <TextButton label={backTo(words.list)} onPress={() => window.location.assign('/room/list')} />
        </Row>
      ) : null}
      <Place {...walk} />
    </Frame>
  );
}

function Place(walk: RoomWalk) {
  const { state, visit, go, open, failed } = walk;
  const now = useNow();
  const door = useMemo(() => (visit === undefined ? undefined : askDoor(visit)), [visit]);
  // A reply being written outlives a new identity check, and a reload.
  const [draft] = useState(() => keptDraft(walk.arrival?.id ?? ''));
  const use = useCallback((what: 'saved' | 'printed') => askLeave(visit!, what), [visit]);
  switch (state.at) {
    case 'loading':
      return <Loading what={words.loading} />;
    case 'entry':
      return <Entry grantId={state.grantId} onEntered={walk.entered} onProblem={walk.notEntered} />;
    case 'file':
      return (
        <GivePage
          grantId={state.grantId}
          room={state.room}
          hasShare={visit !== undefined || state.room.check.kind === 'password'}
          now={now}
          onGiven={walk.given}
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
          onNotMine={() => go({ at: 'not-for-you', senderName: state.room.senderName })}
          onProblem={failed}
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
          onLeave={() => walk.leaveIt(() => (draft.current = undefined))}
          onProblem={failed}
        />
      );
    case 'ended':
      return <Ended room={state.room} now={now} />;
    default:
      return <Stopped state={state} now={now} onAgain={walk.again} />;
  }
}

type StoppedState = Extract<
  RoomState,
  { at: 'not-for-you' | 'wrong-link' | 'paused' | 'stopped' | 'offline' | 'failed' | 'left' }
>;

/** Where it goes no further, for now or at all. */
function Stopped({ state, now, onAgain }: { state: StoppedState; now: Date; onAgain: () => void }) {
  const again = <Button label={words.tryAgain} onPress={onAgain} />;
  switch (state.at) {
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
        <Outcome title={words.pausedTitle} form="■" actions={again}>
          {words.paused(momentInWords(state.until, now, zone, language))}
        </Outcome>
      );
    case 'stopped':
      return (
        <Outcome
          title={words.stoppedTitle}
          form="■"
          actions={again}
        >{`${words.stopped(state.room.senderName)} ${words.senderReach(state.room.senderAddress)}`}</Outcome>
      );
    case 'offline':
      return (
        <Outcome title={words.offlineTitle} form="▲" actions={again}>
          {words.offline}
        </Outcome>
      );
    case 'failed':
      return (
        <Outcome title={words.failedTitle} form="■" actions={again}>
          {state.damaged ? words.damagedMessage : words.failed}
        </Outcome>
      );
    case 'left':
      return (
        <Outcome title={words.leftTitle} form="○" actions={<Button label={words.startAgain} onPress={onAgain} />}>
          {words.left}
        </Outcome>
      );
  }
}
