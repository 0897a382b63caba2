/** Opens mail with the worker's own keys, and judges whoever signed it for the address it is shown under. */
import { defined } from '@under-lock/core/defined';
import { fromBase64Url } from '@under-lock/core/bytes';
import { type Certificate, readCertificate } from '@under-lock/core/certificate/certificate';
import { certificatesIn } from '@under-lock/core/key-files/in-file';
import { CmsError } from '@under-lock/core/cms/errors';
import { checkSigners, readSignedData, type SignedData, type SignerCheck } from '@under-lock/core/cms/signed-data';
import { fromBase64Lines } from '@under-lock/core/message/base64';
import {
  type Layer,
  type OpenPgpOpener,
  UnwrapError,
  type UnwrapErrorCode,
  unwrapMail,
  type Unwrapped,
} from '@under-lock/core/locks/unwrap';
import { type HeldKey } from '@under-lock/core/cms/enveloped-data';
import { looksLikePackets } from '@under-lock/core/openpgp/packets';
import { type MessageContent } from '@under-lock/core/message/content';
import { MessageReadError } from '@under-lock/core/message/read';
import { type OtherFile, otherFile } from '@under-lock/core/incoming/recognise';
import { type CertificateView, type VerdictView } from '../../keys/certificate-view';
import { type Asked, certificateJudge } from './judging';
import { type KeyAlong, type OpenPgpSession, type OpenPgpSignerView } from './openpgp/opening';
import { keptKeys } from '../opened/vault';
import { verdictView, viewOf } from './view';

export type CertificateSignerView =
  | {
      kind: 'signed';
      certificate: CertificateView;
      verdict: VerdictView;
      signingTime: Date | undefined;
      capabilities: readonly string[] | undefined;
      chain: Uint8Array<ArrayBuffer>[];
    }
  | { kind: 'changed' | 'wrong'; certificate: CertificateView }
  | { kind: 'unsupported' | 'no-certificate' | 'unreadable' };
export type SignerView = CertificateSignerView | OpenPgpSignerView;

export interface OpenedMail {
  outcome: 'opened';
  message: MessageContent;
  encrypted: { cipher: string; authenticated: boolean; old: boolean } | undefined;
  signers: readonly SignerView[];
  headerProtected: boolean;
  changedOutside: readonly string[];
  severalSenders: boolean;
  partsOnTheirOwn: number;
  /** OpenPGP keys that came along. */
  keys: readonly KeyAlong[];
  /** Certificates in its files. */
  certificates: readonly Uint8Array<ArrayBuffer>[];
}
export type OpenOutcome =
  | OpenedMail
  | { outcome: UnwrapErrorCode }
  /** By its first octets; nothing of it was read. */
  | { outcome: 'no-mail'; kind: OtherFile }
  /** A signature without what it signs, or certificates on their own. */
  | { outcome: 'only-certificates'; signature: boolean; certificates: Uint8Array<ArrayBuffer>[] }
  /** A signature that lies beside a file, held against it. */
  | { outcome: 'beside'; signers: readonly SignerView[] }
  | { outcome: 'only-keys'; keys: readonly Uint8Array<ArrayBuffer>[] };

type SignedLayer = Extract<Layer, { kind: 'signed'; by: 'certificate' }>;

interface Check {
  check: SignerCheck;
  along: readonly Certificate[];
}

/** All signers of a mail, judged at once: they share what has to be fetched about them. */
async function signerViews(
  checks: readonly Check[],
  address: string | undefined,
  now: Date,
): Promise<CertificateSignerView[]> {
  const asked = checks.flatMap(({ check, along }): Asked[] =>
    check.kind === 'signed'
      ? [
          {
            certificate: check.certificate,
            use: 'sign',
            along,
            ...defined({ address, at: check.signingTime }),
          },
        ]
      : [],
  );
  const verdicts = await certificateJudge.judge(asked, now);
  const judged = new Map(asked.map(({ certificate }, index) => [certificate, verdicts[index]!]));
  return Promise.all(
    checks.map(async ({ check, along }): Promise<CertificateSignerView> => {
      if (check.kind === 'unsupported' || check.kind === 'no-certificate' || check.kind === 'unreadable')
        return { kind: check.kind };
      const certificate = await viewOf(check.certificate);
      if (check.kind !== 'signed') return { kind: check.kind, certificate };
      const { signingTime, capabilities } = check;
      return {
        kind: 'signed',
        certificate,
        verdict: await verdictView(judged.get(check.certificate)!),
        signingTime,
        capabilities,
        chain: along
          .filter((one) => one.basicConstraints?.ca === true)
          .map(({ bytes }) => bytes.slice() as Uint8Array<ArrayBuffer>),
      };
    }),
  );
}

