/** Whether the door for mail programs signs in a worker's name, and with what: of its own, marked, and taken back here. */
import { dropSigner, listSigners, type SignerHere } from '@under-lock/contract/submission';
import { spelledFingerprint } from '@under-lock/core/account/key-fingerprint';
import { SIGNER_KINDS, type SignerKind } from '@under-lock/core/submission/signer';
import { momentInWords } from '@under-lock/core/when';
import { Button, Dialog, Line, Panel, Row, Section, Stack, Text } from '@under-lock/ui';
import { useRef, useState } from 'react';
import useSWR, { mutate } from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { useOpenSession } from '../session/session';
import { useAttempt } from '../shell/useAttempt';
import { WayLink } from '../shell/WayLink';
import { type Begun, letItSign } from './let-it-sign';

const KEY = 'mail-programs/signers';

const words: Record<SignerKind, { name: string; make: string; to: string }> = {
  certificate: { name: 'A certificate', make: 'Get a certificate for it', to: 'whoever gets mail under S/MIME' },
  openpgp: { name: 'An OpenPGP key', make: 'Make an OpenPGP key for it', to: 'whoever gets mail under OpenPGP' },
};

export function Signing() {
  const { data } = useSWR(KEY, () => api(listSigners));
  // Beyond the question: whoever closes it and asks again goes on with what was made.
  const begun = useRef<Begun>({});
  const [asking, setAsking] = useState<{ kind: SignerKind; act: 'make' | 'end' } | undefined>();
  if (data?.door === undefined) return null;
  const { door, signers } = data;
  return (
    <Section title="Signed in your name">
      <Stack>
        <Text>
          What leaves from your mail programs is locked as it should be, and not signed by you: your own keys never
          leave your browser. You can let the door sign with one of its own, which says so: “by mail program”.
        </Text>
        <Panel>
          {SIGNER_KINDS.map((kind, index) => (
            <SignerLine
              key={kind}
              kind={kind}
              signer={signers.find((one) => one.kind === kind)}
              last={index === SIGNER_KINDS.length - 1}
              onAsk={(act) => setAsking({ kind, act })}
            />
          ))}
        </Panel>
      </Stack>
      {asking?.act === 'make' ? (
        <MakeDialog kind={asking.kind} door={door} begun={begun.current} onClose={() => setAsking(undefined)} />
      ) : null}
      {asking?.act === 'end' ? <EndDialog kind={asking.kind} onClose={() => setAsking(undefined)} /> : null}
    </Section>
  );
}

function SignerLine({
  kind,
  signer,
  last,
  onAsk,
}: {
  kind: SignerKind;
  signer: SignerHere | undefined;
  last: boolean;
  onAsk: (act: 'make' | 'end') => void;
}) {
  const now = useNow();
  const { name, make, to } = words[kind];
  return (
    <Line last={last}>
      <Text kind="strong">{name}</Text>
      <Text kind="small" tone={signer?.isCurrent === false ? 'amber' : 'soft'}>
        {signer === undefined
          ? `Nothing is signed to ${to}.`
          : signer.isCurrent
            ? `Signs to ${to} since ${momentInWords(signer.since, now, zone)}.`
            : '▲ The door has another key since: it can’t sign with it any more. Make another one.'}
      </Text>
      <Row>
        {signer?.isCurrent === true ? null : <Button label={make} onPress={() => onAsk('make')} />}
        {signer === undefined ? null : (
          <Button
            kind="stop"
            label="Take it back"
            describe={`Take it back: ${name.toLowerCase()} of the door’s`}
            onPress={() => onAsk('end')}
          />
        )}
      </Row>
    </Line>
  );
}

function MakeDialog({
  kind,
  door,
  begun,
  onClose,
}: {
  kind: SignerKind;
  door: { suite: number; publicKey: Uint8Array<ArrayBuffer> };
  begun: Begun;
  onClose: () => void;
}) {
  const { account } = useOpenSession();
  const { busy, said, attempt } = useAttempt();
  const make = (): Promise<void> =>
    attempt(async () => {
      await letItSign(kind, account, door, begun);
      await mutate(KEY);
      onClose();
    });
  return (
    <Dialog
      title={words[kind].make}
      open
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind="main" label="Let it sign" onPress={() => void make()} busy={busy} />
          <Button label="Not now" onPress={onClose} />
        </>
      }
    >
      <Stack>
        <Text>
          It is made in this browser for this alone, named “by mail program”, and sealed to the door. Whoever held the
          door’s secret could sign with it, and read nothing. You take it back here at any time, and revoke it under
          Keys.
        </Text>
        <Text kind="small" tone="soft">
          The door’s key, as whoever looks after the server can read it out:
        </Text>
        <Text kind="mono" selectable>
          {spelledFingerprint(door.publicKey)}
        </Text>
      </Stack>
    </Dialog>
  );
}

function EndDialog({ kind, onClose }: { kind: SignerKind; onClose: () => void }) {
  const { busy, said, attempt } = useAttempt();
  const end = (): Promise<void> =>
    attempt(async () => {
      await api(dropSigner, { params: { kind } });
      await mutate(KEY);
      onClose();
    });
  return (
    <Dialog
      title="Take it back?"
      open
      onClose={onClose}
      said={said}
      actions={
        <>
          <Button kind="stop" label="Take it back" onPress={() => void end()} busy={busy} />
          <Button label="Leave it" onPress={onClose} />
        </>
      }
    >
      <Stack>
        <Text>The door signs nothing more with it from that moment. What it has signed stays signed.</Text>
        <WayLink href="/keys" label="Revoke it under Keys, if others are to know" forward />
      </Stack>
    </Dialog>
  );
}
