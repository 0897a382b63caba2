/**
 * Somebody's certificate, met in mail or in a file, for keeping with them: the one there already is said, a different
 * one is never swapped in silently.
 */
import { fromBase64Url, sameBytes, toBase64Url } from '@under-lock/core/bytes';
import { type Correspondent } from '@under-lock/core/people/address';
import { Banner, Button, Result, Row, Stack, StateMark } from '@under-lock/ui';
import { useState } from 'react';
import { type CertificateView } from '../keys/certificate-view';
import { currentCertificate, withCertificate } from '../people/certificates';
import { type PersonCertificate } from '@under-lock/core/people/kept-person';
import { personAt } from '@under-lock/core/people/find';
import { rememberPerson, usePeople } from '../people/person';
import { problemWords } from '../problem-words';

interface Props {
  certificate: CertificateView;
  holder: Correspondent;
  from: PersonCertificate['from'];
  chain: readonly Uint8Array<ArrayBuffer>[];
  capabilities?: readonly string[];
}

export function KeepCertificate({ certificate, holder: { name, address }, from, chain, capabilities }: Props) {
  const { data: people } = usePeople();
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState<string | undefined>();
  if (people === undefined) return null;
  const person = personAt(people, address)?.value;
  const kept = person === undefined ? undefined : currentCertificate(person);
  if (kept !== undefined && sameBytes(fromBase64Url(kept.certificate), certificate.bytes))
    return <StateMark tone="done" word="the certificate you have for them" />;
  const keep = async (): Promise<void> => {
    setBusy(true);
    setFailed(undefined);
    try {
      const taken = {
        certificate: toBase64Url(certificate.bytes),
        from,
        notAfter: certificate.notAfter.toISOString(),
        ...(chain.length === 0 ? {} : { chain: chain.map((one) => toBase64Url(one)) }),
        ...(capabilities === undefined ? {} : { capabilities: [...capabilities] }),
      };
      await rememberPerson(people, {
        ...person,
        name: person?.name ?? name,
        address,
        certificates: withCertificate(person?.certificates, taken, new Date()),
      });
    } catch (error) {
      setFailed(problemWords(error));
    }
    setBusy(false);
  };
  const label = kept === undefined ? 'Keep the certificate' : 'Take it instead';
  return (
    <Stack>
      {kept === undefined ? null : (
        <Banner tone="amber">{`You have another certificate for ${person!.name || address}. A changed one is usual when the old one runs out; otherwise ask them, by phone, before you take it.`}</Banner>
      )}
      <Result said={failed} />
      <Row>
        <Button label={label} describe={`${label}, for ${address}`} busy={busy} onPress={() => void keep()} />
      </Row>
    </Stack>
  );
}
