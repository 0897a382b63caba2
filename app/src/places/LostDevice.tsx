/**
 * A lost device in one step: every certificate of the worker's that the office issued is revoked as compromised, and
 * every other sign-in ends. What is left for the worker is said.
 */
import { endOtherSessions } from '@under-lock/contract/account';
import { revokeCertificate } from '@under-lock/contract/certificate';
import { isProblem } from '@under-lock/contract/problem';
import { Banner, Button, Dialog, Row, Stack, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { api } from '../api';
import { counted } from '../counted';
import { listed } from '../handling/words';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements } from '../threads/keys/reading';
import { publishKey } from '@under-lock/contract/openpgp';
import { type CertificateView } from '../keys/certificate-view';
import { type OwnOpenPgpKey } from '../keys/openpgp/own-key';
import { openPgpChanged } from '../keys/openpgp/useOpenPgpKeys';
import { type OwnKey } from '../keys/own-key';

export interface InUse {
  key: OwnKey;
  view: CertificateView;
}

/** Revokes what can be, and goes on where one can't. */
async function revokeAll(mine: readonly InUse[], now: Date): Promise<{ revoked: number; left: string[] }> {
  const left: string[] = [];
  let revoked = 0;
  for (const { key, view } of mine) {
    try {
      await api(revokeCertificate, { body: { fingerprint: view.fingerprint, reason: 'keyCompromise' } });
      revoked += 1;
    } catch (error) {
      if (!isProblem(error, 'conflict')) {
        left.push(`${view.addresses[0] ?? view.name}: ${problemWords(error)}`);
        continue;
      }
    }
    await keysDoor().own.note(key.id, { retiredAt: now.toISOString() });
  }
  return { revoked, left };
}

/** OpenPGP keys need nobody else to be revoked: each says so itself, and the directory passes it on. */
async function revokeKeys(keys: readonly OwnOpenPgpKey[], now: Date): Promise<{ revoked: number; left: string[] }> {
  const left: string[] = [];
  let revoked = 0;
  for (const { id, view } of keys) {
    try {
      const gone = await keysDoor().openpgp.revoke(id, 'keyCompromise', now);
      revoked += 1;
      if (view.addresses.length > 0)
        await api(publishKey, { params: { fingerprint: view.fingerprint }, body: { key: gone.view.bytes } });
    } catch (error) {
      left.push(`OpenPGP key of ${view.addresses[0] ?? view.name}: ${problemWords(error)}`);
    }
  }
  return { revoked, left };
}

const means = (certificates: number, keys: number): string =>
  [
    ...(certificates === 0 ? [] : [counted(certificates, 'certificate', 'certificates')]),
    ...(keys === 0 ? [] : [counted(keys, 'OpenPGP key', 'OpenPGP keys')]),
  ].join(' and ');

interface Done {
  done: string;
  left: string[];
}

/** @throws ApiProblem where not even the other sign-ins could be ended */
async function endAll(inUse: readonly InUse[], keys: readonly OwnOpenPgpKey[]): Promise<Done> {
  const elsewhere = inUse.filter(({ key }) => key.imported);
  const { ended } = await api(endOtherSessions);
  const { revoked, left } = await revokeAll(
    inUse.filter(({ key }) => !key.imported),
    new Date(),
  );
  const gone = await revokeKeys(keys, new Date());
  await forgetJudgements('certificates');
  const names = listed(
    elsewhere.map(({ view }) => view.name),
    'and',
  );
  const issuers = listed([...new Set(elsewhere.map(({ view }) => view.issuer))], 'and');
  return {
    done: `${means(revoked, gone.revoked) || 'Nothing'} ${revoked + gone.revoked === 1 ? 'is' : 'are'} revoked, and ${counted(ended, 'other sign-in has', 'other sign-ins have')} ended.`,
    left: [
      ...left,
      ...gone.left,
      ...(elsewhere.length === 0 ? [] : [`${names} came from a file: ask ${issuers} to revoke it.`]),
    ],
  };
}

function WhatIsLeft({ done, left }: Done) {
  return (
    <Banner
      tone={left.length === 0 ? 'sea' : 'amber'}
      actions={
        <Row>
          <Button label="Change the password" onPress={() => router.push('/account')} />
          <Button
            label="Get a certificate"
            describe="Get a certificate in place of the revoked ones"
            onPress={() => router.push('/keys/new')}
          />
        </Row>
      }
    >
      {[
        done,
        ...left,
        'Two things are left: a new password, in case yours was kept on the device, and a new certificate or key.',
      ].join(' ')}
    </Banner>
  );
}

export function LostDevice({ inUse, keys }: { inUse: readonly InUse[]; keys: readonly OwnOpenPgpKey[] }) {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<Done | undefined>();
  const [failed, setFailed] = useState<string | undefined>();
  const mine = inUse.filter(({ key }) => !key.imported);
  const go = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      setSaid(await endAll(inUse, keys));
      setOpen(false);
      await openPgpChanged();
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  if (inUse.length + keys.length === 0 && said === undefined) return null;
  return (
    <Stack>
      {said === undefined ? null : <WhatIsLeft {...said} />}
      {inUse.length + keys.length === 0 ? null : (
        <Row>
          <Button kind="quiet" label="I lost my device" onPress={() => setOpen(true)} />
        </Row>
      )}
      <Dialog
        title="Lost your device, or it is in other hands?"
        open={open}
        onClose={() => setOpen(false)}
        said={failed}
        actions={
          <>
            <Button kind="stop" label="Revoke and sign out" busy={busy} onPress={() => void go()} />
            <Button label="Leave it" onPress={() => setOpen(false)} />
          </>
        }
      >
        <Text>{`In one step: ${mine.length + keys.length === 0 ? '' : `your ${means(mine.length, keys.length).replace(/(?:^|(?<= and ))1 /g, '')} ${mine.length + keys.length === 1 ? 'is' : 'are'} revoked for good, as one whose key may be in other hands, so that nobody believes ${mine.length + keys.length === 1 ? 'its' : 'their'} signatures any more, not even earlier ones; `}every other sign-in of yours ends. This browser stays signed in.`}</Text>
        <Text kind="small" tone="soft">
          The keys stay in your vault, so that mail encrypted to them can still be read.
        </Text>
      </Dialog>
    </Stack>
  );
}
