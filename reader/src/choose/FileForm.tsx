/** A locked file in the mailbox, under a password they set: tried on this device before it is kept. */
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { type Container, CONTAINERS } from '@under-lock/core/ways/file-way';
import { Banner, Button, Choice, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { save } from '../files/save';
import { PasswordPairFields } from '../PasswordPairFields';
import { language } from '../words/words';
import { type FormProps } from './form';
import { filePasswordProblem } from './typed';
import { zone } from '../zone';
import { chooseWords } from './words';

/** The most usual first. */
const ORDER: readonly Container[] = ['pdf', ...CONTAINERS.filter((one) => one !== 'pdf')];

export function FileForm({ choosing, door, officeName, busy, attempt, onKeep, error }: FormProps) {
  const [container, setContainer] = useState<Container>('pdf');
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [tried, setTried] = useState(false);
  const change = (next: PasswordPair): void => {
    setPair(next);
    setTried(false);
  };
  const guessed = async (): Promise<{ guesses: number } | { problem: string }> => {
    const problem = filePasswordProblem(pair);
    if (problem !== undefined) return { problem };
    const guesses = await door.guesses(pair.first, [choosing.name, choosing.address, officeName]);
    return guesses < choosing.leastGuesses ? { problem: chooseWords.passwordProblems.weak() } : { guesses };
  };
  const tryIt = () =>
    attempt(async () => {
      const found = await guessed();
      if ('problem' in found) return found.problem;
      save(
        await door.sample({
          container,
          password: pair.first,
          officeName,
          language,
          subject: chooseWords.sampleSubject,
          text: chooseWords.sampleText,
          zone,
          now: new Date(),
        }),
      );
      setTried(true);
      return undefined;
    });
  const keep = () =>
    attempt(async () => {
      const found = await guessed();
      if ('problem' in found) return found.problem;
      await onKeep({ way: 'file', container, password: pair.first, guesses: found.guesses });
      return undefined;
    });
  return (
    <Stack>
      <Choice
        label={chooseWords.kindOfFile}
        value={container}
        onChange={(next) => {
          setContainer(next);
          setTried(false);
        }}
        options={ORDER.map((value) => ({ value, label: chooseWords.containers[value] }))}
      />
      <PasswordPairFields
        labels={{
          first: chooseWords.password,
          hint: chooseWords.passwordHint,
          second: chooseWords.passwordAgain,
          show: chooseWords.show,
          hide: chooseWords.hide,
        }}
        pair={pair}
        onChange={change}
      />
      {error}
      {tried ? <Banner tone="sea">{chooseWords.tryHint}</Banner> : null}
      <Row>
        <Button label={chooseWords.tryFirst} busy={busy} onPress={() => void tryIt()} />
        <Button kind="main" label={chooseWords.keep} busy={busy} onPress={() => void keep()} />
      </Row>
    </Stack>
  );
}
