/** Of an account: the language of its notices, where it is signed in, and a copy of all that is in it. */
import { type Language } from '@under-lock/core/language';
import { momentInWords } from '@under-lock/core/when';
import { Button, Line, Panel, Result, Row, type Said, Section, Select, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import useSWR from 'swr';
import { useNow } from '../clock';
import { save } from '../files/save';
import { ownLanguages } from '../LanguageChoice';
import { language } from '../words/words';
import { endDevice, listDevices, type Session, setLanguage, takeAlong } from './account';
import { sayProblem } from './problems';
import { listWords } from './words';
import { zone } from '../zone';

export function LanguagePanel({ session }: { session: Session }) {
  const [chosen, setChosen] = useState(session.language);
  const [said, setSaid] = useState<Said>();
  const choose = (next: Language): void => {
    const before = chosen;
    setChosen(next);
    setLanguage(next).then(
      () => setSaid({ tone: 'sea', text: listWords.languageKept }),
      (error: unknown) => {
        setChosen(before);
        setSaid({ tone: 'brick', text: sayProblem(error) });
      },
    );
  };
  return (
    <Section title={listWords.language}>
      <Stack>
        <Select label={listWords.languageOfNotices} value={chosen} onChange={choose} options={ownLanguages} />
        <Result said={said} />
      </Stack>
    </Section>
  );
}

export function DevicesPanel({ session }: { session: Session }) {
  const now = useNow();
  const { data: devices = [], mutate } = useSWR(['devices', session.reader.id], listDevices);
  const [error, setError] = useState<string | undefined>();
  if (devices.length === 0) return null;
  return (
    <Section title={listWords.devices} aside={String(devices.length)}>
      <Stack>
        <Result said={error} />
        <Panel>
          {devices.map(({ id, device, createdAt, lastSeenAt, here }, index) => (
            <Line key={id} last={index === devices.length - 1}>
              <Text>{device || listWords.unknownDevice}</Text>
              <Text kind="small" tone="soft">
                {here
                  ? listWords.thisDevice
                  : listWords.seenDevice(
                      momentInWords(createdAt, now, zone, language),
                      momentInWords(lastSeenAt, now, zone, language),
                    )}
              </Text>
              {here ? null : (
                <Row>
                  <Button
                    kind="quiet"
                    label={listWords.endDevice}
                    describe={`${listWords.endDevice}: ${device}`}
                    onPress={() =>
                      void endDevice(id)
                        .catch((problem: unknown) => setError(sayProblem(problem)))
                        .finally(() => mutate())
                    }
                  />
                </Row>
              )}
            </Line>
          ))}
        </Panel>
      </Stack>
    </Section>
  );
}

export function TakeAlongPanel({ session, officeName }: { session: Session; officeName: string }) {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const take = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      save({ name: 'my-data.zip', bytes: await takeAlong(session, officeName) });
    } catch (problem) {
      setError(sayProblem(problem));
    }
    setBusy(false);
  };
  return (
    <Section title={listWords.takeAlong}>
      <Stack>
        <Text kind="small" tone="soft">
          {listWords.takeAlongHint}
        </Text>
        <Result said={error} />
        <Row>
          <Button label={listWords.takeAlongNow} busy={busy} onPress={() => void take()} />
        </Row>
      </Stack>
    </Section>
  );
}
