/**
 * The password a locked file went out with: shown at a press, with the script for the phone, and whether they have been
 * told.
 */
import { Button, Result, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { ReadOut } from '../passwords/ReadOut';
import { useAttempt } from '../shell/useAttempt';
import { type Summary } from '@under-lock/core/outgoing/draft';

type KeptPassword = NonNullable<Summary['passwords']>[string];

interface Props {
  who: string;
  /** Undefined when it was not to be kept. */
  kept: KeptPassword | undefined;
  onTold: () => Promise<void>;
  /** Sends it as a text message; undefined where no number is known. */
  onText: (() => Promise<void>) | undefined;
}

export function CopyPassword({ who, kept, onTold, onText }: Props) {
  const [shown, setShown] = useState(false);
  const { busy, said, say, attempt } = useAttempt();
  if (kept === undefined)
    return (
      <Text kind="small" tone="soft">
        Its password was not to be kept: only you know it now.
      </Text>
    );
  return (
    <Stack style={styles.password}>
      <Text kind="small" tone={kept.told ? 'soft' : 'amber'}>
        {kept.told
          ? 'They have the password.'
          : `▲ ${kept.telling === 'phone' ? 'Tell them the password on the phone' : kept.telling === 'text' && onText === undefined ? 'No phone number is known for the text message: keep it under People, or tell them on the phone' : 'They don’t have the password yet'}`}
      </Text>
      <Row>
        <Button
          kind="quiet"
          label={shown ? 'Hide the password' : 'Show the password'}
          describe={`${shown ? 'Hide the password' : 'Show the password'} of the file to ${who}`}
          expanded={shown}
          onPress={() => setShown(!shown)}
        />
        {onText === undefined || (kept.told && kept.telling !== 'text') ? null : (
          <Button
            {...(kept.told ? {} : { kind: 'main' as const })}
            label={kept.told ? 'Send the text again' : 'Send it as a text message'}
            describe={`${kept.told ? 'Send the text again' : 'Send it as a text message'}: the password for ${who}`}
            busy={busy}
            onPress={() =>
              void attempt(async () => {
                await onText();
                say({ tone: 'sea', text: 'The text message is on its way.' });
              })
            }
          />
        )}
        {kept.told ? null : (
          <Button
            label="I have told them"
            describe={`I have told them: ${who} has the password`}
            busy={busy}
            onPress={() => void attempt(onTold)}
          />
        )}
      </Row>
      <Result said={said} />
      {shown ? (
        <>
          <Text kind="mono" selectable style={styles.wrap}>
            {kept.password}
          </Text>
          <ReadOut who={who} password={kept.password} />
        </>
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({ password: { gap: space.s }, wrap: { overflowWrap: 'anywhere' } as object });
