/** A lost device in one step: every certificate of the worker's that the office issued is revoked as compromised, and every other sign-in ends. What is left for the worker is said. */
import { endOtherSessions } from '@under-lock/contract/account';
import { revokeCertificate } from '@under-lock/contract/certificate';
import { isProblem } from '@under-lock/contract/problem';
import { Banner, Button, Dialog, Row, Stack, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { useState } from 'react';
import { api } from '../api';
import { listed } from '../handling/words';
import { problemWords } from '../problem-words';
import { keysDoor } from '../worker/keys/door';
import { type CertificateView } from './certificate-view';
import { type OwnKey } from './own-key';
import { keysChanged } from './useKeys';

export interface InUse { key: OwnKey; view: CertificateView }

const counted = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;

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

export function LostDevice({ inUse }: { inUse: readonly InUse[] }) {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<{ done: string; left: string[] } | undefined>();
  const [failed, setFailed] = useState<string | undefined>();
  const mine = inUse.filter(({ key }) => !key.imported);
  const elsewhere = inUse.filter(({ key }) => key.imported);
  const go = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      const { ended } = await api(endOtherSessions);
      const { revoked, left } = await revokeAll(mine, new Date());
      await keysDoor().certificates.forgetEvidence();
      setSaid({
        done: `${counted(revoked, 'certificate is', 'certificates are')} revoked, and ${counted(ended, 'other sign-in has', 'other sign-ins have')} ended.`,
        left: [...left, ...(elsewhere.length === 0 ? [] : [`${listed(elsewhere.map(({ view }) => view.name), 'and')} came from a file: ask ${listed([...new Set(elsewhere.map(({ view }) => view.issuer))], 'and')} to revoke it.`])],
      });
      setOpen(false);
      await keysChanged();
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  if (inUse.length === 0 && said === undefined) return null;
  return (
    <Stack>
      {said === undefined ? null : (
        <Banner tone={said.left.length === 0 ? 'sea' : 'amber'} actions={<Row><Button label="Change the password" onPress={() => router.push('/account')} /><Button label="Get a certificate" describe="Get a certificate in place of the revoked ones" onPress={() => router.push('/keys/new')} /></Row>}>
          {[said.done, ...said.left, 'Two things are left: a new password, in case yours was kept on the device, and a new certificate.'].join(' ')}
        </Banner>
      )}
      {inUse.length === 0 ? null : <Row><Button kind="quiet" label="I lost my device" onPress={() => setOpen(true)} /></Row>}
      <Dialog title="Lost your device, or it is in other hands?" open={open} onClose={() => setOpen(false)} actions={<><Button kind="stop" label="Revoke and sign out" busy={busy} onPress={() => void go()} /><Button label="Leave it" onPress={() => setOpen(false)} /></>}>
        <Text>{`In one step: ${mine.length === 0 ? '' : `${mine.length === 1 ? 'your certificate is' : `all ${mine.length} of your certificates are`} revoked for good, as one whose key may be in other hands, so that nobody believes ${mine.length === 1 ? 'its' : 'their'} signatures any more, not even earlier ones; `}every other sign-in of yours ends. This browser stays signed in.`}</Text>
        <Text kind="small" tone="soft">The keys stay in your vault, so that mail encrypted to them can still be read.</Text>
        {failed === undefined ? null : <Banner tone="brick">{failed}</Banner>}
      </Dialog>
    </Stack>
  );
}
