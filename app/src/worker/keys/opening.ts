/** Opens mail from a file with the worker's own keys, and judges whoever signed it for the address it is shown under. */
import { fromBase64Url } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { certificatesIn } from '@under-lock/core/certificate/in-file';
import { type SignerCheck } from '@under-lock/core/cms/signed-data';
import { type Layer, UnwrapError, type UnwrapErrorCode, unwrapMail } from '@under-lock/core/locks/certificate/unwrap';
import { type MessageContent } from '@under-lock/core/message/content';
import { MessageReadError } from '@under-lock/core/message/read';
import { type CertificateView, type VerdictView } from '../../keys/certificate-view';
import { judgeAll } from './judging';
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
export type OpenOutcome = OpenedMail | { outcome: UnwrapErrorCode | 'only-certificates' };

type SignedLayer = Extract<Layer, { kind: 'signed' }>;

async function signerView(check: SignerCheck, { certificates }: SignedLayer, address: string, now: Date): Promise<SignerView> {
  if (check.kind === 'unsupported' || check.kind === 'no-certificate') return { kind: check.kind };
  const certificate = await viewOf(check.certificate);
  if (check.kind !== 'signed') return { kind: check.kind, certificate };
  const along = certificates.filter((one) => one !== check.certificate);
  const [verdict] = await judgeAll([{ certificate: check.certificate, use: 'sign', address, along, ...(check.signingTime === undefined ? {} : { at: check.signingTime }) }], now);
  return { kind: 'signed', certificate, verdict: await verdictView(verdict!), signingTime: check.signingTime, capabilities: check.capabilities, chain: along.filter((one) => one.basicConstraints?.ca === true).map(({ bytes }) => bytes.slice() as Uint8Array<ArrayBuffer>) };
}

const isSigned = (layer: Layer): layer is SignedLayer => layer.kind === 'signed';

export const opening = {
  async open(bytes: Uint8Array, now: Date): Promise<OpenOutcome> {
    // Old keys open, too: that is what they are kept for.
    const held = (await keptKeys()).flatMap(({ value }) => (value.certificate === undefined ? [] : [{ certificate: readCertificate(fromBase64Url(value.certificate)), privateKey: fromBase64Url(value.privateKey) }]));
    try {
      const { layers, message, outerFrom, headerProtected, changedOutside, partsOnTheirOwn } = await unwrapMail(bytes, held);
      const encrypted = layers.find((layer) => layer.kind === 'encrypted');
      return {
        outcome: 'opened', message, headerProtected, changedOutside, partsOnTheirOwn, severalSenders: outerFrom.length > 1,
        encrypted: encrypted === undefined ? undefined : { cipher: encrypted.cipher, authenticated: encrypted.authenticated, old: encrypted.old },
        signers: (await Promise.all(layers.filter(isSigned).map((layer) => Promise.all(layer.checks.map((check) => signerView(check, layer, message.from.address, now)))))).flat(),
      };
    } catch (error) {
      if (!(error instanceof UnwrapError) && !(error instanceof MessageReadError)) throw error;
      if (certificatesIn(bytes).length > 0) return { outcome: 'only-certificates' };
      return { outcome: error instanceof UnwrapError ? error.code : 'malformed' };
    }
  },
};
