/** How a reader wants to be written to from now on: one question, what follows from each answer in two lines. */
import { isProblem } from '@under-lock/contract/problem';
import { type Choice } from '@under-lock/core/choosing/choice';
import { dayInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Heading, Loading, Result, Row, Section, Stack, Text, TextButton } from '@under-lock/ui';
import { useCallback, useEffect, useRef, useState } from 'react';
import { backTo, language } from '../words/words';
import { type Choosing, type ChoosingDoor } from './door';
import { FileForm } from './FileForm';
import { type FormProps } from './form';
import { MadeForm } from './MadeForm';
import { OwnForm } from './OwnForm';
import { sayProblem } from './typed';
import { chooseWords } from './words';
import { type Way, WayCards } from './WayCards';
import { zone } from '../zone';

/** Below the message. */
export function ChooseOffer({ onChoose }: { onChoose: () => void }) {
  return (
    <Section title={chooseWords.offer}>
      <Stack>
        <Text kind="small" tone="soft">
          {chooseWords.offerHint}
        </Text>
        <Row>
          <Button label={chooseWords.choose} onPress={onChoose} />
        </Row>
      </Stack>
    </Section>
  );
}

interface Props {
  door: ChoosingDoor;
  officeName: string;
  closesAt: Date;
  now: Date;
  onBack: () => void;
  onProblem: (error: unknown) => void;
}

const wayOf = ({ chosen }: Choosing): Way =>
  chosen === undefined || chosen.way === 'none'
    ? 'room'
    : chosen.way === 'certificate' || chosen.way === 'openpgp'
      ? 'own'
      : chosen.way;

/** Back in the browser leads to the message, and not out of the room. */
function useBrowserBack(onBack: () => void): void {
  const back = useRef(onBack);
  back.current = onBack;
  useEffect(() => {
    const gone = (): void => back.current();
    window.history.pushState({ choosing: true }, '');
    window.addEventListener('popstate', gone);
    return () => window.removeEventListener('popstate', gone);
  }, []);
}

/** What stands, what is being chosen, and the two acts; what goes wrong is said here unless the page has to end. */
function useChoosing({ door, onProblem }: Pick<Props, 'door' | 'onProblem'>) {
  const [choosing, setChoosing] = useState<Choosing | undefined>();
  const [picked, setPicked] = useState<Way | undefined>();
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const [done, setDone] = useState<string | undefined>();
  useEffect(() => {
    door.look().then(setChoosing, onProblem);
  }, [door, onProblem]);
  const attempt = useCallback(
    async (act: () => Promise<string | undefined>): Promise<void> => {
      setBusy(true);
      setError(undefined);
      try {
        setError(await act());
      } catch (problem) {
        if (isProblem(problem, 'not-identified', 'grant-closed', 'grant-withdrawn')) onProblem(problem);
        else setError(sayProblem(problem));
      }
      setBusy(false);
    },
    [onProblem],
  );
  const keep = async (choice: Choice): Promise<void> => {
    const { at } = await door.keep(choice);
    setChoosing({ ...choosing!, chosen: choice.way === 'none' ? undefined : { way: choice.way, at } });
    setDone(choice.way === 'none' ? chooseWords.takenBack : chooseWords.kept);
  };
  const pick = (next: Way): void => {
    setPicked(next);
    setError(undefined);
  };
  const way = picked ?? (choosing === undefined ? 'room' : wayOf(choosing));
  return { choosing, way, pick, busy, error, done, attempt, keep };
}

export function ChoosePage({ door, officeName, closesAt, now, onBack, onProblem }: Props) {
  const { choosing, way, pick, busy, error, done, attempt, keep } = useChoosing({ door, onProblem });
  useBrowserBack(onBack);
  if (choosing === undefined) return <Loading what={chooseWords.title} />;
  const { chosen } = choosing;
  const form: FormProps = {
    choosing,
    door,
    officeName,
    busy,
    attempt,
    onKeep: keep,
    error: <Result said={error} />,
  };
  return (
    <Stack>
      <Row>
        <TextButton label={backTo(chooseWords.back)} onPress={() => window.history.back()} />
      </Row>
      <Heading level={1}>{chooseWords.title}</Heading>
      <Text tone="soft">{chooseWords.change}</Text>
      {chosen === undefined || chosen.way === 'none' ? null : (
        <Text>{chooseWords.stands(chooseWords.names[chosen.way], dayInWords(chosen.at, now, zone, language))}</Text>
      )}
      {done === undefined ? (
        <>
          <WayCards label={chooseWords.title} value={way} onChange={pick} />
          <Form way={way} {...form} />
          <Text kind="small" tone="soft">
            {chooseWords.notNow(momentInWords(closesAt, now, zone, language))}
          </Text>
        </>
      ) : (
        <Banner tone="sea" actions={<Button label={chooseWords.back} onPress={() => window.history.back()} />}>
          {done}
        </Banner>
      )}
      {chosen === undefined || chosen.way === 'none' || done !== undefined ? null : (
        <Row>
          <Button
            kind="quiet"
            label={chooseWords.takeBack}
            busy={busy}
            onPress={() => void attempt(async () => void (await keep({ way: 'none' })))}
          />
        </Row>
      )}
    </Stack>
  );
}

function Form({ way, ...form }: FormProps & { way: Way }) {
  switch (way) {
    case 'file':
      return <FileForm {...form} />;
    case 'own':
      return <OwnForm {...form} />;
    case 'made':
      return <MadeForm {...form} />;
    case 'room':
      return (
        <>
          {form.error}
          <Row>
            <Button
              kind="main"
              label={chooseWords.keep}
              busy={form.busy}
              onPress={() => void form.attempt(async () => void (await form.onKeep({ way: 'room' })))}
            />
          </Row>
        </>
      );
  }
}
