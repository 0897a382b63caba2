/** A certificate made for them: the key on this device, the signature by the office's authority, both in one file. */
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { Banner, Button, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { save } from '../files/save';
import { PasswordPairFields } from '../PasswordPairFields';
import { type FormProps } from './form';
import { type ChoosingDoor } from './door';
import { TryMail } from './TryMail';
import { keyPasswordProblem } from './typed';
import { chooseWords } from './words';

type Made = Awaited<ReturnType<ChoosingDoor['make']>>;

export function MadeForm({ onKeep, error, ...form }: FormProps) {
  const { choosing, door, busy, attempt } = form;
  const [pair, setPair] = useState<PasswordPair>({ first: '', second: '' });
  const [made, setMade] = useState<Made | undefined>();
  const [tried, setTried] = useState(false);
  const make = () =>
    attempt(async () => {
      const problem = keyPasswordProblem(pair);
      if (problem !== undefined) return problem;
      const next = await door.make(choosing, pair.first);
      save(next.file);
      setMade(next);
      setPair({ first: '', second: '' });
      return undefined;
    });
  if (made !== undefined)
    return (
      <Stack>
        <Banner tone="sea">{chooseWords.made(made.file.name)}</Banner>
        {chooseWords.madeSteps.map((step) => (
          <Text key={step} kind="small">{`– ${step}`}</Text>
        ))}
        {error}
        {tried ? <Banner tone="sea">{chooseWords.tryMailHint}</Banner> : null}
        <Row>
          <Button label={chooseWords.saveAgain} busy={busy} onPress={() => save(made.file)} />
          <TryMail {...form} choice={() => Promise.resolve(made.choice)} onTried={() => setTried(true)} />
          <Button
            kind="main"
            label={chooseWords.keep}
            busy={busy}
            onPress={() => void attempt(async () => void (await onKeep(made.choice)))}
          />
        </Row>
      </Stack>
    );
  return (
    <Stack>
      <Text kind="small" tone="soft">
        {chooseWords.madeHint}
      </Text>
      <PasswordPairFields
        labels={{
          first: chooseWords.filePassword,
          hint: chooseWords.filePasswordHint,
          second: chooseWords.passwordAgain,
          show: chooseWords.show,
          hide: chooseWords.hide,
        }}
        pair={pair}
        onChange={setPair}
      />
      {error}
      <Row>
        <Button kind="main" label={chooseWords.make} busy={busy} onPress={() => void make()} />
      </Row>
    </Stack>
  );
}
