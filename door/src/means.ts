/** Certificates and OpenPGP keys of those who are written to, from the office book, judged as a browser judges them. */
import { CertificateJudge } from '@under-lock/contract/judging/certificates';
import { KeyJudge } from '@under-lock/contract/judging/keys';
import { fromBase64Url } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { type JudgedCertificate, type JudgedKey } from '@under-lock/core/locks/known';
import { readOpenPgpKey } from '@under-lock/core/openpgp/key';
import { addressKey } from '@under-lock/core/people/address';
import { personAt } from '@under-lock/core/people/find';
import { inUse } from '@under-lock/core/people/in-use';
import { type Person } from '@under-lock/core/people/kept-person';
import { type Kept } from '@under-lock/core/vault/kept';
import { type Owner } from './house';
import { published } from './published';
import { readable } from './readable';

export interface MeansOf {
  certificates: Map<string, JudgedCertificate>;
  keys: Map<string, JudgedKey>;
}

const known = (people: readonly Kept<Person>[], addresses: readonly string[]): { address: string; person: Person }[] =>
  addresses.flatMap((address) => {
    const person = personAt(people, address)?.value;
    return person === undefined ? [] : [{ address: addressKey(address), person }];
  });

async function certificatesOf(judge: CertificateJudge, among: ReturnType<typeof known>, now: Date) {
  const asked = (
    await Promise.all(
      among.map(async ({ address, person }) => {
        const kept = inUse(person.certificates);
        if (kept === undefined) return [];
        const certificate = await readable(() => readCertificate(fromBase64Url(kept.certificate)));
        const along = await readable(() => (kept.chain ?? []).map((one) => readCertificate(fromBase64Url(one))));
        return certificate === undefined ? [] : [{ address, kept, certificate, along: along ?? [] }];
      }),
    )
  ).flat();
  const verdicts = await judge.judge(
    asked.map(({ address, certificate, along }) => ({ address, certificate, along, use: 'encrypt' as const })),
    now,
  );
  return new Map(asked.map(({ address, kept }, index) => [address, { kept, verdict: verdicts[index]! }] as const));
}

async function keysOf(judge: KeyJudge, among: ReturnType<typeof known>, now: Date) {
  const asked = (
    await Promise.all(
      among.map(async ({ address, person }) => {
        const kept = inUse(person.keys);
        const key = kept && (await readable(() => readOpenPgpKey(fromBase64Url(kept.key))));
        return kept === undefined || key === undefined ? [] : [{ address, kept, key }];
      }),
    )
  ).flat();
  const verdicts = await judge.judge(
    asked.map(({ address, kept, key }) => ({
      key,
      address,
      use: 'encrypt' as const,
      compared: kept.checked !== undefined,
    })),
    now,
  );
  return new Map(
    asked.map(
      ({ address, kept, key }, index) =>
        [address, { kept, verdict: verdicts[index]!, readsNewest: key.readsNewest }] as const,
    ),
  );
}

/**
 * @param outside Those of the addresses that are not a colleague's: of whom nothing is kept, it is looked up what they
 * publish.
 * @throws ApiProblem
 */
export async function meansOf(
  owner: Owner,
  people: readonly Kept<Person>[],
  { addresses, outside }: { addresses: readonly string[]; outside: readonly string[] },
  now: Date,
): Promise<MeansOf> {
  const among = known(people, addresses);
  // Nobody's own trust counts here, only the office's.
  const judges = {
    certificates: new CertificateJudge(owner.client, async () => []),
    keys: new KeyJudge(owner.client),
  };
  const [certificates, keys] = await Promise.all([
    certificatesOf(judges.certificates, among, now),
    keysOf(judges.keys, among, now),
  ]);
  const unknown = outside.map(addressKey).filter((address) => !certificates.has(address) && !keys.has(address));
  const found = await published(owner, judges, unknown, now);
  return {
    certificates: new Map([...certificates, ...found.certificates]),
    keys: new Map([...keys, ...found.keys]),
  };
}
