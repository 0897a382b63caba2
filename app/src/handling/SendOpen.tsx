/** Sending open is an act of its own: apart from the presets, with a reason, and taken back by one press. */
import { type Preset } from '@under-lock/contract/handling';
import { Banner, Button, Choice, Dialog, Field, Row, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';

const MAX_REASON = 300; // characters
/** Shorter says nothing to whoever asks later. */
const LEAST_REASON = 5; // characters

interface Props {
  /** Those that leave open. */
  presets: readonly Preset[];
  /** The one in force, and why, when the message is to leave open. */
  chosen: Preset | undefined;
  reason: string | undefined;
  onOpen: (presetId: string, reason: string) => void;
  onLock: () => void;
}

export function SendOpen({ presets, chosen, reason, onOpen, onLock }: Props) {
  const [asking, setAsking] = useState(false);
  const [presetId, setPresetId] = useState<string | undefined>();
  const [typed, setTyped] = useState('');
  const [tried, setTried] = useState(false);
  if (chosen !== undefined) {
    return (
      <Banner tone="amber" actions={<Button label="Send it under lock instead" onPress={onLock} />}>
        {`It leaves open, under “${chosen.name}”: anybody on its way can read it, and nobody can close or withdraw it. Your reason: “${reason ?? ''}”`}
      </Banner>
    );
  }
  const wanted = presets.find(({ id }) => id === presetId) ?? presets[0];
  if (wanted === undefined) return null;
  const short = typed.trim().length < LEAST_REASON;
  const close = (): void => {
    setAsking(false);
    setTried(false);
  };
  const take = (): void => {
    setTried(true);
    if (short) return;
    onOpen(wanted.id, typed.trim());
    close();
  };
  return (
    <>
      <Row>
        <Button
          kind="quiet"
          label="Nothing in it is secret …"
          describe="Nothing in it is secret: send it open"
          onPress={() => setAsking(true)}
        />
      </Row>
      <Dialog
        title="Send it open?"
        open={asking}
        onClose={close}
        actions={
          <>
            <Button kind="stop" label="Let it leave open" onPress={take} />
            <Button label="Keep it under lock" onPress={close} />
          </>
        }
      >
        <Stack>
          <Text>
            It leaves as ordinary mail. Anybody on its way can read it, and nobody can close or withdraw it afterwards.
          </Text>
          {presets.length === 1 ? (
            <Text kind="small" tone="soft">{`Under “${wanted.name}”. ${wanted.sentence}`}</Text>
          ) : (
            <Choice
              label="What it is"
              value={wanted.id}
              onChange={setPresetId}
              options={presets.map(({ id, name, sentence }) => ({ value: id, label: name, detail: sentence }))}
            />
          )}
          <Field
            label="Why nothing in it is secret"
            value={typed}
            onChangeText={setTyped}
            maxLength={MAX_REASON}
            hint="Kept with the message; the office can read it."
            error={tried && short ? 'Say in a few words why anybody may read it.' : undefined}
          />
        </Stack>
      </Dialog>
    </>
  );
}
