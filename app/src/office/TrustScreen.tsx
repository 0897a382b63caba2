/** The certificate authorities the office trusts: everybody's certificates are judged by them. */
import { addAnchor, type Anchor, getTrust, removeAnchor } from '@under-lock/contract/certificate';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Dialog, Empty, Line, Loading, Panel, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { chosenFile } from '../keys/Backup';
import { type CertificateView } from '../keys/certificate-view';
import { keysChanged } from '../keys/useKeys';
import { fingerprintInGroups, validityInWords } from '../keys/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements, reading } from '../threads/keys/reading';

interface Trusted {
  anchor: Anchor;
  view: CertificateView;
}

const back = <WayLink href="/office" label="Office" />;

export function TrustScreen() {
  const { account } = useOpenSession();
  if (account.role !== 'administrator')
    return (
      <Screen title="Certificate authorities" back={back}>
        <Text>The office’s administrators say whom it trusts.</Text>
      </Screen>
    );
  return <Trust />;
}

function Trust() {
  const now = useNow();
  const { data, error, mutate } = useSWR('trust', async (): Promise<Trusted[]> =>
    Promise.all(
      (await api(getTrust)).anchors.map(async (anchor) => ({
        anchor,
        view: await keysDoor().certificates.view(anchor.certificate),
      })),
    ),
  );
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const [adding, setAdding] = useState<CertificateView | undefined>();
  const [removing, setRemoving] = useState<Trusted | undefined>();

  const changed = async (text: string): Promise<void> => {
    await forgetJudgements('certificates');
    await Promise.all([mutate(), keysChanged()]);
    setSaid({ tone: 'sea', text });
  };
  const attempt = (act: () => Promise<void>): void =>
    void act()
      .catch((problem: unknown) => setSaid({ tone: 'brick', text: problemWords(problem) }))
      .finally(() => {
        setAdding(undefined);
        setRemoving(undefined);
      });
  const choose = async (): Promise<void> => {
    setSaid(undefined);
    const file = await chosenFile();
    if (file === undefined) return;
    if ('problem' in file) return setSaid({ tone: 'brick', text: file.problem });
    const views = await Promise.all(
      (await reading(file.bytes.length, (doors) => doors.certificates.inFile(file.bytes))).map((bytes) =>
        keysDoor().certificates.view(bytes),
      ),
    );
    const authority = views.find((view) => view.authority);
    if (authority === undefined)
      return setSaid({
        tone: 'brick',
        text:
          views.length === 0
            ? 'There is no certificate in this file.'
            : 'This is a person’s certificate, not an authority’s. Add it under People.',
      });
    return setAdding(authority);
  };

  return (
    <Screen title="Certificate authorities" back={back}>
      <Text tone="soft">
        A certificate counts when one of these stands at the end of its path. Whoever you add here can vouch for
        anybody, so compare the fingerprint first with what the authority publishes.
      </Text>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      <Panel>
        {data === undefined ? (
          error === undefined ? (
            <Loading what="Fetching the authorities" />
          ) : (
            <Line last>
              <Banner tone="brick">{problemWords(error)}</Banner>
            </Line>
          )
        ) : data.length === 0 ? (
          <Empty title="None yet">Without one, no certificate is valid here.</Empty>
        ) : (
          data.map((one, index) => (
            <Line key={one.anchor.id} last={index === data.length - 1}>
              <Text kind="strong">{one.view.name}</Text>
              <Text
                kind="small"
                tone="soft"
              >{`${one.view.organization === '' ? '' : `${one.view.organization}; `}${validityInWords(one.view, now)}; added ${dayInWords(one.anchor.addedAt, now, zone)}${one.anchor.addedBy === undefined ? ' with the office' : ` by ${one.anchor.addedBy}`}`}</Text>
              <Text kind="mono">{fingerprintInGroups(one.view.fingerprint)}</Text>
              <Row>
                <Button
                  kind="quiet"
                  label="Stop trusting it"
                  describe={`Stop trusting it: ${one.view.name}`}
                  onPress={() => setRemoving(one)}
                />
              </Row>
            </Line>
          ))
        )}
      </Panel>
      <Row>
        <Button
          label="Add one from a file"
          describe="Add one from a file: a certificate authority"
          onPress={() => void choose()}
        />
      </Row>
      {adding === undefined ? null : (
        <Dialog
          title={`Trust ${adding.name}?`}
          open
          onClose={() => setAdding(undefined)}
          actions={
            <>
              <Button
                kind="main"
                label="Trust it"
                onPress={() =>
                  attempt(async () => {
                    await api(addAnchor, { body: { id: crypto.randomUUID(), certificate: adding.bytes } });
                    await changed(`${adding.name} is trusted from now on.`);
                  })
                }
              />
              <Button label="Leave it" onPress={() => setAdding(undefined)} />
            </>
          }
        >
          <Text>{`${adding.organization === '' ? adding.name : adding.organization} will vouch for anybody it issues certificates to; ${validityInWords(adding, now)}.`}</Text>
          <Text kind="small" tone="soft">
            Fingerprint (SHA-256)
          </Text>
          <Text kind="mono">{fingerprintInGroups(adding.fingerprint)}</Text>
        </Dialog>
      )}
      {removing === undefined ? null : (
        <Dialog
          title={`Trust ${removing.view.name} no more?`}
          open
          onClose={() => setRemoving(undefined)}
          actions={
            <>
              <Button
                kind="stop"
                label="Stop trusting it"
                onPress={() =>
                  attempt(async () => {
                    await api(removeAnchor, { params: { id: removing.anchor.id } });
                    await changed(`${removing.view.name} is not trusted any more.`);
                  })
                }
              />
              <Button label="Leave it" onPress={() => setRemoving(undefined)} />
            </>
          }
        >
          <Text>Certificates it has issued count as unknown from now on, also in messages that are being written.</Text>
        </Dialog>
      )}
    </Screen>
  );
}
