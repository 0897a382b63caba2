/** What is kept on this device alone: its keys, and whether it gives notice. */
import { Button, Check, Line, Panel, Row, Section, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { KeysDialog } from '../keyboard/KeysDialog';
import { noticesState, switchNotices } from '../news/useNews';

const why = {
  refused: 'Your browser shows no notices from here. Allow them in its settings for this page first.',
  impossible: 'This browser shows no notices.',
};

export function OnThisDevice() {
  const [state, setState] = useState(noticesState);
  const [shown, setShown] = useState(false);
  return (
    <Section title="On this device">
      <Panel>
        <Line>
          {state === 'on' || state === 'off' ? (
            <Check
              label="Show a notice when something comes in or is opened"
              detail="While another window is in front; silent, and without a word of what it is"
              value={state === 'on'}
              onChange={(on) => void switchNotices(on).then(setState)}
            />
          ) : (
            <Text tone="soft">{why[state]}</Text>
          )}
        </Line>
        <Line last>
          <Stack>
            <Text tone="soft">Going, writing, searching and sending have keys of their own.</Text>
            <Row>
              <Button label="Show the keys" onPress={() => setShown(true)} />
            </Row>
            <KeysDialog open={shown} onClose={() => setShown(false)} />
          </Stack>
        </Line>
      </Panel>
    </Section>
  );
}
