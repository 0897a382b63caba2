/** OpenPGP in the office: keys whose word counts here, and vouching for the keys of its own people. */
import { addCertifications, addTrustedKey, removeTrustedKey } from '@under-lock/contract/openpgp';
import { dayInWords } from '@under-lock/core/when';
import { Button, Empty, Line, Result, Row, Section, StateMark, Text } from '@under-lock/ui';
import { useState } from 'react';
import { api } from '../api';
import { useNow, zone } from '../clock';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { type OwnOpenPgpKey } from '../keys/openpgp/own-key';
import { openPgpChanged, useOpenPgpKeys } from '../keys/openpgp/useOpenPgpKeys';
import { endAfter } from '../keys/openpgp/validity';
import { type OpenPgpView } from '../keys/openpgp/view';
import { useAttempt } from '../shell/useAttempt';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { keysDoor } from '../threads/keys/door';
import { forgetJudgements } from '../threads/keys/reading';
import { AdministratorsOnly, toOffice } from './AdministratorsOnly';
import { chosenKey, type Staff, type Trusted, useStaff, useTrusted } from './key-trust';
import { StopTrusting, TakeWord, Vouch } from './KeyTrustDialogs';
import { useOffice } from '../session/useOffice';

const TITLE = 'OpenPGP keys';

export const KeyTrustScreen = () => (
  <AdministratorsOnly title={TITLE} sentence="The office’s administrators say whose word counts.">
    <KeyTrust />
  </AdministratorsOnly>
);

/** The office's own keys for vouching, newest first, and the one of them whose word counts. */
function useOfficeKey(trusted: readonly Trusted[] | undefined) {
  const { data: own } = useOpenPgpKeys();
  const certifying = (own ?? []).filter(
    ({ purpose, view, retiredAt }) =>
      purpose === 'certifying' && view.revocation === undefined && retiredAt === undefined,
  );
  const mine: OwnOpenPgpKey | undefined = certifying.find(
    ({ view }) => trusted?.some((one) => one.view.fingerprint === view.fingerprint) === true,
  );
  return { known: own !== undefined && trusted !== undefined, newest: certifying[0], mine };
}

async function makeOfficeKey(officeName: string, before: OwnOpenPgpKey | undefined): Promise<void> {
  const at = new Date();
  const holder = { name: officeName, addresses: [] };
  const made =
    before ??
    (await keysDoor().openpgp.make(crypto.randomUUID(), 'wide', holder, endAfter('five', at), 'certifying', at));
  await api(addTrustedKey, { body: { id: crypto.randomUUID(), key: made.view.bytes } });
}

type Asked =
  { what: 'take'; of: OpenPgpView } | { what: 'stop'; of: Trusted } | { what: 'vouch'; of: Staff } | undefined;

function KeyTrust() {
  const { data: office } = useOffice();
  const { data: trusted, error, mutate: trustAgain } = useTrusted();
  const { data: staff, error: staffError, mutate: staffAgain } = useStaff();
  const { known, newest, mine } = useOfficeKey(trusted);
  const [asked, setAsked] = useState<Asked>();
  const { busy, said, say, attempt: once } = useAttempt();
  const attempt: Attempt = async (done, act) => {
    await once(async () => {
      await act();
      await forgetJudgements('keys');
      await Promise.all([trustAgain(), staffAgain(), openPgpChanged()]);
      say({ tone: 'sea', text: done });
    });
    setAsked(undefined);
  };
  const makeKey = (): Promise<void> =>
    attempt('The office’s key is made, and its word counts here. Back it up under Keys.', () =>
      makeOfficeKey(office!.name, newest),
    );
  const choose = (): Promise<void> =>
    once(async () => {
      const chosen = await chosenKey();
      if (chosen === undefined) return;
      if ('problem' in chosen) say({ tone: 'brick', text: chosen.problem });
      else setAsked({ what: 'take', of: chosen });
    });

  return (
    <Screen title={TITLE} back={toOffice}>
      <Result said={said} />
      <Section title="Whose word counts">
        <Text kind="small" tone="soft">
          A key that one of these has vouched for is valid here without being compared. Add the keys with which other
          firms vouch for their people, once you have compared the fingerprint.
        </Text>
        <Listed items={trusted} error={error} fetching="Fetching the keys" empty={<NoneTrusted />}>
          {(one, last) => (
            <TrustedLine
              key={one.trusted.id}
              one={one}
              last={last}
              onStop={() => setAsked({ what: 'stop', of: one })}
            />
          )}
        </Listed>
        <NewOnes busy={busy} canMake={known && mine === undefined} onMake={makeKey} onChoose={choose} />
      </Section>
      <Section title="Keys of your people" aside={staff === undefined ? '' : String(staff.length)}>
        <Text kind="small" tone="soft">
          What they have published. Vouch for a key once you have compared its fingerprint with them, in person or by
          phone.
        </Text>
        <Listed items={staff} error={staffError} fetching="Fetching what is published" empty={<NonePublished />}>
          {(one, last) => (
            <StaffLine
              key={one.view.fingerprint}
              one={one}
              last={last}
              onVouch={mine === undefined ? undefined : () => setAsked({ what: 'vouch', of: one })}
            />
          )}
        </Listed>
      </Section>
      <AskedDialog asked={asked} busy={busy} officeKey={mine} attempt={attempt} onLeave={() => setAsked(undefined)} />
    </Screen>
  );
}

