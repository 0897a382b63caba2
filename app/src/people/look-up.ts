/**
 * What others publish for an address: certificates in the directory, OpenPGP keys at its own domain and in the key
 * directory, each judged for it. Nothing is taken.
 */
import { defined } from '@under-lock/core/defined';
import { searchDirectory } from '@under-lock/contract/certificate';
import { findKeys } from '@under-lock/contract/openpgp';
import { toBase64Url } from '@under-lock/core/bytes';
import { api } from '../api';
import { type CertificateView, type VerdictView } from '../keys/certificate-view';
import { type OpenPgpVerdictView, type OpenPgpView } from '../keys/openpgp/view';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';
import { type KeyOrigin } from '@under-lock/core/people/kept-person';
import { type PersonCertificate } from '@under-lock/core/people/kept-person';

export interface OfferedCertificate {
  view: CertificateView;
  verdict: VerdictView;
  from: PersonCertificate['from'];
  along: string[];
}
export interface OfferedKey {
  view: OpenPgpView;
  verdict: OpenPgpVerdictView;
  from: KeyOrigin;
}

/** People's certificates among these, with the authorities that came along. */
export async function judgedCertificates(
  address: string,
  found: readonly Uint8Array<ArrayBuffer>[],
  from: PersonCertificate['from'],
): Promise<OfferedCertificate[]> {
  const views = await Promise.all(found.map((bytes) => keysDoor().certificates.view(bytes)));
  const authorities = views.filter(({ authority }) => authority).map(({ bytes }) => bytes);
  const holders = views.filter(({ authority }) => !authority);
  const verdicts = await keysDoor().certificates.judge(
    holders.map(({ bytes }) => ({ certificate: bytes, use: 'encrypt', address, along: authorities })),
    new Date(),
  );
  return holders.map((view, index) => ({
    view,
    verdict: verdicts[index]!,
    from,
    along: authorities.map((one) => toBase64Url(one)),
  }));
}

/** Undefined when the directory has nothing. @throws ApiProblem */
export async function directoryCertificates(address: string): Promise<OfferedCertificate[] | undefined> {
  const { entries } = await api(searchDirectory, { query: { address } });
  return entries.length === 0
    ? undefined
    : judgedCertificates(
        address,
        entries.flatMap(({ certificates }) => certificates),
        'directory',
      );
}

/** `failed` are the places that did not answer. @throws ApiProblem */
export async function publishedKeys(
  address: string,
  fingerprint?: string,
): Promise<{ found: { view: OpenPgpView; from: KeyOrigin }[]; failed: string[] }> {
  const { found, failed } = await api(findKeys, {
    body: { wanted: [{ address, ...defined({ fingerprint }) }] },
  });
  const views = await Promise.all(
    found.map(async ({ key, source }) =>
      (await reading(key.length, (doors) => doors.openpgp.inFile(key))).map((view) => ({
        view,
        from: source as KeyOrigin,
      })),
    ),
  );
  return { found: views.flat(), failed };
}

/** @param compared The fingerprint that was compared with its holder. */
export async function judgedKeys(
  address: string,
  found: readonly { view: OpenPgpView; from: KeyOrigin }[],
  compared?: string,
): Promise<OfferedKey[]> {
  const verdicts = await keysDoor().openpgp.judge(
    found.map(({ view }) => ({ key: view.bytes, use: 'encrypt', address, compared: view.fingerprint === compared })),
    new Date(),
  );
  return found.map((one, index) => ({ ...one, verdict: verdicts[index]! }));
}
