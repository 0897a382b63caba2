/** An act on a sent message, asked about before it is done; what went wrong is said in place. */
import { Button, Dialog, OnEnter } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { useAttempt } from '../shell/useAttempt';

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
  onDone: (text: string) => Promise<void>;
  children: ReactNode;
}) {
  const { busy, said, attempt } = useAttempt();
  const run = (): void => void attempt(async () => onDone(await act()));
  return (
    <Dialog
      title={title}
      open
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind={kind} label={label} onPress={run} busy={busy} disabled={disabled} />
          <Button label="Leave it as it is" onPress={onClose} />
        </>
      }
    >
      <OnEnter does={busy || disabled || kind === 'stop' ? undefined : run}>{children}</OnEnter>
    </Dialog>
  );
}