type Attempt = (done: string, act: () => Promise<unknown>) => Promise<void>;

const take = (view: OpenPgpView, attempt: Attempt): Promise<void> =>
  attempt(`The word of ${view.name} counts from now on.`, () =>
    api(addTrustedKey, { body: { id: crypto.randomUUID(), key: view.bytes } }),
  );

const stopTrusting = ({ trusted, view }: Trusted, attempt: Attempt): Promise<void> =>
  attempt(`The word of ${view.name} counts no more.`, () => api(removeTrustedKey, { params: { id: trusted.id } }));

const vouch = ({ view }: Staff, officeKey: OwnOpenPgpKey, attempt: Attempt): Promise<void> =>
  attempt(
    `${view.name || view.addresses[0]!} is vouched for. Others see it the next time they look the key up.`,
    async () => {
      const key = await keysDoor().openpgp.certify(officeKey.id, view.bytes, new Date());
      await api(addCertifications, { params: { fingerprint: view.fingerprint }, body: { key } });
    },
  );

function AskedDialog({
  asked,
  busy,
  officeKey,
  attempt,
  onLeave,
}: {
  asked: Asked;
  busy: boolean;
  officeKey: OwnOpenPgpKey | undefined;
  attempt: Attempt;
  onLeave: () => void;
}) {
  const asking = { busy, onLeave };
  switch (asked?.what) {
    case 'take':
      return <TakeWord {...asking} of={asked.of} onYes={() => take(asked.of, attempt)} />;
    case 'stop':
      return <StopTrusting {...asking} of={asked.of.view} onYes={() => stopTrusting(asked.of, attempt)} />;
    case 'vouch':
      return <Vouch {...asking} of={asked.of} onYes={() => vouch(asked.of, officeKey!, attempt)} />;
    case undefined:
      return null;
  }
}

const NewOnes = ({
  busy,
  canMake,
  onMake,
  onChoose,
}: {
  busy: boolean;
  canMake: boolean;
  onMake: () => Promise<void>;
  onChoose: () => Promise<void>;
}) => (
  <Row>
    {canMake ? (
      <Button
        kind="main"
        label="Make the office’s key"
        describe="Make the office’s key, which vouches for its people"
        busy={busy}
        onPress={() => void onMake()}
      />
    ) : null}
    <Button
      label="Add one from a file"
      describe="Add one from a file: an OpenPGP key whose word is to count"
      onPress={() => void onChoose()}
    />
  </Row>
);

const NoneTrusted = () => (
  <Empty title="None yet">Until there is one, every OpenPGP key counts as unchecked until somebody compares it.</Empty>
);
const NonePublished = () => (
  <Empty title="Nothing published yet">Whoever makes an OpenPGP key publishes it from its page under Keys.</Empty>
);

function TrustedLine({ one: { trusted, view }, last, onStop }: { one: Trusted; last: boolean; onStop: () => void }) {
  const now = useNow();
  const by = trusted.addedBy === undefined ? 'with the office' : `by ${trusted.addedBy}`;
  return (
    <Line last={last}>
      <KeyFacts view={view} verdict={undefined} now={now} unmarked />
      <Text kind="small" tone="soft">{`Added ${dayInWords(trusted.addedAt, now, zone)} ${by}.`}</Text>
      <Row>
        <Button kind="quiet" label="Stop trusting it" describe={`Stop trusting it: ${view.name}`} onPress={onStop} />
      </Row>
    </Line>
  );
}

function StaffLine({
  one: { name, address, view, verdict },
  last,
  onVouch,
}: {
  one: Staff;
  last: boolean;
  /** Undefined while there is no key to vouch with. */ onVouch: (() => void) | undefined;
}) {
  return (
    <Line last={last}>
      <Text kind="small" tone="soft">{`Published by ${name}, ${address}`}</Text>
      <KeyFacts view={view} verdict={verdict} now={useNow()} />
      {verdict.vouchedBy.length > 0 ? (
        <StateMark tone="done" word="vouched for" />
      ) : onVouch === undefined ? (
        <Text kind="small" tone="soft">
          Make the office’s key first; then you can vouch for this one.
        </Text>
      ) : (
        <Row>
          <Button label="Vouch for it" describe={`Vouch for it: key of ${name}`} onPress={onVouch} />
        </Row>
      )}
    </Line>
  );
}
