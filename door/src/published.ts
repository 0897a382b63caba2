/**
 * What others publish for addresses of whom nothing is kept: certificates in the directory that the office uses, OpenPGP
 * keys at the address's own domain and in the key directory. Nobody is there to look at what was found, so only what the
 * office's own trust vouches for is taken.
 */
import { searchDirectory } from '@under-lock/contract/certificate';
import { type CertificateJudge } from '@under-lock/contract/judging/certificates';
import { type KeyJudge } from '@under-lock/contract/judging/keys';
import { findKeys } from '@under-lock/contract/openpgp';
import { toBase64Url } from '@under-lock/core/bytes';
import { type Certificate, readCertificate } from '@under-lock/core/certificate/certificate';
import { type JudgedCertificate, type JudgedKey } from '@under-lock/core/locks/known';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { type Owner } from './house';
import { readable } from './readable';

/** To more people at once than this, whoever has something is in the office book. */
const MOST_ASKED = 20;
/** Of one address: nobody is made to judge a directory's whole stock. */
const MOST_JUDGED = 10;

/** Of all that was found, what can be read. */
async function readAll<Of>(
  found: readonly Uint8Array<ArrayBuffer>[],
  read: (bytes: Uint8Array<ArrayBuffer>) => Of | Promise<Of>,
): Promise<Of[]> {
  const all = await Promise.all(found.map((bytes) => readable(() => read(bytes))));
  return all.filter((one) => one !== undefined);
}

/** Undefined where there is none, or nobody vouches for it. @throws ApiProblem */
async function certificateFor(
  { client }: Owner,
  judge: CertificateJudge,
  address: string,
  now: Date,
): Promise<JudgedCertificate | undefined> {
  const { entries } = await client(searchDirectory, { query: { address } });
  const found = await readAll(
    entries.flatMap(({ certificates }) => certificates),
    readCertificate,
  );
  const isAuthority = ({ basicConstraints }: Certificate): boolean => basicConstraints?.ca === true;
  const along = found.filter(isAuthority);
  const holders = found.filter((one) => !isAuthority(one)).slice(0, MOST_JUDGED);
  const verdicts = await judge.judge(
    holders.map((certificate) => ({ certificate, along, address, use: 'encrypt' as const })),
    now,
  );
  const at = verdicts.findIndex(({ level }) => level === 'valid');
  if (at < 0) return undefined;
  const kept = {
    certificate: toBase64Url(holders[at]!.bytes),
    chain: along.map(({ bytes }) => toBase64Url(bytes)),
    addedAt: now.toISOString(),
    from: 'directory' as const,
  };
  return { kept, verdict: verdicts[at]! };
}

/** Likewise. @throws ApiProblem */
async function keyFor({ client }: Owner, judge: KeyJudge, address: string, now: Date): Promise<JudgedKey | undefined> {
  const { found } = await client(findKeys, { body: { wanted: [{ address }] } });
  const files = await readAll(
    found.map(({ key }) => key),
    openPgpKeysIn,
  );
  const offered = files.flat().slice(0, MOST_JUDGED);
  const verdicts = await judge.judge(
    offered.map((key) => ({ key, address, use: 'encrypt' as const, compared: false })),
    now,
  );
  const at = verdicts.findIndex(({ level }) => level === 'valid');
  const taken = offered[at];
  if (taken === undefined) return undefined;
  return { kept: { key: toBase64Url(taken.bytes) }, verdict: verdicts[at]!, readsNewest: taken.readsNewest };
}

/** A place that does not answer has nothing. */
const orNothing = async <T>(asked: Promise<T | undefined>): Promise<T | undefined> => asked.catch(() => undefined);

/** By address. */
export async function published(
  owner: Owner,
  judges: { certificates: CertificateJudge; keys: KeyJudge },
  addresses: readonly string[],
  now: Date,
): Promise<{ certificates: [string, JudgedCertificate][]; keys: [string, JudgedKey][] }> {
  const asked = addresses.length > MOST_ASKED ? [] : addresses;
  const found = await Promise.all(
    asked.map(async (address) => ({
      address,
      certificate: await orNothing(certificateFor(owner, judges.certificates, address, now)),
      key: await orNothing(keyFor(owner, judges.keys, address, now)),
    })),
  );
  return {
    certificates: found.flatMap(({ address, certificate }) =>
      certificate === undefined ? [] : [[address, certificate] as [string, JudgedCertificate]],
    ),
    keys: found.flatMap(({ address, key }) => (key === undefined ? [] : [[address, key] as [string, JudgedKey]])),
  };
}
