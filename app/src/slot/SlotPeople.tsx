/** Who is behind the office's mail slot: for administrators to say. */
import { makeSlot, type MailSlot, putSlot } from '@under-lock/contract/slot';
import { SLOT_PEOPLE } from '@under-lock/core/slot/limits';
import { Button, Check, Dialog, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { useColleagues } from '../session/useOffice';
import { useAttempt } from '../shell/useAttempt';
import { toggled } from '../toggled';
import { thenSlots } from './useSlots';

interface Props {
  title: string;
  open: boolean;
  onClose: () => void;
  chosen: readonly string[];
  onKeep: (people: string[]) => Promise<unknown>;
  keep: string;
}

function PeopleDialog({ title, open, onClose, chosen: before, onKeep, keep }: Props) {
  const { data: colleagues = [] } = useColleagues();
  const [chosen, setChosen] = useState<readonly string[]>(before);
  const { busy, said, attempt } = useAttempt();
  const put = (): Promise<void> =>
    attempt(async () => {
      await onKeep([...chosen]);
      onClose();
    });
  return (
    <Dialog
      title={title}
      open={open}
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button
            kind="main"
            label={keep}
            busy={busy}
            disabled={chosen.length === 0 || chosen.length > SLOT_PEOPLE}
            onPress={() => void put()}
          />
          <Button label="Cancel" onPress={onClose} />
        </>
      }
    >
      <Text>{`Each of them has a copy of all that is left there. At most ${SLOT_PEOPLE}.`}</Text>
      {colleagues.map(({ id, name }) => (
        <Check key={id} label={name} value={chosen.includes(id)} onChange={() => setChosen(toggled(chosen, id))} />
      ))}
    </Dialog>
  );
}

export function SlotPeople({ slot: { id, open, proves, people } }: { slot: MailSlot }) {
  const [asking, setAsking] = useState(false);
  return (
    <Row>
      <Button kind="quiet" label="Who is behind it" onPress={() => setAsking(true)} />
      {asking ? (
        <PeopleDialog
          title="Behind the office’s mail slot"
          open
          onClose={() => setAsking(false)}
          chosen={people.map((one) => one.id)}
          onKeep={(chosen) => thenSlots(api(putSlot, { params: { id }, body: { open, proves, people: chosen } }))}
          keep="Keep"
        />
      ) : null}
    </Row>
  );
}

export function OfficeSlotButton() {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button label="One for the office" onPress={() => setAsking(true)} />
      {asking ? (
        <PeopleDialog
          title="A mail slot for the office"
          open
          onClose={() => setAsking(false)}
          chosen={[]}
          onKeep={(people) => thenSlots(api(makeSlot, { body: { kind: 'office', people } }))}
          keep="Open it"
        />
      ) : null}
    </>
  );
}
