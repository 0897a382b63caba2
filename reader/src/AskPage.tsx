/** Before reading: who wrote, what is asked, and the passcode. Nothing is sent until the reader says so. */
import { isProblem } from '@under-lock/contract/problem';
import { type Room } from '@under-lock/contract/room';
import { readPasscode } from '@under-lock/core/passcode/passcode';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Field, Heading, Stack, Text, TextButton } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { askPasscode, enterPasscode, sayNotForMe, type visitFromAddress } from './visit';
import { language, words } from './words/words';

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

interface Props {
  room: Extract<Room, { state: 'held' }>;
  visit: NonNullable<ReturnType<typeof visitFromAddress>>;
  now: Date;
  again: boolean;
  onIdentified: () => void;
  onNotMine: () => void;
  onProblem: (error: unknown) => void;
}

function useSecondsUntil(moment: Date | undefined): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (moment === undefined) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [moment]);
  return moment === undefined ? 0 : Math.max(0, Math.ceil((moment.getTime() - now) / 1000));
}

export function AskPage({ room, visit, now, again, onIdentified, onNotMine, onProblem }: Props) {
  const [resendAt, setResendAt] = useState<Date | undefined>();
  const [typed, setTyped] = useState('');
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const wait = useSecondsUntil(resendAt);
  const asked = resendAt !== undefined;
  const { kind, hint } = room.check;

  const attempt = async (task: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      await task();
    } catch (problem) {
      if (isProblem(problem, 'passcode-wrong')) setError(words.wrongPasscode(problem.details.triesLeft ?? 0));
      else if (isProblem(problem, 'passcode-expired')) setError(words.usedPasscode);
      else if (isProblem(problem, 'passcode-too-soon')) setResendAt(new Date(problem.details.until ?? Date.now()));
      else if (isProblem(problem, 'unreachable') && problem.details.status === 502) setError(words.couldNotSend);
      else onProblem(problem);
    } finally {
      setBusy(false);
    }
  };
  const ask = (): void =>
    void attempt(async () => {
      setTyped('');
      setResendAt((await askPasscode(visit)).resendAt);
    });
  const enter = (): void => {
    const passcode = readPasscode(typed);
    if (passcode === undefined) return setError(words.sixDigits);
    return void attempt(async () => {
      await enterPasscode(visit, passcode);
      onIdentified();
    });
  };

  return (
    <Stack>
      {again ? <Banner tone="amber">{`${words.againTitle}. ${words.again}`}</Banner> : null}
      <Stack>
        <Heading level={1}>{words.hasWritten(room.senderName)}</Heading>
        <Text tone="soft">{room.senderAddress}</Text>
        <Text>{words.heldUntil(momentInWords(room.closesAt, now, zone, language), distanceInWords(room.closesAt, now, zone, language))}</Text>
      </Stack>
      {asked ? (
        <Stack>
          <Text>{kind === 'text' ? words.passcodeSentByText(hint) : words.passcodeSentByEmail(hint)}</Text>
          <Field
            label={words.passcode}
            value={typed}
            onChangeText={setTyped}
            onSubmitEditing={enter}
            error={error}
            code
            autoFocus
            inputMode="numeric"
            autoComplete="one-time-code"
            maxLength={60}
          />
          <Button kind="main" label={words.open} onPress={enter} busy={busy} />
          {wait > 0 ? <Text kind="small" tone="soft">{words.sendAgainIn(wait)}</Text> : <Button label={words.sendAgain} onPress={ask} disabled={busy} />}
        </Stack>
      ) : (
        <Stack>
          <Heading level={2}>{words.whatWeAsk}</Heading>
          <Text>{kind === 'text' ? words.byText(hint) : words.byEmail(hint)}</Text>
          <Text tone="soft">{words.nothingSentYet}</Text>
          {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
          <Button kind="main" label={words.sendPasscode} onPress={ask} busy={busy} />
        </Stack>
      )}
      <TextButton label={words.notMine} onPress={() => void attempt(async () => { await sayNotForMe(visit); onNotMine(); })} />
    </Stack>
  );
}
