import { Button, Dialog } from '@under-lock/ui';
import { type ReactNode } from 'react';

interface Props {
  title: string;
  kind: 'main' | 'stop';
  label: string;
  busy: boolean;
  onYes: () => Promise<void>;
  onLeave: () => void;
  children: ReactNode;
}

/** Asked before something is done in the office's name. */
export const Asked = ({ title, kind, label, busy, onYes, onLeave, children }: Props) => (
  <Dialog
    title={title}
    open
    onClose={onLeave}
    actions={
      <>
        <Button kind={kind} label={label} busy={busy} onPress={() => void onYes()} />
        <Button label="Leave it" onPress={onLeave} />
      </>
    }
  >
    {children}
  </Dialog>
);
