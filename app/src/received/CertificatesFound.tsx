/** Certificates in a file without a message: each judged for the address it names, for keeping with that person. */
import { MAX_FOUND } from '@under-lock/core/certificate/max-found';
import { type Correspondent } from '@under-lock/core/people/address';
import { Banner, Line, Loading, Panel, Section, Text } from '@under-lock/ui';
import useSWR from 'swr';
import { useNow } from '../clock';
import { CertificateFacts } from '../keys/CertificateFacts';
import { problemWords } from '../problem-words';
import { keysDoor } from '../threads/keys/door';
import { KeepCertificate } from './KeepCertificate';

async function judged(found: readonly Uint8Array<ArrayBuffer>[], sender: string | undefined) {
  const views = await Promise.all(found.map((bytes) => keysDoor().certificates.view(bytes)));
  const chain = views.filter(({ authority }) => authority).map(({ bytes }) => bytes);
  const holders = views.filter(({ authority }) => !authority);
  const verdicts = await keysDoor().certificates.judge(
    holders.map(({ bytes, addresses: [address] }) => ({
      certificate: bytes,
      use: 'encrypt',
      along: chain,
      ...((sender ?? address) === undefined ? {} : { address: sender ?? address! }),
    })),
    new Date(),
  );
  return { chain, holders: holders.map((view, index) => ({ view, verdict: verdicts[index]! })) };
}

/** `holder`: who sent them along; each is judged for whom it names where nobody did. */
export function CertificatesFound({
  name,
  found,
  holder,
}: {
  name: string;
  found: readonly Uint8Array<ArrayBuffer>[];
  holder?: Correspondent;
}) {
  const now = useNow();
  const { data, error } = useSWR(['found', name, found], () => judged(found, holder?.address), {
    revalidateOnFocus: false,
  });
  if (error !== undefined) return <Banner tone="brick">{problemWords(error)}</Banner>;
  if (data === undefined)
    return (
      <Panel>
        <Line last>
          <Loading what="Judging the certificates in it" />
        </Line>
      </Panel>
    );
  if (data.holders.length === 0)
    return (
      <Banner tone="amber">
        There is only an authority’s certificate in it, and none of a person. Whom the office trusts, an administrator
        decides under Office.
      </Banner>
    );
  return (
    <Section title="Certificates in it" aside={String(data.holders.length)}>
      {found.length < MAX_FOUND ? null : (
        <Banner tone="amber">{`This file holds more certificates than are read at once: these are the first ${MAX_FOUND}. Ask for it in parts.`}</Banner>
      )}
      <Panel>
        {data.holders.map(({ view, verdict }, index) => (
          <Line key={view.fingerprint} last={index === data.holders.length - 1}>
            <CertificateFacts view={view} verdict={verdict} now={now} />
            {view.addresses[0] === undefined ? (
              <Text kind="small" tone="soft">
                It names no mail address, so it belongs to nobody you write to.
              </Text>
            ) : view.uses.encrypt && verdict.level !== 'stop' ? (
              <KeepCertificate
                certificate={view}
                holder={holder ?? { name: view.name, address: view.addresses[0] }}
                from={holder === undefined ? 'file' : 'mail'}
                chain={data.chain}
              />
            ) : null}
          </Line>
        ))}
      </Panel>
    </Section>
  );
}
