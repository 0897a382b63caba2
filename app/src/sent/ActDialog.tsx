/** An act on a sent message, asked about before it is done; what went wrong is said in place. */
import { Banner, Button, Dialog, OnEnter } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { problemWords } from '../problem-words';

export function ActDialog({
  title,
  label,
  kind = 'main',
  disabled = false,
  act,
  onClose,
  onDone,
  children,
}: {
  title: string;
  label: string;
  kind?: 'main' | 'stop';
  disabled?: boolean;
  act: () => Promise<string>;
  onClose: () => void;
  onDone: (text: string) => void;
  children: ReactNode;
}) {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const run = async (): Promise<void> => {
    setBusy(true);
    setError(undefined);
    try {
      onDone(await act());
    } catch (problem) {
      setError(problemWords(problem));
      setBusy(false);
    }
  };
  return (
    <Dialog
      title={title}
      open
      onClose={onClose}
      actions={
        <>
          <Button kind={kind} label={label} onPress={() => void run()} busy={busy} disabled={disabled} />
          <Button label="Leave it as it is" onPress={onClose} />
        </>
      }
    >
      <OnEnter does={busy || disabled || kind === 'stop' ? undefined : () => void run()}>{children}</OnEnter>
      {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
    </Dialog>
  );
}