const checksOf = ({ checks, certificates }: SignedLayer): Check[] =>
  checks.map((check) => ({
    check,
    along: certificates.filter((one) => !('certificate' in check) || one !== check.certificate),
  }));

const isSigned = (layer: Layer): layer is SignedLayer => layer.kind === 'signed' && layer.by === 'certificate';

/** DER, or the same in base64 as programs save it. */
function detachedIn(bytes: Uint8Array): SignedData | undefined {
  for (const form of bytes[0] === 0x30 ? [bytes] : [fromBase64Lines(bytes)]) {
    try {
      const signed = readSignedData(form);
      return signed.content === undefined && signed.signers.length > 0 ? signed : undefined;
    } catch (error) {
      if (!(error instanceof CmsError)) throw error;
    }
  }
  return undefined;
}

/** Fetched when mail first holds anything of its kind. */
const openPgp = () => import('./openpgp/opening');

const MENTIONED = /autocrypt:|pgp/i;
/** A cheap look: whether anything of OpenPGP may stand in it, before its library is fetched. */
const mayHoldOpenPgp = (raw: Uint8Array, { files, text }: MessageContent): boolean =>
  MENTIONED.test(new TextDecoder('latin1').decode(raw.subarray(0, 16 * 1024))) ||
  text.includes('-----BEGIN PGP ') ||
  files.some(({ name, type }) => type === 'application/pgp-keys' || /\.(?:asc|gpg|pgp|key|pub)$/i.test(name));

interface Unsealed {
  unwrapped: Unwrapped;
  signers: readonly SignerView[];
  keys: readonly KeyAlong[];
}

/** Opens it; once more when a signature's key lies in the mail itself. */
async function unsealed(bytes: Uint8Array, held: readonly HeldKey[], now: Date): Promise<Unsealed> {
  let about: OpenPgpSession | undefined;
  const opener: OpenPgpOpener = async (form, entity) =>
    (about ??= await (await openPgp()).session()).open(form, entity);
  let unwrapped = await unwrapMail(bytes, held, opener);
  // A file that is no mail speaks in nobody's name.
  const speaker = (): string | undefined => unwrapped.message.from.address || undefined;
  const signers = async (): Promise<SignerView[]> =>
    signerViews(unwrapped.layers.filter(isSigned).flatMap(checksOf), speaker(), now);
  if (!mayHoldOpenPgp(bytes, unwrapped.message)) return { unwrapped, signers: await signers(), keys: [] };
  const { keysIn, judgedAlong, wantsKeys, signersOf, session } = await openPgp();
  const found = await keysIn(bytes, unwrapped.message);
  about ??= await session();
  const unknown = wantsKeys(unwrapped.layers) && found.length > 0;
  if (unknown) {
    about.along(found.map(({ key }) => key));
    unwrapped = await unwrapMail(bytes, held, opener);
  }
  const cameAlong = new Set(unknown ? found.map(({ key }) => key.fingerprint) : []);
  return {
    unwrapped,
    signers: [...(await signers()), ...(await signersOf(unwrapped.layers, speaker(), about, cameAlong, now))],
    keys: await judgedAlong(found, speaker(), now),
  };
}

const MAX_CERTIFICATE_FILES = 10;
/** Certificates that somebody attached, so that we may encrypt to them. */
const attachedCertificates = ({ files }: MessageContent): Uint8Array<ArrayBuffer>[] =>
  files
    .filter(
      ({ name, type }) =>
        /\.(?:cer|crt|der|pem|p7b|p7c|p7m|vcf)$/i.test(name) ||
        /^application\/(?:pkix-cert|x-x509|(?:x-)?pkcs7-mime)/.test(type) ||
        type === 'text/vcard',
    )
    .slice(0, MAX_CERTIFICATE_FILES)
    .flatMap(({ bytes }) => certificatesIn(bytes))
    .map((one) => one.bytes.slice() as Uint8Array<ArrayBuffer>);

