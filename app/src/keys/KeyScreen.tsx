/** One own certificate: what it is, its backup, renewing, giving it out, revoking. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { REVOKE_REASONS, revokeCertificate, type RevokeReason } from '@under-lock/contract/certificate';
import { toBase64 } from '@under-lock/core/bytes';
import {
  Banner,
  Button,
  Choice,
  Dialog,
  Line,
  Loading,
  Panel,
  Result,
  Row,
  Section,
  Stack,
  StateMark,
  Text,
} from '@under-lock/ui';
import { router, useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { api } from '../api';
import { useNow } from '../clock';
import { problemWords } from '../problem-words';
import { saveFile } from '../save-file';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { BackToList } from '../shell/ListAndPage';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements } from '../threads/keys/reading';
import { Backup, certificateBackup } from './Backup';
import { ForPrograms } from './ForPrograms';
import { CertificateFacts } from './CertificateFacts';
import { type CertificateView } from './certificate-view';
import { type Candidate, type ChoiceHere, choicesOf, choose } from './choosing';
import { type OwnKey } from './own-key';
import { isOld, keysChanged, useOwnKeys, useVerdicts } from './useKeys';
import { revokeReasonWords } from './words';

const back = <BackToList href="/keys" label="Keys" />;
const pem = (der: Uint8Array): string =>
  `-----BEGIN CERTIFICATE-----\n${toBase64(der).replace(/(.{64})(?=.)/g, '$1\n')}\n-----END CERTIFICATE-----\n`;

export function KeyScreen() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const { data, error } = useOwnKeys();
  if (data === undefined)
    return (
      <Screen title="Certificate" back={back}>
        {error === undefined ? (
          <Loading what="Opening your keys" />
        ) : (
          <Banner tone="brick">{problemWords(error)}</Banner>
        )}
      </Screen>
    );
  const found = data.find(({ key }) => key.id === id);
  if (found === undefined)
    return (
      <Screen title="Not here" back={back}>
        <Text>This key is not in your vault.</Text>
      </Screen>
    );
  return found.view === undefined ? <Asked ownKey={found.key} /> : <Installed ownKey={found.key} view={found.view} />;
}

/** The key is made, and the authority has not answered yet. */
function Asked({ ownKey }: { ownKey: OwnKey }) {
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const ask = (): void => {
    setBusy(true);
    keysDoor()
      .own.ask(ownKey.id)
      .then(keysChanged, (error: unknown) => setFailed(problemWords(error)))
      .finally(() => setBusy(false));
  };
  return (
    <Screen title="Asked for, not issued yet" back={back}>
      <Result said={failed} />
      <Text>The key is made and kept in your vault. The authority has not certified it yet.</Text>
      <Row>
        <Button kind="main" label="Ask the authority again" busy={busy} onPress={ask} />
      </Row>
    </Screen>
  );
}

function Revoking({
  ownKey,
  view,
  onDone,
  onClose,
}: {
  ownKey: OwnKey;
  view: CertificateView;
  onDone: (said: string) => void;
  onClose: () => void;
}) {
  const [reason, setReason] = useState<RevokeReason>('keyCompromise');
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  const revoke = async (): Promise<void> => {
    setBusy(true);
    try {
      await api(revokeCertificate, { body: { fingerprint: view.fingerprint, reason } });
      await keysDoor().own.note(ownKey.id, { retiredAt: new Date().toISOString() });
      await forgetJudgements('certificates');
      await keysChanged();
      onDone(
        'Revoked. From now on mail programs that ask the authority refuse it. The key stays here, so that old mail can be read.',
      );
    } catch (error) {
      setFailed(problemWords(error));
      setBusy(false);
    }
  };
  return (
    <Dialog
      title="Revoke this certificate?"
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
        <Text>This can’t be undone. Nobody should encrypt to it any more; you need a new certificate to sign.</Text>
        <Choice
          label="Why"
          value={reason}
          onChange={setReason}
          options={REVOKE_REASONS.map((value) => ({ value, ...revokeReasonWords[value] }))}
        />
      </Stack>
    </Dialog>
  );
}

const useWords = {
  sign: { done: 'signs what you send', label: 'Sign with this one' },
  encrypt: { done: 'others encrypt to it', label: 'Have this one encrypted to' },
} as const;

/** Where several could: which one signs what leaves from an address, and which one others should encrypt to. */
function ChooseAmong({ ownKey, view }: { ownKey: OwnKey; view: CertificateView }) {
  const now = useNow();
  const { data = [] } = useOwnKeys();
  const candidates = data.flatMap((one): Candidate[] =>
    one.view === undefined || isOld(one, now) || one.key.forPrograms === true
      ? []
      : [{ id: one.key.id, chosen: one.key.chosen, view: one.view }],
  );
  const own: Candidate = { id: ownKey.id, chosen: ownKey.chosen, view };
  const choices = choicesOf(own, candidates);
  if (choices.length === 0) return null;
  const take = async ({ address, use }: ChoiceHere): Promise<void> => {
    for (const { id, chosen } of choose(own, candidates, address, use)) await keysDoor().own.note(id, { chosen });
    await keysChanged();
  };
  return (
    <Section title="Which one is used">
      <Text kind="small" tone="soft">
        You have several for the same address. The newest is used until you choose one.
      </Text>
      {[...new Set(choices.map(({ address }) => address))].map((address) => (
        <Stack key={address}>
          {view.addresses.length === 1 ? null : <Text kind="small">{address}</Text>}
          <Row>
            {choices
              .filter((one) => one.address === address)
              .map((one) =>
                one.chosen ? (
                  <StateMark key={one.use} tone="done" word={useWords[one.use].done} />
                ) : (
                  <Button
                    key={one.use}
                    label={useWords[one.use].label}
                    describe={`${useWords[one.use].label}, for ${address}`}
                    onPress={() => void take(one)}
                  />
                ),
              )}
          </Row>
        </Stack>
      ))}
    </Section>
  );
}

