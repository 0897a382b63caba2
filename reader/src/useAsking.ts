/** What a reader is asked before reading, and what they answer: the page's state, and its acts. */
import { defined } from '@under-lock/core/defined';
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { type IdentityCheck, isPasscodeWay } from '@under-lock/core/handling/handling';
import { readPasscode } from '@under-lock/core/identity/passcode';
import { readTold } from '@under-lock/core/identity/told';
import { useEffect, useRef, useState } from 'react';
import { useSecondsUntil } from './clock';
import { type Begun } from './early/handover';
import { type AskDoor } from './visit';
import { words } from './words/words';

/** A held message whose check is passed on this page; a password is asked elsewhere. */
export type Asking = Omit<Extract<Room, { state: 'held' }>, 'check'> & {
  check: Extract<Room, { state: 'held' }>['check'] & { kind: IdentityCheck };
};

export interface AskingProps {
  room: Asking;
  door: AskDoor;
  /** What was begun on the early page, before this one was there. */
  takeBegun?: () => Begun | undefined;
  onIdentified: () => void;
  onNotMine: () => void;
  onProblem: (error: unknown) => void;
}

/** The question behind the link; `lost` when this link does not open it. */
function useQuestion(door: AskDoor, sealed: Uint8Array | undefined): { text: string } | 'lost' | undefined {
  const [question, setQuestion] = useState<{ text: string } | 'lost' | undefined>();
  useEffect(() => {
    if (sealed !== undefined)
      door.readQuestion(sealed).then(
        (text) => setQuestion({ text }),
        () => setQuestion('lost'),
      );
  }, [door, sealed]);
  return question;
}

interface Wrong {
  at: 'passcode' | 'answer' | 'page';
  text: string;
}

/** What is said of it in place; until when no further passcode is sent; undefined where the page can't go on. */
function saidOf(problem: unknown, { check, senderName }: Asking): Wrong | Date | undefined {
  const byTold = check.kind === 'told';
  if (isProblem(problem, 'passcode-wrong'))
    return {
      at: 'passcode',
      text: (byTold ? words.wrongOneTime : words.wrongPasscode)(problem.details.triesLeft ?? 0),
    };
  if (isProblem(problem, 'answer-wrong'))
    return { at: 'answer', text: words.wrongAnswer(problem.details.triesLeft ?? 0) };
  if (isProblem(problem, 'passcode-expired'))
    return { at: 'passcode', text: byTold ? words.usedOneTime(senderName) : words.usedPasscode };
  if (isProblem(problem, 'passcode-too-soon')) return new Date(problem.details.until ?? Date.now());
  if (isProblem(problem, 'unreachable') && problem.details.status === 502)
    return { at: 'page', text: words.couldNotSend };
  return undefined;
}

/** What was typed, as it is sent; or what is missing of it. */
function answersIn({ check }: Asking, typed: string, answer: string): Wrong | Parameters<AskDoor['identify']>[0] {
  const [byPasscode, byTold] = [isPasscodeWay(check.kind), check.kind === 'told'];
  const passcode = byPasscode ? readPasscode(typed) : undefined;
  const told = byTold ? readTold(typed) : undefined;
  if (byPasscode && passcode === undefined) return { at: 'passcode', text: words.sixDigits };
  if (byTold && told === undefined) return { at: 'passcode', text: words.eightDigits };
  if (check.question !== undefined && answer.trim() === '') return { at: 'answer', text: words.answerEmpty };
  return { ...defined({ passcode, told }), ...(check.question === undefined ? {} : { answer }) };
}

/** One act at a time; what went wrong with it. */
function useActs(room: Asking, onWait: (until: Date) => void, onProblem: (error: unknown) => void, isBusy: boolean) {
  const [wrong, setWrong] = useState<Wrong | undefined>();
  const [busy, setBusy] = useState(isBusy);
  const attempt = async (task: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setWrong(undefined);
    try {
      await task();
    } catch (problem) {
      const said = saidOf(problem, room);
      if (said === undefined) onProblem(problem);
      else if (said instanceof Date) onWait(said);
      else setWrong(said);
    } finally {
      setBusy(false);
    }
  };
  return { wrong, setWrong, busy, attempt };
}

function useEntered(begun: Begun | undefined) {
  const [typed, setTyped] = useState(begun?.typed ?? '');
  const [answer, setAnswer] = useState(begun?.answer ?? '');
  return { typed, setTyped, answer, setAnswer };
}

/** What was begun is gone on with, once. */
function useBegun(begun: Begun | undefined, acts: { ask(): void; enter(): void; sayNotMine(): void }): void {
  const first = useRef(acts);
  useEffect(() => {
    if (begun?.asking === true) first.current.ask();
    else if (begun?.press === 'open') first.current.enter();
    else if (begun?.press === 'not-mine') first.current.sayNotMine();
  }, [begun]);
}

export function useAsking({ room, door, takeBegun, onIdentified, onNotMine, onProblem }: AskingProps) {
  const { check } = room;
  const [begun] = useState(() => takeBegun?.());
  const [resendAt, setResendAt] = useState(begun?.resendAt === undefined ? undefined : new Date(begun.resendAt));
  const entered = useEntered(begun);
  const [wish, setWish] = useState<'none' | 'writing' | 'told'>(begun?.press === 'other-way' ? 'writing' : 'none');
  const { wrong, setWrong, busy, attempt } = useActs(room, setResendAt, onProblem, begun?.asking === true);
  const question = useQuestion(door, check.question);
  const wait = useSecondsUntil(resendAt);
  const ask = (): void =>
    void attempt(async () => {
      entered.setTyped('');
      setResendAt((await door.askPasscode()).resendAt);
    });
  const enter = (): void => {
    const answers = answersIn(room, entered.typed, entered.answer);
    if ('at' in answers) return setWrong(answers);
    return void attempt(async () => {
      await door.identify(answers);
      onIdentified();
    });
  };
  const sayNotMine = (): void =>
    void attempt(async () => {
      await door.sayNotForMe();
      onNotMine();
    });
  const tellWish = (said: string): void =>
    void attempt(async () => {
      await door.askOtherWay(said);
      setWish('told');
    });
  useBegun(begun, { ask, enter, sayNotMine });
  return {
    room,
    question,
    wait,
    sent: resendAt !== undefined,
    ...entered,
    wish,
    setWish,
    busy,
    ask,
    enter,
    sayNotMine,
    tellWish,
    wrongAt: (place: Wrong['at']): string | undefined => (wrong?.at === place ? wrong.text : undefined),
  };
}
export type AskingState = ReturnType<typeof useAsking>;
