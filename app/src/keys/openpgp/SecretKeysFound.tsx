/**
 * Secret OpenPGP keys in a file from another program, or the paper that revokes one of ours: looked at first, then kept
 * one by one.
 */
import { publishKey } from '@under-lock/contract/openpgp';
import {
  Banner,
  Button,
  Line,
  Panel,
  PasswordField,
  Result,
  Row,
  Section,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../../api';
import { useNow } from '../../clock';
import { problemWords } from '../../problem-words';
import { keysDoor } from '../../threads/keys/door';
import { type SecretFileOutcome, type SecretInFile } from '../../threads/keys/openpgp/room';
import { KeyFacts } from './KeyFacts';
import { openPgpChanged } from './useOpenPgpKeys';
import { fromHere } from '../../shell/from-here';

type Found = Exclude<SecretFileOutcome, { outcome: 'nothing' }>;

function SecretLine({ file, one, last }: { file: Uint8Array; one: SecretInFile; last: boolean }) {
  const now = useNow();
  const [passphrase, setPassphrase] = useState('');
  const [error, setError] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const keep = async (): Promise<void> => {
    if (one.locked && passphrase === '') return setError('Type the key’s passphrase.');
    const goOn = fromHere();
    setBusy(true);
    setError(undefined);
    try {
      const id = crypto.randomUUID();
      const kept = await keysDoor().openpgp.bring(id, file, passphrase, one.index, new Date());
      if (kept !== 'wrong-passphrase') {
        await openPgpChanged();
        return goOn(`/keys/openpgp/${id}`);
      }
      setError('That passphrase does not open the key. Nothing was changed: type it again.');
    } catch (cause) {
      setError(problemWords(cause));
    }
    setBusy(false);
    return undefined;
  };
  return (
    <Line last={last}>
      <KeyFacts view={one.view} verdict={undefined} now={now} unmarked />
      {one.old ? (
        <Text kind="small" tone="amber">
          ▲ It rests on algorithms that are not to be used any more: it is kept for reading, and nothing is signed with
          it.
        </Text>
      ) : null}
      {one.known ? (
        <StateMark tone="over" word="already yours" />
      ) : (
        <Stack>
          {one.locked ? (
            <PasswordField
              label={`Passphrase of the key of ${one.view.addresses[0] ?? one.view.name}`}
              value={passphrase}
              onChangeText={setPassphrase}
              autoComplete="off"
              error={error}
              onSubmitEditing={() => void keep()}
            />
          ) : error === undefined ? null : (
            <Banner tone="brick">{error}</Banner>
          )}
          <Row>
            <Button
              kind="main"
              label="Keep it"
              describe={`Keep it: OpenPGP key of ${one.view.addresses.join(', ') || one.view.name}`}
              busy={busy}
              onPress={() => void keep()}
            />
          </Row>
        </Stack>
      )}
    </Line>
  );
}

export function SecretKeysFound({ file, found }: { file: Uint8Array; found: Found }) {
  const now = useNow();
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  if (found.outcome === 'revocation') {
    const revoke = async (): Promise<void> => {
      const goOn = fromHere();
      setBusy(true);
      try {
        const { view } = await keysDoor().openpgp.revokeByPaper(found.id, file, new Date());
        // Others have to hear of it.
        if (view.addresses.length > 0)
          await api(publishKey, { params: { fingerprint: view.fingerprint }, body: { key: view.bytes } });
        await openPgpChanged();
        goOn(`/keys/openpgp/${found.id}`);
      } catch (error) {
        setFailed(problemWords(error));
        setBusy(false);
      }
    };
    return (
      <Section title="A revocation certificate">
        <Panel>
          <Line last>
            <Text>This text revokes a key of yours, for good. Afterwards nobody should encrypt to it.</Text>
            <KeyFacts view={found.view} verdict={undefined} now={now} unmarked />
            <Result said={failed} />
            <Row>
              <Button kind="stop" label="Revoke the key" busy={busy} onPress={() => void revoke()} />
            </Row>
          </Line>
        </Panel>
      </Section>
    );
  }
  return (
    <Section title="OpenPGP keys in the file" aside={String(found.keys.length)}>
      <Panel>
        {found.keys.map((one, index) => (
          <SecretLine key={one.view.fingerprint} file={file} one={one} last={index === found.keys.length - 1} />
        ))}
      </Panel>
    </Section>
  );
}
