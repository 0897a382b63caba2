/**
 * For administrators: a colleague's further addresses. Mail to them comes to that colleague, who may write from them
 * and have them certified.
 */
import { type Account, putAddresses } from '@under-lock/contract/account';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { Button, Dialog, Field, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { mutate } from 'swr';
import { api } from '../api';
import { addressProblem } from '../people/words';
import { problemWords } from '../problem-words';

export function FurtherAddresses({ account }: { account: Account }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const [failed, setFailed] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const put = async (addresses: readonly string[]): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      await api(putAddresses, { params: { id: account.id }, body: { addresses: [...addresses] } });
      setTyped('');
      await mutate('colleagues');
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  const add = (): void => {
    const checked = checkAddress(typed);
    if (!checked.ok) return setFailed(addressProblem[checked.problem]);
    return void put([...account.further, addressKey(checked.address)]);
  };
  return (
    <>
      {account.further.length === 0 ? null : (
        <Text kind="small" tone="soft">{`Also ${account.further.join(', ')}`}</Text>
      )}
      <Row>
        <Button
          kind="quiet"
          label="Further addresses"
          describe={`Further addresses of ${account.name}`}
          onPress={() => setOpen(true)}
        />
      </Row>
      <Dialog
        title={`Further addresses of ${account.name}`}
        open={open}
        onClose={() => setOpen(false)}
        actions={<Button label="Done" onPress={() => setOpen(false)} />}
      >
        <Text>{`Mail to them comes to ${account.name}, who may write from them and have them certified. Each belongs to one person.`}</Text>
        {account.further.map((address) => (
          <Row key={address}>
            <Text>{address}</Text>
            <Button
              kind="quiet"
              label="Take away"
              describe={`Take away ${address}`}
              busy={busy}
              onPress={() => void put(account.further.filter((one) => one !== address))}
            />
          </Row>
        ))}
        <Field
          label="Another address"
          value={typed}
          onChangeText={setTyped}
          inputMode="email"
          autoCapitalize="none"
          error={failed}
        />
        <Row>
          <Button kind="main" label="Add it" busy={busy} disabled={typed.trim() === ''} onPress={add} />
        </Row>
      </Dialog>
    </>
  );
}
