/**
 * The worker's own keys: made, asked for, installed, brought from files, backed up with proof, used. Their private
 * halves never leave this thread but sealed, or in a file under the worker's password.
 */
import { requestCertificate } from '@under-lock/contract/certificate';
import { type Bytes, fromBase64Url, sameBytes, toBase64Url } from '@under-lock/core/bytes';
import { type Certificate, readCertificate } from '@under-lock/core/certificate/certificate';
import { nameInWords } from '@under-lock/core/certificate/name';
import { type KeyKind, makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import { Pkcs12Error } from '@under-lock/core/key-files/pkcs12/errors';
import { readKeyFile } from '@under-lock/core/key-files/key-file';
import { writePkcs12 } from '@under-lock/core/key-files/pkcs12/write';
import { publicBitsOf } from '@under-lock/core/certificate/private-key';
import { mayBeUsed } from '@under-lock/core/certificate/verdict';
import { type CertificateView } from '../../keys/certificate-view';
import { type KeptKey, type Purpose } from '@under-lock/core/certificate/kept-key';
import { type OwnKey } from '../../keys/own-key';
import { chainAbove } from '@under-lock/core/certificate/chain';
import { client, keepKey, keptKey, keptKeys, publicHalf } from '../opened/vault';
import { viewOf } from './view';

const certificateIn = ({ certificate }: KeptKey): Certificate => readCertificate(fromBase64Url(certificate!));

async function ask(item: { id: string; revision: number; value: KeptKey }): Promise<OwnKey> {
  const { certificate, chain } = await client(requestCertificate, {
    body: { request: fromBase64Url(item.value.request!), purpose: item.value.purpose },
  });
  const bits = await publicBitsOf(fromBase64Url(item.value.privateKey));
  // An answer about somebody else's key would be a certificate nobody here can use.
  if (bits === undefined || !sameBytes(readCertificate(certificate).publicKey.keyBits, bits)) throw new WrongKeyError();
  const { request, ...rest } = item.value;
  void request;
  return publicHalf(
    await keepKey(item.id, item.revision, {
      ...rest,
      certificate: toBase64Url(certificate),
      chain: chain.map((one) => toBase64Url(one)),
    }),
  );
}

export class WrongKeyError extends Error {
  constructor() {
    super('wrong-key');
    this.name = 'WrongKeyError';
  }
}

export interface FoundInFile {
  /** Position among the keys of the file. */
  index: number;
  certificate: CertificateView | undefined;
  name: string;
  /** This certificate is already among the worker's. */
  known: boolean;
  /** The file brings the certificate only; its key is in the vault already. */
  forKept: boolean;
}
export type FileOutcome =
  | { outcome: 'found'; keys: FoundInFile[]; others: CertificateView[] }
  | { outcome: 'wrong-password' | 'malformed' | 'unsupported' | 'too-many-rounds' };

interface Identity {
  privateKey: Bytes;
  certificate: Certificate | undefined;
  name: string;
  /** The vault's item that holds the key, when the file does not. */ kept?: string;
}

/**
 * What a file brings to sign or open with: keys of its own, and certificates for keys that are in the vault. @throws
 * Pkcs12Error
 */
async function identitiesIn(
  file: Uint8Array,
  password: string,
  told?: (share: number) => void,
): Promise<{ identities: Identity[]; others: readonly Certificate[] }> {
  const { identities, others } = await readKeyFile(file, password, told);
  const kept = await Promise.all(
    (await keptKeys()).map(async ({ id, value }) => {
      const privateKey = fromBase64Url(value.privateKey);
      return { id, privateKey, bits: await publicBitsOf(privateKey) };
    }),
  );
  const forKept = others.flatMap((certificate): Identity[] => {
    const key = kept.find(({ bits }) => bits !== undefined && sameBytes(bits, certificate.publicKey.keyBits));
    return key === undefined ? [] : [{ privateKey: key.privateKey, certificate, name: '', kept: key.id }];
  });
  return { identities: [...identities, ...forKept], others };
}

export const own = {
  list: async (): Promise<OwnKey[]> => (await keptKeys()).map(publicHalf),
  get: async (id: string): Promise<OwnKey> => publicHalf(await keptKey(id)),
  /** Makes a key pair and keeps it before anything else happens; {@link own.ask} goes on from there. */
  async make(
    id: string,
    kind: KeyKind,
    purpose: Purpose,
    who: { name: string; addresses: readonly string[] },
    now: Date,
    forPrograms = false,
  ): Promise<OwnKey> {
    const pair = await makeKeyPair(kind);
    const request = await makeRequest(pair, { name: who.name, addresses: [...who.addresses] });
    return publicHalf(
      await keepKey(id, 0, {
        kind: 'certificate',
        privateKey: toBase64Url(pair.privateKey),
        chain: [],
        request: toBase64Url(request),
        purpose,
        madeAt: now.toISOString(),
        imported: false,
        ...(forPrograms ? { forPrograms } : {}),
      }),
    );
  },
  /** Asks the office's authority for what was made. May be repeated. @throws ApiProblem, WrongKeyError */
  ask: async (id: string): Promise<OwnKey> => ask(await keptKey(id)),
  /** A PKCS#12 file under a password that other programs spell alike. */
  async backup(id: string, password: string): Promise<Bytes> {
    const { value } = await keptKey(id);
    const certificate = certificateIn(value);
    return writePkcs12(
      {
        privateKey: fromBase64Url(value.privateKey),
        certificate,
        chain: value.chain.map((one) => readCertificate(fromBase64Url(one))),
        name: nameInWords(certificate.subject),
      },
      password,
    );
  },
  /** Opens the file as another program would and compares: only then it counts as a backup. */
  async proveBackup(
    id: string,
    file: Uint8Array,
    password: string,
    now: Date,
  ): Promise<'proved' | 'wrong-password' | 'malformed' | 'another-key'> {
    const item = await keptKey(id);
    try {
      const { identities } = await readKeyFile(file, password);
      const wanted = certificateIn(item.value);
      if (
        !identities.some(
          ({ certificate, privateKey }) =>
            certificate !== undefined &&
            sameBytes(certificate.bytes, wanted.bytes) &&
            sameBytes(privateKey, fromBase64Url(item.value.privateKey)),
        )
      )
        return 'another-key';
    } catch (error) {
      if (!(error instanceof Pkcs12Error)) throw error;
      return error.code === 'wrong-password' ? 'wrong-password' : 'malformed';
    }
    await keepKey(id, item.revision, { ...item.value, backedUpAt: now.toISOString() });
    return 'proved';
  },
  /** `told` is given the share that is done. */
  async look(file: Uint8Array, password: string, told?: (share: number) => void): Promise<FileOutcome> {
    try {
      const { identities, others } = await identitiesIn(file, password, told);
      const known = await keptKeys();
      const isKnown = (certificate: Certificate | undefined): boolean =>
        certificate !== undefined &&
        known.some(
          ({ value }) =>
            value.certificate !== undefined && sameBytes(fromBase64Url(value.certificate), certificate.bytes),
        );
      return {
        outcome: 'found',
        keys: await Promise.all(
          identities.map(async ({ certificate, name, kept }, index) => ({
            index,
            name,
            certificate: certificate === undefined ? undefined : await viewOf(certificate),
            known: isKnown(certificate),
            forKept: kept !== undefined,
          })),
        ),
        others: await Promise.all(others.map(viewOf)),
      };
    } catch (error) {
      if (!(error instanceof Pkcs12Error)) throw error;
      return { outcome: error.code };
    }
  },
  /**
   * Keeps one key of a file that was looked at. The file was a backup of it, so it counts as one. @throws Pkcs12Error,
   * RangeError when there is no certificate to it
   */
  async bring(id: string, file: Uint8Array, password: string, index: number, now: Date): Promise<OwnKey> {
    const { identities, others } = await identitiesIn(file, password);
    const found = identities[index];
    if (found?.certificate === undefined) throw new RangeError('No certificate came with this key');
    const { certificate, privateKey, kept } = found;
    const [sign, encrypt] = [mayBeUsed(certificate, 'sign'), mayBeUsed(certificate, 'encrypt')];
    return publicHalf(
      await keepKey(id, 0, {
        kind: 'certificate',
        privateKey: toBase64Url(privateKey),
        certificate: toBase64Url(certificate.bytes),
        chain: chainAbove(certificate, others).map((one) => toBase64Url(one.bytes)),
        purpose: sign && encrypt ? 'both' : sign ? 'sign' : 'encrypt',
        madeAt: now.toISOString(),
        imported: true,
        // A file without the key is no backup of it.
        ...(kept === undefined ? { backedUpAt: now.toISOString() } : {}),
      }),
    );
  },
  /** Changes what is noted beside a key; never the key itself. */
  async note(id: string, change: Partial<Pick<KeptKey, 'retiredAt' | 'chosen'>>): Promise<OwnKey> {
    const item = await keptKey(id);
    return publicHalf(await keepKey(id, item.revision, { ...item.value, ...change }));
  },
};
