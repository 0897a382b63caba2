/**
 * What is published for somebody whose certificate or key is not known yet: looked for when they are written to, shown
 * as on their page, and taken right there.
 */
import { toBase64Url } from '@under-lock/core/bytes';
import { addressKey } from '@under-lock/core/people/address';
import { Button, Line, Panel, Result, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import useSWR from 'swr';
import { useNow } from '../clock';
import { CertificateFacts } from '../keys/CertificateFacts';
import { KeyFacts } from '../keys/openpgp/KeyFacts';
import { withCertificate } from './certificates';
import { withKey } from './keys';
import { directoryCertificates, judgedKeys, type OfferedCertificate, type OfferedKey, publishedKeys } from './look-up';
import { type Person } from '@under-lock/core/people/kept-person';
import { rememberPerson, usePeople } from './person';
import { useAttempt } from '../shell/useAttempt';

interface Published {
  certificates: OfferedCertificate[];
  keys: OfferedKey[];
  /** Somewhere nobody answered. */ silent: boolean;
}

/** A place that does not answer hides nothing of the other. */
async function lookedUp(address: string): Promise<Published> {
  const [certificates, keys] = await Promise.allSettled([
    directoryCertificates(address),
    publishedKeys(address).then(async ({ found, failed }) => ({ found: await judgedKeys(address, found), failed })),
  ]);
  const usable = <Offered extends { verdict: { level: string } }>(offered: readonly Offered[]): Offered[] =>
    offered.filter(({ verdict }) => verdict.level !== 'stop');
  return {
    certificates: certificates.status === 'fulfilled' ? usable(certificates.value ?? []) : [],
    keys: keys.status === 'fulfilled' ? usable(keys.value.found) : [],
    silent: certificates.status === 'rejected' || keys.status === 'rejected' || keys.value.failed.length > 0,
  };
}

/**
 * `atOnce`: without being asked to; for a few, not for a list of sixty, all of whose directories would be asked
 * together.
 */
export function MeansOffered({ person, atOnce }: { person: Person; atOnce: boolean }) {
  const [wanted, setWanted] = useState(atOnce);
  const { data: people = [] } = usePeople();
  const { data } = useSWR(wanted ? ['published', addressKey(person.address)] : null, () => lookedUp(person.address), {
    revalidateOnFocus: false,
    revalidateOnReconnect: false,
    revalidateIfStale: false,
    dedupingInterval: 10 * 60_000,
  });
  const { busy, said, attempt } = useAttempt();
  const who = person.name || person.address;
  const take = (change: Pick<Person, 'certificates' | 'keys'>): void =>
    void attempt(() => rememberPerson(people, { ...person, ...change }));
  if (!wanted)
    return (
      <Row>
        <Button
          kind="quiet"
          label="Look for their certificate or key"
          describe={`Look for the certificate or key of ${who}`}
          onPress={() => setWanted(true)}
        />
      </Row>
    );
  if (data === undefined)
    return (
      <Text kind="small" tone="soft">
        Looking whether a certificate or key of theirs is published …
      </Text>
    );
  if (data.certificates.length + data.keys.length === 0)
    return data.silent ? (
      <Text kind="small" tone="soft">
        Not every directory answered whether they have a certificate or key.
      </Text>
    ) : null;
  return <Offered person={person} published={data} busy={busy} said={said} onTake={take} />;
}

interface OfferedProps {
  person: Person;
  published: Published;
  busy: boolean;
  said: ReturnType<typeof useAttempt>['said'];
  onTake: (change: Pick<Person, 'certificates' | 'keys'>) => void;
}

function Offered({ person, published: { certificates, keys }, busy, said, onTake }: OfferedProps) {
  const now = useNow();
  const who = person.name || person.address;
  const takeCertificate = ({ view, from, along }: OfferedCertificate): void =>
    onTake({
      certificates: withCertificate(
        person.certificates,
        {
          certificate: toBase64Url(view.bytes),
          from,
          notAfter: view.notAfter.toISOString(),
          ...(along.length === 0 ? {} : { chain: along }),
        },
        new Date(),
      ),
    });
  return (
    <Panel>
      {said === undefined ? null : (
        <Line>
          <Result said={said} />
        </Line>
      )}
      {certificates.map((one, index) => (
        <Line key={one.view.fingerprint} last={index === certificates.length - 1 && keys.length === 0}>
          <CertificateFacts view={one.view} verdict={one.verdict} now={now} />
          <Row>
            <Button
              label="Take it"
              describe={`Take it: certificate of ${who}`}
              busy={busy}
              onPress={() => takeCertificate(one)}
            />
          </Row>
        </Line>
      ))}
      {keys.map((one, index) => (
        <Line key={one.view.fingerprint} last={index === keys.length - 1}>
          <KeyFacts view={one.view} verdict={one.verdict} now={now} />
          <Row>
            <Button
              label="Take it"
              describe={`Take it: OpenPGP key of ${who}`}
              busy={busy}
              onPress={() => onTake({ keys: withKey(person.keys, one.view, one.from, new Date()) })}
            />
          </Row>
        </Line>
      ))}
    </Panel>
  );
}
