/** Opens mail with the worker's own keys, and judges whoever signed it for the address it is shown under. */
import { fromBase64Url } from '@under-lock/core/bytes';
import { type Certificate, readCertificate } from '@under-lock/core/certificate/certificate';
import { certificatesIn } from '@under-lock/core/certificate/in-file';
import { CmsError } from '@under-lock/core/cms/errors';
import { checkSigners, readSignedData, type SignedData, type SignerCheck } from '@under-lock/core/cms/signed-data';
import { fromBase64Lines } from '@under-lock/core/message/base64';
import { type Layer, UnwrapError, type UnwrapErrorCode, unwrapMail } from '@under-lock/core/locks/certificate/unwrap';
import { type MessageContent } from '@under-lock/core/message/content';
import { MessageReadError } from '@under-lock/core/message/read';
import { type CertificateView, type VerdictView } from '../../keys/certificate-view';
import { type Asked, judgeAll } from './judging';
import { keptKeys } from './vault';
import { verdictView, viewOf } from './view';

export type SignerView =
  | { kind: 'signed'; certificate: CertificateView; verdict: VerdictView; signingTime: Date | undefined; capabilities: readonly string[] | undefined; chain: Uint8Array<ArrayBuffer>[] }
  | { kind: 'changed' | 'wrong'; certificate: CertificateView }
  | { kind: 'unsupported' | 'no-certificate' };

export interface OpenedMail {
  outcome: 'opened';
  message: MessageContent;
  encrypted: { cipher: string; authenticated: boolean; old: boolean } | undefined;
  signers: readonly SignerView[];
  headerProtected: boolean;
  changedOutside: readonly string[];
  severalSenders: boolean;
  partsOnTheirOwn: number;
}
export type OpenOutcome =
  | OpenedMail
  | { outcome: UnwrapErrorCode }
  /** A signature without what it signs, or certificates on their own. */
  | { outcome: 'only-certificates'; signature: boolean; certificates: Uint8Array<ArrayBuffer>[] }
  /** A signature that lies beside a file, held against it. */
  | { outcome: 'beside'; signers: readonly SignerView[] };

type SignedLayer = Extract<Layer, { kind: 'signed' }>;

interface Check { check: SignerCheck; along: readonly Certificate[] }

/** All signers of a mail, judged at once: they share what has to be fetched about them. */
async function signerViews(checks: readonly Check[], address: string | undefined, now: Date): Promise<SignerView[]> {
  const asked = checks.flatMap(({ check, along }): Asked[] => (check.kind === 'signed' ? [{ certificate: check.certificate, use: 'sign', along, ...(address === undefined ? {} : { address }), ...(check.signingTime === undefined ? {} : { at: check.signingTime }) }] : []));
  const verdicts = await judgeAll(asked, now);
  const judged = new Map(asked.map(({ certificate }, index) => [certificate, verdicts[index]!]));
  return Promise.all(checks.map(async ({ check, along }): Promise<SignerView> => {
    if (check.kind === 'unsupported' || check.kind === 'no-certificate') return { kind: check.kind };
    const certificate = await viewOf(check.certificate);
    if (check.kind !== 'signed') return { kind: check.kind, certificate };
    const { signingTime, capabilities } = check;
    return { kind: 'signed', certificate, verdict: await verdictView(judged.get(check.certificate)!), signingTime, capabilities, chain: along.filter((one) => one.basicConstraints?.ca === true).map(({ bytes }) => bytes.slice() as Uint8Array<ArrayBuffer>) };
  }));
}

const checksOf = ({ checks, certificates }: SignedLayer): Check[] => checks.map((check) => ({ check, along: certificates.filter((one) => !('certificate' in check) || one !== check.certificate) }));

const isSigned = (layer: Layer): layer is SignedLayer => layer.kind === 'signed';

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

export const opening = {
  /** A signature that came as a file of its own, held against the file it belongs to. Nobody says in whose name that file speaks, so no address is asked about. */
  async beside(signature: Uint8Array, content: Uint8Array, now: Date): Promise<OpenOutcome> {
    const signed = detachedIn(signature);
    if (signed === undefined) return { outcome: 'malformed' };
    return { outcome: 'beside', signers: await signerViews(checksOf({ kind: 'signed', checks: await checkSigners(signed, content), certificates: signed.certificates }), undefined, now) };
  },
  async open(bytes: Uint8Array, now: Date): Promise<OpenOutcome> {
    // Old keys open, too: that is what they are kept for.
    const held = (await keptKeys()).flatMap(({ value }) => (value.certificate === undefined ? [] : [{ certificate: readCertificate(fromBase64Url(value.certificate)), privateKey: fromBase64Url(value.privateKey) }]));
    try {
      const { layers, message, outerFrom, headerProtected, changedOutside, partsOnTheirOwn } = await unwrapMail(bytes, held);
      const encrypted = layers.find((layer) => layer.kind === 'encrypted');
      return {
        outcome: 'opened', message, headerProtected, changedOutside, partsOnTheirOwn, severalSenders: outerFrom.length > 1,
        encrypted: encrypted === undefined ? undefined : { cipher: encrypted.cipher, authenticated: encrypted.authenticated, old: encrypted.old },
        signers: await signerViews(layers.filter(isSigned).flatMap(checksOf), message.from.address, now),
      };
    } catch (error) {
      if (!(error instanceof UnwrapError) && !(error instanceof MessageReadError)) throw error;
      const certificates = certificatesIn(bytes).map((one) => one.bytes.slice() as Uint8Array<ArrayBuffer>);
      if (certificates.length > 0) return { outcome: 'only-certificates', signature: detachedIn(bytes) !== undefined, certificates };
      return { outcome: error instanceof UnwrapError ? error.code : 'malformed' };
    }
  },
};