interface Shown {
  ownKey: OwnKey;
  view: CertificateView;
}

const renew = ({ id }: OwnKey): void => router.push(`/keys/new?replaces=${id}`);

function GiveToOthers({ ownKey, view }: Shown) {
  const name = (view.addresses[0] ?? 'certificate').replace(/[^\w.-]+/g, '-');
  return (
    <Section title="Give it to others">
      <Text kind="small" tone="soft">
        {ownKey.forPrograms === true
          ? 'Whoever checks the signatures on what your mail programs send'
          : 'Whoever is to encrypt to you'}{' '}
        needs the certificate, which is public. Every mail signed with it carries it; or save it as a file.
      </Text>
      <Row>
        <Button
          label="Save as .cer"
          describe="Save as .cer, the certificate without its key"
          onPress={() => saveFile(view.bytes, `${name}.cer`, 'application/pkix-cert')}
        />
        <Button
          label="Save as .pem"
          describe="Save as .pem, the certificate as text"
          onPress={() => saveFile(new TextEncoder().encode(pem(view.bytes)), `${name}.pem`, 'application/x-pem-file')}
        />
      </Row>
    </Section>
  );
}

function Ending({ ownKey, onRevoke }: Pick<Shown, 'ownKey'> & { onRevoke: () => void }) {
  const putAside = (): void =>
    void keysDoor().own.note(ownKey.id, { retiredAt: new Date().toISOString() }).then(keysChanged);
  return (
    <Section title="When it is to end">
      <Row>
        {ownKey.forPrograms === true ? null : (
          <>
            <Button
              label="Renew"
              describe="Renew: a new key and certificate, this one kept for reading"
              onPress={() => renew(ownKey)}
            />
            <Button
              label="Put aside"
              describe="Put aside: sign nothing more with it, keep it for reading"
              onPress={putAside}
            />
          </>
        )}
        {ownKey.imported ? null : <Button kind="stop" label="Revoke" onPress={onRevoke} />}
      </Row>
      <Text kind="small" tone="soft">
        {ownKey.imported
          ? 'It came from a file: only whoever issued it can revoke it.'
          : 'If the device is lost or somebody else may have the key, revoke it at once.'}
      </Text>
    </Section>
  );
}

function Installed({ ownKey, view }: Shown) {
  const now = useNow();
  const { account } = useOpenSession();
  const { data: verdicts, error } = useVerdicts([{ key: ownKey }]);
  const [revoking, setRevoking] = useState(false);
  const [said, setSaid] = useState<string | undefined>();
  const reading = isOld({ key: ownKey, view }, now);
  const forPrograms = ownKey.forPrograms === true;
  const address = view.addresses[0] ?? account.address;
  return (
    <Screen title={`Certificate of ${view.name}`} back={back}>
      <Result said={said === undefined ? undefined : { tone: 'sea', text: said }} />
      {reading ? <Banner tone="amber">Kept for reading only: nothing is signed with it any more.</Banner> : null}
      {forPrograms ? <ForPrograms soon={!reading && runsOutSoon(view, now)} /> : null}
      {!reading && !forPrograms && runsOutSoon(view, now) ? (
        <Banner tone="amber" actions={<Button label="Renew it" onPress={() => renew(ownKey)} />}>
          It runs out soon. Renew it in good time: whoever writes to you needs the new one.
        </Banner>
      ) : null}
      <Panel>
        <Line last>
          <CertificateFacts
            view={view}
            verdict={verdicts?.get(ownKey.id)}
            now={now}
            failed={error === undefined ? undefined : problemWords(error)}
          />
        </Line>
      </Panel>
      {forPrograms ? null : (
        <Backup backedUpAt={ownKey.backedUpAt} address={address} work={certificateBackup(ownKey.id, address)} />
      )}
      {reading || forPrograms ? null : <ChooseAmong ownKey={ownKey} view={view} />}
      <GiveToOthers ownKey={ownKey} view={view} />
      {reading ? null : <Ending ownKey={ownKey} onRevoke={() => setRevoking(true)} />}
      {revoking ? (
        <Revoking
          ownKey={ownKey}
          view={view}
          onDone={(text) => {
            setRevoking(false);
            setSaid(text);
          }}
          onClose={() => setRevoking(false)}
        />
      ) : null}
    </Screen>
  );
}
