/** OpenPGP in the office: keys whose word counts here, and vouching for the keys of its own people. */
import {
  addCertifications,
  addTrustedKey,
  getKeyTrust,
  listStaffKeys,
  removeTrustedKey,
  type TrustedKey,
} from '@under-lock/contract/openpgp';
import { dayInWords } from '@under-lock/core/when';
import { Banner, Button, Dialog, Empty, Line, Loading, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import useSWR from 'swr';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { chosenFile } from '../keys/Backup';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { type OwnOpenPgpKey } from '../keys/openpgp/own-key';
import { openPgpChanged, useOpenPgpKeys } from '../keys/openpgp/useOpenPgpKeys';
import { endAfter } from '../keys/openpgp/validity';
import { type OpenPgpVerdictView, type OpenPgpView } from '../keys/openpgp/view';
import { fingerprintInGroups } from '../keys/words';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { Screen } from '../shell/Screen';
import { WayLink } from '../shell/WayLink';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements, reading } from '../threads/keys/reading';
import { useOffice } from './useOffice';

interface Trusted {
  trusted: TrustedKey;
  view: OpenPgpView;
}
interface Staff {
  name: string;
  address: string;
  view: OpenPgpView;
  verdict: OpenPgpVerdictView;
}

const back = <WayLink href="/office" label="Office" />;

export function KeyTrustScreen() {
  const { account } = useOpenSession();
  if (account.role !== 'administrator')
    return (
      <Screen title="OpenPGP keys" back={back}>
        <Text>The office’s administrators say whose word counts.</Text>
      </Screen>
    );
  return <KeyTrust />;
}

const useTrusted = () =>
  useSWR('key-trust', async (): Promise<Trusted[]> =>
    Promise.all(
      (await api(getKeyTrust)).keys.map(async (trusted) => ({
        trusted,
        view: await keysDoor().openpgp.view(trusted.key),
      })),
    ),
  );

const useStaff = () =>
  useSWR('staff-keys', async (): Promise<Staff[]> => {
    const { keys } = await api(listStaffKeys);
    const verdicts = await keysDoor().openpgp.judge(
      keys.map(({ key, address }) => ({ key, use: 'encrypt', address, compared: false })),
      new Date(),
    );
    return Promise.all(
      keys.map(async ({ key, name, address }, index) => ({
        name,
        address,
        view: await keysDoor().openpgp.view(key),
        verdict: verdicts[index]!,
      })),
    );
  });

