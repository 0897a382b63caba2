/** Sending open is an act of its own: apart from the presets, with a reason, and taken back by one press. */
import { Banner, Button, Choice, Dialog, Field, Row, Stack, Text } from '@under-lock/ui';
import { capitalised } from '@under-lock/core/first-letter';

const MAX_REASON = 300; // characters
/** Shorter says nothing to whoever asks later. */
const LEAST_REASON = 5; // characters

/** What lets a message leave open: a preset for what is no secret, or a rule that acts on it. */
export interface OpenWay {
  /** Of the preset; undefined for rules. */
  presetId: string | undefined;
  name: string;
  sentence: string;
}

/** What has been answered so far to whether it is to leave open. */
export interface OpenAsked {
  /** Of the way that was chosen; undefined for the first. */
  key?: string;
  reason: string;
  /** It was pressed before the reason was there. */
  tried: boolean;
}

interface Props {
  ways: readonly OpenWay[];
  /** The one in force, and why, when the message is to leave open. */
  chosen: OpenWay | undefined;
  reason: string | undefined;
  /** Undefined while nobody asks. Kept by the page, which may show this elsewhere when the screen is turned. */
  asked: OpenAsked | undefined;
  onAsk: (asked: OpenAsked | undefined) => void;
  onOpen: (presetId: string | undefined, reason: string) => void;
  onLock: () => void;
}

const keyOf = ({ presetId, name }: OpenWay): string => presetId ?? `rule ${name}`;
const saidOf = ({ presetId, name }: OpenWay): string =>
  presetId === undefined ? `as the rule “${name}” allows` : `under “${name}”`;

const NOTHING_SAID: OpenAsked = { reason: '', tried: false };

export function SendOpen({ ways, chosen, reason, asked, onAsk, onOpen, onLock }: Props) {
  if (chosen !== undefined) {
    return (
      <Banner tone="amber" actions={<Button label="Send it under lock instead" onPress={onLock} />}>
        {`It leaves open, ${saidOf(chosen)}: anybody on its way can read it, and nobody can close or withdraw it. Your reason: “${reason ?? ''}”`}
      </Banner>
    );
  }
  const said = asked ?? NOTHING_SAID;
  const wanted = ways.find((way) => keyOf(way) === said.key) ?? ways[0];
  if (wanted === undefined) return null;
  const typed = said.reason.trim();
  const short = typed.length < LEAST_REASON;
  const close = (): void => onAsk(undefined);
  const take = (): void => {
    if (short) {
      onAsk({ ...said, tried: true });
      return;
    }
    onOpen(wanted.presetId, typed);
    close();
  };
  return (
    <>
      <Row>
        <Button
          kind="quiet"
          label="Nothing in it is secret …"
          describe="Nothing in it is secret: send it open"
          onPress={() => onAsk(NOTHING_SAID)}
        />
      </Row>
      <Dialog
        title="Send it open?"
        open={asked !== undefined}
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
          {ways.length === 1 ? (
            <Text kind="small" tone="soft">{`${capitalised(saidOf(wanted))}. ${wanted.sentence}`}</Text>
          ) : (
            <Choice
              label="What it is"
              value={keyOf(wanted)}
              onChange={(key) => onAsk({ ...said, key })}
              options={ways.map((way) => ({ value: keyOf(way), label: way.name, detail: way.sentence }))}
            />
          )}
          <Field
            label="Why nothing in it is secret"
            value={said.reason}
            onChangeText={(next) => onAsk({ ...said, reason: next })}
            maxLength={MAX_REASON}
            hint="Kept with the message; the office can read it."
            error={said.tried && short ? 'Say in a few words why anybody may read it.' : undefined}
          />
        </Stack>
      </Dialog>
    </>
  );
}