const isOpenPgpSignature = (bytes: Uint8Array): boolean =>
  new TextDecoder('latin1').decode(bytes.subarray(0, 64)).includes('BEGIN PGP SIGNATURE') ||
  (looksLikePackets(bytes) && bytes[0] !== 0x30);

/** Keys or certificates and nothing else, as files that are passed on hold them. */
async function onlyMeans(bytes: Uint8Array): Promise<OpenOutcome | undefined> {
  const certificates = certificatesIn(bytes).map((one) => one.bytes.slice() as Uint8Array<ArrayBuffer>);
  if (certificates.length > 0)
    return { outcome: 'only-certificates', signature: detachedIn(bytes) !== undefined, certificates };
  if (
    !looksLikePackets(bytes) &&
    !new TextDecoder('latin1').decode(bytes.subarray(0, 64 * 1024)).includes('-----BEGIN PGP PUBLIC KEY BLOCK-----')
  )
    return undefined;
  const keys = await (await import('./openpgp/room')).openpgp.inFile(bytes);
  return keys.length === 0 ? undefined : { outcome: 'only-keys', keys: keys.map(({ bytes: one }) => one) };
}

export const opening = {
  /**
   * A signature that came as a file of its own, held against the file it belongs to. Nobody says in whose name that
   * file speaks, so no address is asked about.
   */
  async beside(signature: Uint8Array, content: Uint8Array, now: Date): Promise<OpenOutcome> {
    const signed = detachedIn(signature);
    if (signed !== undefined)
      return {
        outcome: 'beside',
        signers: await signerViews(
          checksOf({
            kind: 'signed',
            by: 'certificate',
            checks: await checkSigners(signed, content),
            certificates: signed.certificates,
          }),
          undefined,
          now,
        ),
      };
    const signers = isOpenPgpSignature(signature)
      ? await (
          await openPgp()
        ).beside(signature.slice() as Uint8Array<ArrayBuffer>, content.slice() as Uint8Array<ArrayBuffer>, now)
      : undefined;
    return signers === undefined ? { outcome: 'malformed' } : { outcome: 'beside', signers };
  },
  /** A file that somebody chose: looked at before it is read. */
  async openFile(bytes: Uint8Array, now: Date): Promise<OpenOutcome> {
    const kind = await otherFile(bytes);
    return kind === undefined ? opening.open(bytes, now) : { outcome: 'no-mail', kind };
  },
  async open(bytes: Uint8Array, now: Date): Promise<OpenOutcome> {
    // Old keys open, too: that is what they are kept for.
    const held = (await keptKeys()).flatMap(({ value }) =>
      value.certificate === undefined
        ? []
        : [
            {
              certificate: readCertificate(fromBase64Url(value.certificate)),
              privateKey: fromBase64Url(value.privateKey),
            },
          ],
    );
    try {
      const {
        unwrapped: { layers, message, outerFrom, headerProtected, changedOutside, partsOnTheirOwn },
        signers,
        keys,
      } = await unsealed(bytes, held, now);
      // Nothing of a mail in it: perhaps a file of keys.
      if (layers.length === 0 && message.from.address === '') {
        const means = await onlyMeans(bytes);
        if (means !== undefined) return means;
      }
      const encrypted = layers.find((layer) => layer.kind === 'encrypted');
      return {
        outcome: 'opened',
        message,
        headerProtected,
        changedOutside,
        partsOnTheirOwn,
        severalSenders: outerFrom.length > 1,
        signers,
        keys,
        certificates: attachedCertificates(message),
        encrypted:
          encrypted === undefined
            ? undefined
            : { cipher: encrypted.cipher, authenticated: encrypted.authenticated, old: encrypted.old },
      };
    } catch (error) {
      if (!(error instanceof UnwrapError) && !(error instanceof MessageReadError)) throw error;
      return (await onlyMeans(bytes)) ?? { outcome: error instanceof UnwrapError ? error.code : 'malformed' };
    }
  },
};