function KeyTrust() {
  const now = useNow();
  const { data: office } = useOffice();
  const { data: trusted, error, mutate: trustAnew } = useTrusted();
  const { data: staff, error: staffError, mutate: staffAnew } = useStaff();
  const { data: own } = useOpenPgpKeys();
  const [said, setSaid] = useState<{ tone: 'sea' | 'brick'; text: string } | undefined>();
  const [adding, setAdding] = useState<OpenPgpView | undefined>();
  const [removing, setRemoving] = useState<Trusted | undefined>();
  const [vouching, setVouching] = useState<Staff | undefined>();
  const [busy, setBusy] = useState(false);
  const certifying = (own ?? []).filter(
    ({ purpose, view, retiredAt }) =>
      purpose === 'certifying' && view.revocation === undefined && retiredAt === undefined,
  );
  const mine: OwnOpenPgpKey | undefined = certifying.find(
    ({ view }) => trusted?.some((one) => one.view.fingerprint === view.fingerprint) === true,
  );

  const attempt = async (done: string, act: () => Promise<unknown>): Promise<void> => {
    setBusy(true);
    setSaid(undefined);
    try {
      await act();
      await forgetJudgements('keys');
      await Promise.all([trustAnew(), staffAnew(), openPgpChanged()]);
      setSaid({ tone: 'sea', text: done });
    } catch (problem) {
      setSaid({ tone: 'brick', text: problemWords(problem) });
    }
    setAdding(undefined);
    setRemoving(undefined);
    setVouching(undefined);
    setBusy(false);
  };
  const make = (): Promise<void> =>
    attempt('The office’s key is made, and its word counts here. Back it up under Keys.', async () => {
      const at = new Date();
      const made =
        certifying[0] ??
        (await keysDoor().openpgp.make(
          crypto.randomUUID(),
          'wide',
          { name: office!.name, addresses: [] },
          endAfter('five', at),
          'certifying',
          at,
        ));
      await api(addTrustedKey, { body: { id: crypto.randomUUID(), key: made.view.bytes } });
    });
  const choose = async (): Promise<void> => {
    setSaid(undefined);
    const file = await chosenFile();
    if (file === undefined) return;
    if ('problem' in file) return setSaid({ tone: 'brick', text: file.problem });
    const [view, another] = await reading(file.bytes.length, (doors) => doors.openpgp.inFile(file.bytes));
    if (view === undefined || another !== undefined)
      return setSaid({
        tone: 'brick',
        text:
          view === undefined
            ? 'There is no OpenPGP key in this file.'
            : 'There are several keys in this file. Choose a file with the one whose word is to count.',
      });
    return setAdding(view);
  };
  const vouch = ({ view }: Staff): Promise<void> =>
    attempt(
      `${view.name || view.addresses[0]!} is vouched for. Others see it the next time they look the key up.`,
      async () => {
        const key = await keysDoor().openpgp.certify(mine!.id, view.bytes, new Date());
        await api(addCertifications, { params: { fingerprint: view.fingerprint }, body: { key } });
      },
    );

  return (
    <Screen title="OpenPGP keys" back={back}>
      {said === undefined ? null : <Banner tone={said.tone}>{said.text}</Banner>}
      <Section title="Whose word counts">
        <Text kind="small" tone="soft">
          A key that one of these has vouched for is valid here without being compared. Add the keys with which other
          firms vouch for their people, once you have compared the fingerprint.
        </Text>
        <Panel>
          {trusted === undefined ? (
            error === undefined ? (
              <Loading what="Fetching the keys" />
            ) : (
              <Line last>
                <Banner tone="brick">{problemWords(error)}</Banner>
              </Line>
            )
          ) : trusted.length === 0 ? (
            <Empty title="None yet">
              Until there is one, every OpenPGP key counts as unchecked until somebody compares it.
            </Empty>
          ) : (
            trusted.map((one, index) => (
              <Line key={one.trusted.id} last={index === trusted.length - 1}>
                <KeyFacts view={one.view} verdict={undefined} now={now} unjudged />
                <Text
                  kind="small"
                  tone="soft"
                >{`Added ${dayInWords(one.trusted.addedAt, now, zone)}${one.trusted.addedBy === undefined ? ' with the office' : ` by ${one.trusted.addedBy}`}.`}</Text>
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
          {mine === undefined && own !== undefined && trusted !== undefined ? (
            <Button
              kind="main"
              label="Make the office’s key"
              describe="Make the office’s key, which vouches for its people"
              busy={busy}
              onPress={() => void make()}
            />
          ) : null}
          <Button
            label="Add one from a file"
            describe="Add one from a file: an OpenPGP key whose word is to count"
            onPress={() => void choose()}
          />
        </Row>
      </Section>
      <Section title="Keys of your people" aside={staff === undefined ? '' : String(staff.length)}>
        <Text kind="small" tone="soft">
          What they have published. Vouch for a key once you have compared its fingerprint with them, in person or by
          phone.
        </Text>
        <Panel>
          {staff === undefined ? (
            staffError === undefined ? (
              <Loading what="Fetching what is published" />
            ) : (
              <Line last>
                <Banner tone="brick">{problemWords(staffError)}</Banner>
              </Line>
            )
          ) : staff.length === 0 ? (
            <Empty title="Nothing published yet">
              Whoever makes an OpenPGP key publishes it from its page under Keys.
            </Empty>
          ) : (
            staff.map((one, index) => (
              <Line key={one.view.fingerprint} last={index === staff.length - 1}>
                <Text kind="small" tone="soft">{`Published by ${one.name}, ${one.address}`}</Text>
                <KeyFacts view={one.view} verdict={one.verdict} now={now} />
                {one.verdict.vouchedBy.length > 0 ? (
                  <StateMark tone="done" word="vouched for" />
                ) : mine === undefined ? (
                  <Text kind="small" tone="soft">
                    Make the office’s key first; then you can vouch for this one.
                  </Text>
                ) : (
                  <Row>
                    <Button
                      label="Vouch for it"
                      describe={`Vouch for it: key of ${one.name}`}
                      onPress={() => setVouching(one)}
                    />
                  </Row>
                )}
              </Line>
            ))
          )}
        </Panel>
      </Section>
      {adding === undefined ? null : (
        <Dialog
          title={`Take the word of ${adding.name || adding.addresses[0] || 'this key'}?`}
          open
          onClose={() => setAdding(undefined)}
          actions={
            <>
              <Button
                kind="main"
                label="I compared it: take its word"
                busy={busy}
                onPress={() =>
                  void attempt(`The word of ${adding.name} counts from now on.`, () =>
                    api(addTrustedKey, { body: { id: crypto.randomUUID(), key: adding.bytes } }),
                  )
                }
              />
              <Button label="Leave it" onPress={() => setAdding(undefined)} />
            </>
          }
        >
          <Text>
            Whatever key it vouches for is valid here, for anybody it names. Compare the fingerprint with what its
            holder publishes, not with what came in a mail.
          </Text>
          <Text kind="small" tone="soft">
            Fingerprint
          </Text>
          <Text kind="mono">{fingerprintInGroups(adding.fingerprint)}</Text>
        </Dialog>
      )}
      {removing === undefined ? null : (
        <Dialog
          title={`Trust ${removing.view.name || 'this key'} no more?`}
          open
          onClose={() => setRemoving(undefined)}
          actions={
            <>
              <Button
                kind="stop"
                label="Stop trusting it"
                busy={busy}
                onPress={() =>
                  void attempt(`The word of ${removing.view.name} counts no more.`, () =>
                    api(removeTrustedKey, { params: { id: removing.trusted.id } }),
                  )
                }
              />
              <Button label="Leave it" onPress={() => setRemoving(undefined)} />
            </>
          }
        >
          <Text>
            Keys that only it vouches for count as unchecked from now on, also in messages that are being written.
          </Text>
        </Dialog>
      )}
      {vouching === undefined ? null : (
        <Dialog
          title={`Vouch for ${vouching.name}?`}
          open
          onClose={() => setVouching(undefined)}
          actions={
            <>
              <Button
                kind="main"
                label="We compared it: vouch for it"
                busy={busy}
                onPress={() => void vouch(vouching)}
              />
              <Button label="Leave it" onPress={() => setVouching(undefined)} />
            </>
          }
        >
          <Text>{`You say in the office’s name that this key is ${vouching.name}’s. Have them read the fingerprint to you from their page under Keys: every group must be the same.`}</Text>
          <Text kind="mono">{fingerprintInGroups(vouching.view.fingerprint)}</Text>
          <Text kind="mono">{vouching.view.words.join(' ')}</Text>
        </Dialog>
      )}
    </Screen>
  );
}
