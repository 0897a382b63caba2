/** Ends everything one person or one firm can still read, across messages. */
import { withdrawFromReaders } from '@under-lock/contract/outgoing';
import { Button, Dialog, type Said, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { counted } from '../counted';
import { problemWords } from '../problem-words';

export interface WithdrawnFrom {
  /** Who or which firm. */
  title: string;
  addresses: string[];
  accesses: number;
  opened: number;
}

async function withdraw(addresses: string[]): Promise<Said> {
  try {
    const { withdrawn, hadOpened, messages } = await api(withdrawFromReaders, { body: { addresses } });
    const read =
      hadOpened === 0
        ? 'None had been opened.'
        : `${hadOpened} had been opened before; what was read can’t be taken back.`;
    const what = `${counted(withdrawn, 'access', 'accesses')} to ${counted(messages, 'message', 'messages')}`;
    return { tone: 'sea', text: `${what} withdrawn. ${read}` };
  } catch (problem) {
    return { tone: 'brick', text: problemWords(problem) };
  }
}

interface Props {
  from: WithdrawnFrom;
  onClose: () => void;
  onDone: (outcome: Said) => void;
}

export function WithdrawEverything({ from: { title, addresses, accesses, opened }, onClose, onDone }: Props) {
  const [busy, setBusy] = useState(false);
  const go = async (): Promise<void> => {
    setBusy(true);
    onDone(await withdraw(addresses));
  };
  return (
    <Dialog
      title={`Withdraw everything from ${title}?`}
      open
      onClose={onClose}
      actions={
        <>
          <Button kind="stop" label="Withdraw" onPress={() => void go()} busy={busy} />
          <Button label="Leave it as it is" onPress={onClose} />
        </>
      }
    >
      <Text>{`${counted(accesses, 'access', 'accesses')} of ${counted(addresses.length, 'person', 'people')} in all your messages.`}</Text>
      {opened === 0 ? (
        <Text>None of them has been opened. After this nobody can, not even we.</Text>
      ) : (
        <Text>{`${opened} ${opened === 1 ? 'has' : 'have'} been opened already; what was read can’t be taken back.`}</Text>
      )}
      <Text kind="small" tone="soft">
        What they passed on ends too. You can give access again later, message by message, with a new link.
      </Text>
    </Dialog>
  );
}
