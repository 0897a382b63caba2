/** The words under a worker's messages. */
import { Banner, Button, Field, Line, Loading, Panel, Result, Row, Section, Stack } from '@under-lock/ui';
import { useState } from 'react';
import useSWR from 'swr';
import { type ClosingWords, keepClosingWords, MAX_CLOSING_WORDS, readClosingWords } from '../vault/closing-words';
import { problemWords } from '../problem-words';

export function ClosingWordsPanel() {
  const { data, error, mutate } = useSWR('closing-words', readClosingWords, { revalidateOnFocus: false });
  return (
    <Section title="Under your messages">
      <Panel>
        <Line last>
          {error !== undefined ? (
            <Banner tone="brick">{problemWords(error)}</Banner>
          ) : data === undefined ? (
            <Loading what="Looking for your words" />
          ) : (
            <Form key={data.revision} kept={data} onKept={() => mutate()} />
          )}
        </Line>
      </Panel>
    </Section>
  );
}

function Form({ kept, onKept }: { kept: ClosingWords; onKept: () => Promise<unknown> }) {
  const [text, setText] = useState(kept.text);
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const save = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      await keepClosingWords({ text, revision: kept.revision });
      await onKept();
    } catch (error) {
      setFailed(problemWords(error));
      setBusy(false);
    }
  };
  return (
    <Stack>
      <Field
        label="Your name, office, telephone"
        value={text}
        onChangeText={setText}
        multiline
        maxLength={MAX_CLOSING_WORDS}
        hint="A new message begins with these words below it. They are sealed in your vault."
      />
      <Result said={failed} />
      {text === kept.text && kept.revision > 0 && text !== '' ? <Banner tone="sea">Kept.</Banner> : null}
      <Row>
        <Button label="Keep these words" busy={busy} disabled={text === kept.text} onPress={() => void save()} />
      </Row>
    </Stack>
  );
}
