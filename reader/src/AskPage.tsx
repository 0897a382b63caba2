/** Before reading: who wrote, what is asked, and the answers to it. Nothing is sent until the reader says so. */
import { defined } from '@under-lock/core/defined';
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { type IdentityCheck, isPasscodeWay } from '@under-lock/core/handling/handling';
import { readPasscode } from '@under-lock/core/identity/passcode';
import { readTold } from '@under-lock/core/identity/told';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Heading, Row, Stack, Text, TextButton } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { useSecondsUntil } from './clock';
import { type Begun } from './early/handover';
import { type AskDoor } from './visit';
import { language, words } from './words/words';
import { zone } from './zone';

/** A held message whose check is passed on this page; a password is asked elsewhere. */
export type Asking = Omit<Extract<Room, { state: 'held' }>, 'check'> & {
  check: Extract<Room, { state: 'held' }>['check'] & { kind: IdentityCheck };
};

interface Props {
  room: Asking;
  door: AskDoor;
  now: Date;
  again: boolean;
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

const asked = ({ kind, hint }: Asking['check'], senderName: string): string => {
  switch (kind) {
    case 'text':
      return words.byText(hint);
    case 'voice':
      return words.byVoice(hint);
    case 'email':
      return words.byEmail(hint);
    case 'told':
      return words.byTold(senderName);
    case 'question':
      return words.byQuestion;
  }
};
const onItsWay = ({ kind, hint }: Asking['check']): string =>
  kind === 'text'
    ? words.passcodeSentByText(hint)
    : kind === 'voice'
      ? words.passcodeSentByVoice(hint)
      : words.passcodeSentByEmail(hint);

export function AskPage({ room, door, now, again, takeBegun, onIdentified, onNotMine, onProblem }: Props) {
  const { check } = room;
  const byPasscode = isPasscodeWay(check.kind);
  const byTold = check.kind === 'told';
  const [begun] = useState(() => takeBegun?.());
  const [resendAt, setResendAt] = useState(begun?.resendAt === undefined ? undefined : new Date(begun.resendAt));
  const [typed, setTyped] = useState(begun?.typed ?? '');
  const [answer, setAnswer] = useState(begun?.answer ?? '');
  const [error, setError] = useState<{ at: 'passcode' | 'answer' | 'page'; text: string } | undefined>();
  const [busy, setBusy] = useState(begun?.asking === true);
  const [wishing, setWishing] = useState(begun?.press === 'other-way');
  const [wished, setWished] = useState(false);
  const question = useQuestion(door, check.question);
  const wait = useSecondsUntil(resendAt);
  const sent = resendAt !== undefined;
  const ready = !byPasscode || sent;

  const attempt = async (task: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      await task();
    } catch (problem) {
      if (isProblem(problem, 'passcode-wrong'))
        setError({
          at: 'passcode',
          text: (byTold ? words.wrongOneTime : words.wrongPasscode)(problem.details.triesLeft ?? 0),
        });
      else if (isProblem(problem, 'answer-wrong'))
        setError({ at: 'answer', text: words.wrongAnswer(problem.details.triesLeft ?? 0) });
      else if (isProblem(problem, 'passcode-expired'))
        setError({ at: 'passcode', text: byTold ? words.usedOneTime(room.senderName) : words.usedPasscode });
      else if (isProblem(problem, 'passcode-too-soon')) setResendAt(new Date(problem.details.until ?? Date.now()));
      else if (isProblem(problem, 'unreachable') && problem.details.status === 502)
        setError({ at: 'page', text: words.couldNotSend });
      else onProblem(problem);
    } finally {
      setBusy(false);
    }
  };
  const ask = (): void =>
    void attempt(async () => {
      setTyped('');
      setResendAt((await door.askPasscode()).resendAt);
    });
  const enter = (): void => {
    const passcode = byPasscode ? readPasscode(typed) : undefined;
    const told = byTold ? readTold(typed) : undefined;
    if (byPasscode && passcode === undefined) return setError({ at: 'passcode', text: words.sixDigits });
    if (byTold && told === undefined) return setError({ at: 'passcode', text: words.eightDigits });
    if (check.question !== undefined && answer.trim() === '')
      return setError({ at: 'answer', text: words.answerEmpty });
    return void attempt(async () => {
      await door.identify({
        ...defined({ passcode, told }),
        ...(check.question === undefined ? {} : { answer }),
      });
      onIdentified();
    });
  };
  const sayNotMine = (): void =>
    void attempt(async () => {
      await door.sayNotForMe();
      onNotMine();
    });
  useEffect(() => {
    if (begun?.asking === true) ask();
    else if (begun?.press === 'open') enter();
    else if (begun?.press === 'not-mine') sayNotMine();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was begun is gone on with once
  }, []);
  const errorAt = (place: 'passcode' | 'answer'): string | undefined => (error?.at === place ? error.text : undefined);
  const sendLabel =
    check.kind === 'voice' ? (sent ? words.callAgain : words.callMe) : sent ? words.sendAgain : words.sendPasscode;

