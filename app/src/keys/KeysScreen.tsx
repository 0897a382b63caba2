/** Keys: the worker's own certificates, what they still need, and the old ones that are kept for reading. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { Button, Empty, Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { Pressable, StyleSheet } from 'react-native';
import { addressKey } from '@under-lock/core/people/address';
import { useNow } from '../clock';
import { currentCertificate, type RecipientCertificates, useRecipientCertificates } from '../people/certificates';
import { currentKey } from '../people/keys';
import { type Person } from '@under-lock/core/people/kept-person';
import { usePeople } from '../people/person';
import { type Kept } from '@under-lock/core/vault/kept';
import { Listed } from '../shell/Listed';
import { Screen } from '../shell/Screen';
import { VerdictMark } from './Facts';
import { type VerdictView } from './certificate-view';
import { Forecast } from './Forecast';
import { LostDevice } from './LostDevice';
import { OwnAnchors } from './OwnAnchors';
import { type OwnOpenPgpKey } from './openpgp/own-key';
import { isOldKey, useOpenPgpKeys } from './openpgp/useOpenPgpKeys';
import { type EndingKey, forecast, type Judged } from './run-out';
import { OpenPgpKeys } from './openpgp/OpenPgpKeys';
import { useOwnKeys, useVerdicts } from './useKeys';
import { purposeWords, validityInWords } from './words';

type Listed = NonNullable<ReturnType<typeof useOwnKeys>['data']>[number];

export const isOld = ({ key, view }: Listed, now: Date): boolean =>
  key.retiredAt !== undefined || (view !== undefined && view.notAfter < now);

function KeyLine({
  listed: { key, view },
  verdict,
  now,
  last,
}: {
  listed: Listed;
  verdict: VerdictView | undefined;
  now: Date;
  last: boolean;
}) {
  const title = view === undefined ? 'Asked for, not issued yet' : view.addresses.join(', ') || view.name;
  return (
    <Pressable
      role="link"
      aria-label={`${title}, ${view === undefined ? '' : validityInWords(view, now)}`}
      onPress={() => router.push(`/keys/${key.id}`)}
    >
      <Line last={last}>
        <Row style={styles.between}>
          <Text kind="strong" style={styles.wrap}>
            {title}
          </Text>
          {view === undefined ? (
            <StateMark tone="wants" word="not issued yet" />
          ) : key.retiredAt === undefined ? (
            <VerdictMark verdict={verdict} />
          ) : (
            <StateMark tone="over" word="for reading only" />
          )}
        </Row>
        <Text kind="small" tone="soft">
          {view === undefined
            ? 'The key is made and kept; the authority has not answered.'
            : `${purposeWords[key.purpose]}; issued by ${view.issuer}; ${validityInWords(view, now)}`}
        </Text>
        {view === undefined || key.retiredAt !== undefined ? null : (
          <>
            {runsOutSoon(view, now) ? (
              <Text kind="small" tone="amber">
                ▲ Runs out soon: renew it in good time
              </Text>
            ) : null}
            {key.backedUpAt === undefined ? (
              <Text kind="small" tone="amber">
                {key.purpose === 'sign'
                  ? '▲ Not backed up: were this vault lost, you would need a new one'
                  : '▲ Not backed up: were this vault lost, mail sealed to it could not be read any more'}
              </Text>
            ) : null}
          </>
        )}
      </Line>
    </Pressable>
  );
}

/** What has been judged by now: one’s own in use, and people’s. */
function judgedNow(
  current: readonly Listed[],
  verdicts: ReadonlyMap<string, VerdictView> | undefined,
  people: readonly Kept<Person>[],
  theirs: RecipientCertificates,
): Judged[] {
  const own = current.flatMap(({ key }): Judged[] => {
    const verdict = verdicts?.get(key.id);
    return verdict === undefined ? [] : [{ who: 'you', kind: 'own', verdict }];
  });
  const others = people.flatMap(({ value: { name, address } }): Judged[] => {
    const verdict = theirs.get(addressKey(address))?.verdict;
    return verdict === undefined ? [] : [{ who: name || address, kind: 'person', verdict }];
  });
  return [...own, ...others];
}

