/** The password a locked file went out with: shown at a press, with the script for the phone, and whether they have been told. */
import { Banner, Button, Row, space, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { ReadOut } from '../passwords/ReadOut';
import { useAttempt } from '../people/useAttempt';
import { type Summary } from './draft';

export type KeptPassword = NonNullable<Summary['passwords']>[string];

interface Props {
  who: string;
  /** Undefined when it was not to be kept. */
  kept: KeptPassword | undefined;
  onTold: () => Promise<void>;
}

export function CopyPassword({ who, kept, onTold }: Props) {
  const [shown, setShown] = useState(false);
  const { busy, said, attempt } = useAttempt();
  if (kept === undefined) return <Text kind="small" tone="soft">Its password was not to be kept: only you know it now.</Text>;
  return (
    <Stack style={styles.password}>
      <Text kind="small" tone={kept.told ? 'soft' : 'amber'}>{kept.told ? 'They have the password.' : `▲ ${kept.telling === 'phone' ? 'Tell them the password on the phone' : 'They don’t have the password yet'}`}</Text>
      <Row>
        <Button kind="quiet" label={shown ? 'Hide the password' : 'Show the password'} describe={`${shown ? 'Hide the password' : 'Show the password'} of the file to ${who}`} expanded={shown} onPress={() => setShown(!shown)} />
        {kept.told ? null : <Button label="I have told them" describe={`I have told them: ${who} has the password`} busy={busy} onPress={() => void attempt(onTold)} />}
      </Row>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      {shown ? (
        <>
          <Text kind="mono" selectable style={styles.wrap}>{kept.password}</Text>
          <ReadOut who={who} password={kept.password} />
        </>
      ) : null}
    </Stack>
  );
}

const styles = StyleSheet.create({ password: { gap: space.s }, wrap: { overflowWrap: 'anywhere' } as object });
