/** The certificate authorities the office trusts: everybody's certificates are judged by them. */
import { addAnchor, type Anchor, getTrust, removeAnchor } from '@under-lock/contract/certificate';
import { dayInWords } from '@under-lock/core/when';
import { Button, Empty, Line, Result, Row, Text } from '@under-lock/ui';
import { type ComponentProps, useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { chosenFile } from '../keys/Backup';
import { type CertificateView } from '../keys/certificate-view';
import { keysChanged } from '../keys/useKeys';
import { fingerprintInGroups, validityInWords } from '../keys/words';
import { told } from '../live/live';
import { useAttempt } from '../shell/useAttempt';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements, reading } from '../threads/keys/reading';
import { Asked } from './Asked';
import { AdministratorsOnly, toOffice } from './AdministratorsOnly';

const TITLE = 'Certificate authorities';

interface Trusted {
  anchor: Anchor;
  view: CertificateView;
}

export const TrustScreen = () => (
  <AdministratorsOnly title={TITLE} sentence="The office’s administrators say whom it trusts.">
    <Trust />
  </AdministratorsOnly>
);

const useTrust = () =>
  useSWR(
    'trust',
    async (): Promise<Trusted[]> =>
      Promise.all(
        (await api(getTrust)).anchors.map(async (anchor) => ({
          anchor,
          view: await keysDoor().certificates.view(anchor.certificate),
        })),
      ),
    { use: [told('office')] },
  );

/** An authority's certificate of a file that is chosen now, or why there is none; undefined when nothing was chosen. */
async function chosenAuthority(): Promise<CertificateView | { problem: string } | undefined> {
  const file = await chosenFile();
  if (file === undefined || 'problem' in file) return file;
  const found = await reading(file.bytes.length, (doors) => doors.certificates.inFile(file.bytes));
  const views = await Promise.all(found.map((bytes) => keysDoor().certificates.view(bytes)));
  return (
    views.find((view) => view.authority) ?? {
      problem:
        views.length === 0
          ? 'There is no certificate in this file.'
          : 'This is a person’s certificate, not an authority’s. Add it under People.',
    }
  );
}

function Trust() {
  const { data, error, mutate } = useTrust();
  const [adding, setAdding] = useState<CertificateView | undefined>();
  const [removing, setRemoving] = useState<Trusted | undefined>();

  const { busy, said, say, attempt: once } = useAttempt();
  const attempt = async (done: string, act: () => Promise<unknown>): Promise<void> => {
    await once(async () => {
      await act();
      await forgetJudgements('certificates');
      await Promise.all([mutate(), keysChanged()]);
      say({ tone: 'sea', text: done });
    });
    setAdding(undefined);
    setRemoving(undefined);
  };
  const choose = (): Promise<void> =>
    once(async () => {
      const chosen = await chosenAuthority();
      if (chosen === undefined) return;
      if ('problem' in chosen) say({ tone: 'brick', text: chosen.problem });
      else setAdding(chosen);
    });

  return (
    <Screen title={TITLE} back={toOffice}>
      <Text tone="soft">
        A certificate counts when one of these stands at the end of its path. Whoever you add here can vouch for
        anybody, so compare the fingerprint first with what the authority publishes.
      </Text>
      <Result said={said} />
      <Listed
        items={data}
        error={error}
        fetching="Fetching the authorities"
        empty={<Empty title="None yet">Without one, no certificate is valid here.</Empty>}
      >
        {(one, last) => <TrustedLine key={one.anchor.id} one={one} last={last} onRemove={() => setRemoving(one)} />}
      </Listed>
      <Row>
        <Button
          label="Add one from a file"
          describe="Add one from a file: a certificate authority"
          onPress={() => void choose()}
        />
      </Row>
      {adding === undefined ? null : (
        <Adding
          view={adding}
          busy={busy}
          onLeave={() => setAdding(undefined)}
          onYes={() =>
            attempt(`${adding.name} is trusted from now on.`, () =>
              api(addAnchor, { body: { id: crypto.randomUUID(), certificate: adding.bytes } }),
            )
          }
        />
      )}
      {removing === undefined ? null : (
        <Removing
          name={removing.view.name}
          busy={busy}
          onLeave={() => setRemoving(undefined)}
          onYes={() =>
            attempt(`${removing.view.name} is not trusted any more.`, () =>
              api(removeAnchor, { params: { id: removing.anchor.id } }),
            )
          }
        />
      )}
    </Screen>
  );
}

function TrustedLine({ one: { anchor, view }, last, onRemove }: { one: Trusted; last: boolean; onRemove: () => void }) {
  const now = useNow();
  const firm = view.organization === '' ? '' : `${view.organization}; `;
  const by = anchor.addedBy === undefined ? 'with the office' : `by ${anchor.addedBy}`;
  return (
    <Line last={last}>
      <Text kind="strong">{view.name}</Text>
      <Text kind="small" tone="soft">
        {`${firm}${validityInWords(view, now)}; added ${dayInWords(anchor.addedAt, now, zone)} ${by}`}
      </Text>
      <Text kind="mono">{fingerprintInGroups(view.fingerprint)}</Text>
      <Row>
        <Button kind="quiet" label="Stop trusting it" describe={`Stop trusting it: ${view.name}`} onPress={onRemove} />
      </Row>
    </Line>
  );
}

type Asking = Pick<ComponentProps<typeof Asked>, 'busy' | 'onYes' | 'onLeave'>;

const Adding = ({ view, ...asking }: Asking & { view: CertificateView }) => (
  <Asked {...asking} title={`Trust ${view.name}?`} kind="main" label="Trust it">
    <Text>
      {`${view.organization || view.name} will vouch for anybody it issues certificates to; ${validityInWords(view, useNow())}.`}
    </Text>
    <Text kind="small" tone="soft">
      Fingerprint (SHA-256)
    </Text>
    <Text kind="mono">{fingerprintInGroups(view.fingerprint)}</Text>
  </Asked>
);

const Removing = ({ name, ...asking }: Asking & { name: string }) => (
  <Asked {...asking} title={`Stop trusting ${name}?`} kind="stop" label="Stop trusting it">
    <Text>Certificates it has issued count as unknown from now on, also in messages that are being written.</Text>
  </Asked>
);
