/** Where the sender asks for it: one press says that the message was read, and is kept with it. */
import { type Correspondent } from '@under-lock/core/people/address';
import { momentInWords } from '@under-lock/core/when';
import { Banner, Button, Line, Panel, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { language, words } from './words/words';
import { zone } from './zone';

export interface ConfirmDoor {
  /** Says so once; when it was said first. @throws ApiProblem */
  confirm(): Promise<{ at: Date }>;
}

interface Props {
  door: ConfirmDoor;
  sender: Correspondent;
  /** When it was confirmed before. */
  confirmedAt: Date | undefined;
  now: Date;
  onProblem: (error: unknown) => void;
}

export function ConfirmPanel({ door, sender, confirmedAt: before, now, onProblem }: Props) {
  const [confirmedAt, setConfirmedAt] = useState(before);
  const [busy, setBusy] = useState(false);
  const confirm = async (): Promise<void> => {
    setBusy(true);
    try {
      setConfirmedAt((await door.confirm()).at);
    } catch (error) {
      onProblem(error);
    }
    setBusy(false);
  };
  if (confirmedAt !== undefined)
    return <Banner tone="sea">{words.confirmedRead(momentInWords(confirmedAt, now, zone, language))}</Banner>;
  return (
    <Panel>
      <Line last>
        <Text>{words.asksConfirm(sender.name || sender.address)}</Text>
        <Row>
          <Button kind="main" label={words.confirmRead} busy={busy} onPress={() => void confirm()} />
        </Row>
      </Line>
    </Panel>
  );
}