  return (
    <Stack>
      {again ? <Banner tone="amber">{`${words.againTitle}. ${words.again}`}</Banner> : null}
      <Stack>
        <Heading level={1}>{words.hasWritten(room.senderName)}</Heading>
        <Text tone="soft">{room.senderAddress}</Text>
        <Text>
          {room.carried
            ? `${words.until(momentInWords(room.closesAt, now, zone, language))}.`
            : words.heldUntil(
                momentInWords(room.closesAt, now, zone, language),
                distanceInWords(room.closesAt, now, zone, language),
              )}
        </Text>
      </Stack>
      {ready ? null : (
        <Stack>
          <Heading level={2}>{words.whatWeAsk}</Heading>
          <Text>{asked(check, room.senderName)}</Text>
          {check.question === undefined ? null : <Text>{words.alsoQuestion}</Text>}
          <Text tone="soft">{words.nothingSentYet}</Text>
        </Stack>
      )}
      {ready ? (
        <Stack>
          {byPasscode || byTold ? (
            <>
              <Text>{byTold ? asked(check, room.senderName) : onItsWay(check)}</Text>
              <Field
                label={byTold ? words.oneTime : words.passcode}
                value={typed}
                onChangeText={setTyped}
                onSubmitEditing={enter}
                error={errorAt('passcode') ?? (check.used === true ? words.usedOneTime(room.senderName) : undefined)}
                code
                autoFocus
                inputMode="numeric"
                autoComplete={byTold ? 'off' : 'one-time-code'}
                maxLength={60}
              />
            </>
          ) : null}
          {check.question === undefined ? null : question === 'lost' ? (
            <Banner tone="brick">{words.questionLost}</Banner>
          ) : (
            <>
              <Heading level={2}>{words.question}</Heading>
              <Text>{question?.text ?? words.loading}</Text>
              <Field
                label={words.answer}
                value={answer}
                onChangeText={setAnswer}
                onSubmitEditing={enter}
                error={errorAt('answer')}
                hint={words.answerHint}
                maxLength={100}
                autoComplete="off"
                autoFocus={!byPasscode && !byTold}
              />
            </>
          )}
          {error?.at === 'page' ? <Banner tone="brick">{error.text}</Banner> : null}
          <Button kind="main" label={words.open} onPress={enter} busy={busy} />
          {!byPasscode ? null : wait > 0 ? (
            <Text kind="small" tone="soft">
              {words.sendAgainIn(wait)}
            </Text>
          ) : (
            <Button label={sendLabel} onPress={ask} disabled={busy} />
          )}
        </Stack>
      ) : (
        <Stack>
          {error?.at === 'page' ? <Banner tone="brick">{error.text}</Banner> : null}
          <Button kind="main" label={sendLabel} onPress={ask} busy={busy} />
        </Stack>
      )}
      {wished ? (
        <Banner tone="sea">{words.otherWayTold(room.senderName)}</Banner>
      ) : wishing ? (
        <OtherWay
          senderName={room.senderName}
          busy={busy}
          onCancel={() => setWishing(false)}
          onTell={(wish) =>
            void attempt(async () => {
              await door.askOtherWay(wish);
              setWishing(false);
              setWished(true);
            })
          }
        />
      ) : null}
      <Row>
        {check.kind === 'question' || wishing || wished ? null : (
          <TextButton label={words.otherWay} onPress={() => setWishing(true)} />
        )}
        <TextButton label={words.notMine} onPress={sayNotMine} />
      </Row>
    </Stack>
  );
}

function OtherWay({
  senderName,
  busy,
  onTell,
  onCancel,
}: {
  senderName: string;
  busy: boolean;
  onTell: (wish: string) => void;
  onCancel: () => void;
}) {
  const [wish, setWish] = useState('');
  return (
    <Stack>
      <Heading level={2}>{words.otherWayTitle}</Heading>
      <Text>{words.otherWayWish(senderName)}</Text>
      <Field label={words.otherWayField} value={wish} onChangeText={setWish} maxLength={200} autoFocus />
      <Row>
        <Button
          label={words.otherWaySend}
          onPress={() => onTell(wish.replace(/\s+/g, ' ').trim())}
          busy={busy}
          disabled={wish.trim() === ''}
        />
        <Button kind="quiet" label={words.cancel} onPress={onCancel} />
      </Row>
    </Stack>
  );
}
