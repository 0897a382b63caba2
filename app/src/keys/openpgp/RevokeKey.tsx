/** Revoking one's own key: for good, with a reason that others read, published so that they hear of it. */
import { publishKey } from '@under-lock/contract/openpgp';
import { type OwnRevocationReason } from '@under-lock/core/openpgp/change-key';
import { Button, Choice, Dialog, Stack, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../../api';
import { problemWords } from '../../problem-words';
import { keysDoor } from '../../threads/keys/door';
import { type OwnOpenPgpKey } from './own-key';
import { openPgpChanged } from './useOpenPgpKeys';

const reasons: { value: OwnRevocationReason; label: string; detail: string }[] = [
  {
    value: 'keyCompromise',
    label: 'I lost the device, or somebody else may have the key',
    detail: 'Nobody believes its signatures any more, not even earlier ones',
  },
  { value: 'superseded', label: 'I have a newer one', detail: 'Signatures made until now stay good' },
  { value: 'cessationOfOperation', label: 'I don’t need it any more', detail: 'Signatures made until now stay good' },
  {
    value: 'unspecified',
    label: 'Another reason',
    detail: 'No reason is given, so nobody believes earlier signatures either',
  },
];

export function RevokeKey({
  own,
  onDone,
  onClose,
}: {
  own: OwnOpenPgpKey;
  onDone: (said: string) => void;
  onClose: () => void;
}) {
  const [reason, setReason] = useState<OwnRevocationReason>('keyCompromise');
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const revoke = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      // Asked twice, it is revoked once: what is left is telling the others.
      const { view } =
        own.view.revocation === undefined ? await keysDoor().openpgp.revoke(own.id, reason, new Date()) : own;
      await openPgpChanged();
      if (view.addresses.length > 0)
        await api(publishKey, { params: { fingerprint: view.fingerprint }, body: { key: view.bytes } });
      await openPgpChanged();
      onDone(
        'Revoked, and published as revoked in the office’s directory. The key stays here, so that old mail can be read.',
      );
    } catch (error) {
      setFailed(problemWords(error));
      setBusy(false);
    }
  };
  return (
    <Dialog
      title="Revoke this key?"
      open
      onClose={onClose}
      said={failed}
      actions={
        <>
          <Button kind="stop" label="Revoke it for good" busy={busy} onPress={() => void revoke()} />
          <Button label="Leave it" onPress={onClose} />
        </>
      }
    >
      <Stack>
        <Text>This can’t be undone. Nobody should encrypt to it any more; you need a new key to sign.</Text>
        <Choice label="Why" value={reason} onChange={setReason} options={reasons} />
      </Stack>
    </Dialog>
  );
}
