/** The certificates of the persons written to, judged for their addresses. */
import { fromBase64Url } from '@under-lock/core/bytes';
import useSWR from 'swr';
import { type VerdictView } from '../keys/certificate-view';
import { type Kept } from '@under-lock/core/vault/kept';
import { keysDoor } from '../threads/keys/door';
import { type Person, type PersonCertificate } from '@under-lock/core/people/kept-person';
import { inUse, withInUse } from '@under-lock/core/people/in-use';
import { useInUseAt } from './in-use-at';

export interface RecipientCertificate {
  kept: PersonCertificate;
  verdict: VerdictView;
}
export type RecipientCertificates = ReadonlyMap<string, RecipientCertificate>;

const none: RecipientCertificates = new Map();

/** The one in use: what the worker took last. */
export const currentCertificate = ({ certificates }: Person): PersonCertificate | undefined => inUse(certificates);

/** With this one in use from now on; the ones before stay, so that a change is seen as one. */
export function withCertificate(
  certificates: readonly PersonCertificate[] | undefined,
  taken: Omit<PersonCertificate, 'addedAt'>,
  now: Date,
): PersonCertificate[] {
  const at = now.toISOString();
  return withInUse(certificates, { ...taken, addedAt: at }, at);
}

/**
 * What is known so far; `asking` while somebody's is still being judged: until then nobody can say by which lock they
 * get their message.
 */
export interface Judged<Of> {
  judged: Of;
  asking: boolean;
}

/** By address: the plan stands meanwhile, and fills in when it is known. */
export function useRecipientCertificates(
  people: readonly Kept<Person>[] | undefined,
  addresses: readonly string[],
): Judged<RecipientCertificates> {
  const known = useInUseAt(people, addresses, currentCertificate);
  const { data = none, error } = useSWR(
    known.length === 0 ? null : ['verdict', ...known.map(({ address, kept }) => `${address} ${kept.certificate}`)],
    async () => {
      const verdicts = await keysDoor().certificates.judge(
        known.map(({ address, kept }) => ({
          certificate: fromBase64Url(kept.certificate),
          use: 'encrypt',
          address,
          along: (kept.chain ?? []).map(fromBase64Url),
        })),
        new Date(),
      );
      return new Map(known.map(({ address, kept }, index) => [address, { kept, verdict: verdicts[index]! }]));
    },
    { keepPreviousData: true },
  );
  const asking =
    error === undefined && known.some(({ address, kept }) => data.get(address)?.kept.certificate !== kept.certificate);
  return { judged: known.length === 0 ? none : data, asking };
}
