/** The reading room as somebody walks through it: where they are, and what takes them on. */
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { type Bytes } from '@under-lock/core/bytes';
import { type Carried } from '@under-lock/core/locks/carried/read';
import { useCallback, useEffect, useRef, useState } from 'react';
import { type Visit, visitFromAddress } from './address';
import { type Asking } from './useAsking';
import { DamagedError, leave, look, type Opened, openMessage } from './visit';

export type Held = Extract<Room, { state: 'held' }>;
export type Ended = Exclude<Room, { state: 'held' }>;

export type RoomState =
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

type Arrival = ReturnType<typeof visitFromAddress>;

export const firstState = (arrival: Arrival): RoomState =>
  arrival === undefined
    ? { at: 'wrong-link' }
    : arrival.fromList
      ? { at: 'entry', grantId: arrival.id }
      : { at: 'loading' };

/** @param room What it is about, where that is known already. */
export function stateOfProblem(error: unknown, room?: Held): RoomState {
  if (isProblem(error, 'unreachable')) return { at: 'offline' };
  if (isProblem(error, 'wrong-link', 'not-found', 'invalid-input')) return { at: 'wrong-link' };
  if (isProblem(error, 'passcode-paused') && room !== undefined)
    return { at: 'paused', until: new Date(error.details.until ?? Date.now()), room };
  if (isProblem(error, 'passcode-stopped') && room !== undefined) return { at: 'stopped', room };
  return { at: 'failed', damaged: error instanceof DamagedError };
}

/**
 * Where a look at the room leads; `open` where nothing stands before the message.
 * @param again Asked once more, since what was proved counts no longer.
 */
export function stateOfRoom(visit: Visit, room: Room, again: boolean): RoomState | 'open' {
  if (room.state !== 'held') return { at: 'ended', room };
  // First of all the file: nobody is to ask for a passcode in vain.
  if (room.carried && visit.sealed === undefined) return { at: 'file', grantId: visit.id, room };
  if (room.identified) return 'open';
  // The sign-in is asked again before anything else is.
  if (visit.byAccount === true && again) return { at: 'entry', grantId: visit.id };
  return isAsking(room) ? { at: 'ask', room, again } : { at: 'entry', grantId: visit.id };
}

/** A link without its second half: right for who signs in, and incomplete for everybody else. */
export function stateOfIncomplete(grantId: string, room: Room): RoomState {
  if (room.state !== 'held') return { at: 'ended', room };
  if (room.carried) return { at: 'file', grantId, room };
  return room.check.kind === 'password' ? { at: 'entry', grantId } : { at: 'wrong-link' };
}

type Go = (state: RoomState) => void;

/** Looking, and opening what nothing stands before. */
function useEntering(visit: Visit | undefined, go: Go) {
  const open = useCallback(
    async (room: Held) => {
      if (visit === undefined) return;
      go({ at: 'opening', room, done: 0 });
      try {
        const opened = await openMessage(visit, { name: room.senderName, address: room.senderAddress }, (done) =>
          go({ at: 'opening', room, done }),
        );
        go({ at: 'reading', room, opened });
      } catch (error) {
        if (isProblem(error, ...lookAgain)) await entering.current(true);
        else go(stateOfProblem(error, room));
      }
    },
    [visit, go],
  );
  const enter = useCallback(
    async (again = false) => {
      if (visit === undefined) return;
      try {
        const room = await look(visit);
        const next = stateOfRoom(visit, room, again);
        if (next !== 'open') go(next);
        else if (room.state === 'held') await open(room);
      } catch (error) {
        go(stateOfProblem(error));
      }
    },
    [visit, open, go],
  );
  // The two call one another.
  const entering = useRef(enter);
  entering.current = enter;
  useEffect(() => void enter(), [enter]);
  return { open, enter };
}

function useIncomplete(arrival: Arrival, go: Go): void {
  useEffect(() => {
    if (arrival === undefined || arrival.share !== undefined || arrival.fromList) return;
    look(arrival).then(
      (room) => go(stateOfIncomplete(arrival.id, room)),
      (error: unknown) => go(stateOfProblem(error)),
    );
  }, [arrival, go]);
}

/** What has been closed or withdrawn goes from the screen too, not only from the server. */
function useEnding(state: RoomState, visit: Visit | undefined, go: Go): void {
  const closesAt = state.at === 'reading' ? state.opened.handling.closesAt : undefined;
  useEffect(() => {
    if (closesAt === undefined || visit === undefined) return undefined;
    const timer = setInterval(() => {
      look(visit).then(
        (room) => room.state !== 'held' && go({ at: 'ended', room }),
        () => new Date() >= closesAt && go({ at: 'offline' }),
      );
    }, LOOK_AGAIN_MS);
    return () => clearInterval(timer);
  }, [closesAt, visit, go]);
}

/** What somebody without a link, or with a file, brings along. */
function useGiven(arrival: Arrival, visit: Visit | undefined, setVisit: (visit: Visit) => void, go: Go) {
  // A carried page's content outlives the sign-in of who has an account.
  const held = useRef<Bytes | undefined>(undefined);
  const given = useCallback(
    ({ share = visit?.share, sealed }: Pick<Carried, 'share' | 'sealed'>) => {
      held.current = sealed;
      if (share !== undefined) setVisit({ id: arrival!.id, ...visit, share, sealed });
      // A registered reader's share lies in their account.
      else go({ at: 'entry', grantId: arrival!.id });
    },
    [arrival, visit, setVisit, go],
  );
  const entered = useCallback(
    (next: Visit) => {
      go({ at: 'loading' });
      setVisit(held.current === undefined ? next : { ...next, sealed: held.current });
    },
    [setVisit, go],
  );
  const notEntered = useCallback(
    (error: unknown) => {
      const fail = (problem: unknown): void => go(stateOfProblem(problem));
      // What has ended says when, also to who came without a link.
      if (isProblem(error, 'grant-closed', 'grant-withdrawn') && arrival !== undefined)
        look(arrival).then((room) => (room.state === 'held' ? fail(error) : go({ at: 'ended', room })), fail);
      else fail(error);
    },
    [arrival, go],
  );
  return { given, entered, notEntered };
}

export function useRoom() {
  const [arrival] = useState(visitFromAddress);
  const [visit, setVisit] = useState<Visit | undefined>(arrival?.share === undefined ? undefined : arrival);
  const [state, go] = useState<RoomState>(() => firstState(arrival));
  const { open, enter } = useEntering(visit, go);
  useIncomplete(arrival, go);
  useEnding(state, visit, go);
  const ways = useGiven(arrival, visit, setVisit, go);
  const room = 'room' in state && state.room.state === 'held' ? state.room : undefined;
  const failed = useCallback(
    (error: unknown) => (isProblem(error, ...lookAgain) ? void enter(true) : go(stateOfProblem(error, room))),
    [enter, room],
  );
  return {
    arrival,
    visit,
    state,
    go,
    open,
    failed,
    ...ways,
    again: () => (visit === undefined ? window.location.reload() : void enter()),
    /** @param done Once their place here has been cleared. */
    leaveIt: (done: () => void): void =>
      void leave(visit!).then(
        () => {
          done();
          go({ at: 'left' });
        },
        (error: unknown) => go(stateOfProblem(error)),
      ),
  };
}
export type RoomWalk = ReturnType<typeof useRoom>;