/** OpenPGP keys in use that end some day: one’s own, and people’s by what was noted when they were kept. */
function endingKeys(own: readonly OwnOpenPgpKey[], people: readonly Kept<Person>[], now: Date): EndingKey[] {
  const mine = own
    .filter((one) => !isOldKey(one, now))
    .flatMap(({ view }): EndingKey[] =>
      view.expiresAt === undefined
        ? []
        : [{ who: 'you', kind: 'own', at: view.expiresAt, name: view.name, fingerprint: view.fingerprint }],
    );
  const others = people.flatMap(({ value }): EndingKey[] => {
    const kept = currentKey(value);
    return kept?.notAfter === undefined
      ? []
      : [
          {
            who: value.name || value.address,
            kind: 'person',
            at: new Date(kept.notAfter),
            name: value.name,
            fingerprint: kept.fingerprint,
          },
        ];
  });
  return [...mine, ...others];
}

const NoCertificates = () => (
  <Empty
    title="None yet"
    action={
      <Row>
        <Button
          kind="main"
          label="Get a certificate"
          describe="Get a certificate from the office’s authority"
          onPress={() => router.push('/keys/new')}
        />
      </Row>
    }
  >
    Making a key and having it certified takes about a minute. If you have one in another program, bring it from its
    backup file.
  </Empty>
);

export function KeysScreen() {
  const { data, error } = useOwnKeys();
  const { data: verdicts } = useVerdicts(data);
  const now = useNow();
  const { data: people } = usePeople();
  const { data: ownKeys } = useOpenPgpKeys();
  const { judged: theirs } = useRecipientCertificates(
    people,
    (people ?? []).filter(({ value }) => currentCertificate(value) !== undefined).map(({ value }) => value.address),
  );
  const current = (data ?? []).filter((one) => !isOld(one, now));
  const old = (data ?? []).filter((one) => isOld(one, now));
  return (
    <Screen title="Keys" aside={<Button label="Get a certificate" onPress={() => router.push('/keys/new')} />}>
      <Text tone="soft">
        With a certificate or an OpenPGP key you sign what you send, and others can encrypt to you in their own mail
        program. The private half lies sealed in your vault and is used in this browser only.
      </Text>
      <Section title="Your certificates">
        <Listed
          items={data === undefined ? undefined : current}
          error={error}
          fetching="Opening your keys"
          empty={<NoCertificates />}
        >
          {(listed, last) => (
            <KeyLine key={listed.key.id} listed={listed} verdict={verdicts?.get(listed.key.id)} now={now} last={last} />
          )}
        </Listed>
        <Row>
          <Button label="Bring one from a file" onPress={() => router.push('/keys/import')} />
        </Row>
      </Section>
      <OpenPgpKeys now={now} />
      <Section title="Passwords for locked files">
        <Text kind="small" tone="soft">
          For people with neither certificate nor key: agreed with each person, for what you send and for what they
          send.
        </Text>
        <Row>
          <Button label="Open the password book" onPress={() => router.push('/keys/passwords' as never)} />
        </Row>
      </Section>
      <LostDevice
        inUse={current.flatMap(({ key, view }) => (view === undefined ? [] : [{ key, view }]))}
        keys={(ownKeys ?? []).filter((one) => !isOldKey(one, now))}
      />
      {data === undefined || people === undefined ? null : (
        <Forecast
          ahead={forecast(judgedNow(current, verdicts, people, theirs), endingKeys(ownKeys ?? [], people, now), now)}
          now={now}
        />
      )}
      <OwnAnchors />
      {old.length === 0 ? null : (
        <Section title="Kept for reading">
          <Text kind="small" tone="soft">
            Old ones sign nothing any more. They stay, so that mail once encrypted to them can be opened.
          </Text>
          <Panel>
            {old.map((listed, index) => (
              <KeyLine
                key={listed.key.id}
                listed={listed}
                verdict={verdicts?.get(listed.key.id)}
                now={now}
                last={index === old.length - 1}
              />
            ))}
          </Panel>
        </Section>
      )}
    </Screen>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', alignItems: 'flex-start' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
