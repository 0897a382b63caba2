/** For administrators: where a colleague works. Rules and presets may ask about it. */
import { type Account, putDepartments } from '@under-lock/contract/account';
import { Button, Dialog, Field, Row, Text } from '@under-lock/ui';
import { Chip } from '@under-lock/ui/chip';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { useAttempt } from '../shell/useAttempt';
import { toggled } from '../toggled';

/** @param known All that anybody here has. */
export function Departments({ account, known }: { account: Account; known: readonly string[] }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const { busy, said, attempt } = useAttempt();
  const own = account.departments;
  const put = (departments: readonly string[]): Promise<void> =>
    attempt(async () => {
      await api(putDepartments, { params: { id: account.id }, body: { departments: [...departments] } });
      setTyped('');
      await mutate('colleagues');
    });
  return (
    <>
      {own.length === 0 ? null : (
        <Text kind="small" tone="soft">
          {own.join(', ')}
        </Text>
      )}
      <Row>
        <Button
          kind="quiet"
          label="Departments"
          describe={`Departments of ${account.name}`}
          onPress={() => setOpen(true)}
        />
      </Row>
      <Dialog
        title={`Departments of ${account.name}`}
        open={open}
        onClose={() => setOpen(false)}
        actions={<Button label="Done" onPress={() => setOpen(false)} />}
      >
        <Text>{`Rules may ask where ${account.name} works, and presets may be for a department only.`}</Text>
        <Row>
          {known.map((one) => (
            <Chip key={one} label={one} on={own.includes(one)} onPress={() => void put(toggled(own, one))} />
          ))}
        </Row>
        <Field label="Another department" value={typed} onChangeText={setTyped} maxLength={80} error={said?.text} />
        <Row>
          <Button
            kind="main"
            label="Add it"
            busy={busy}
            disabled={typed.trim() === ''}
            onPress={() => void put([...own, typed.trim()])}
          />
        </Row>
      </Dialog>
    </>
  );
}
