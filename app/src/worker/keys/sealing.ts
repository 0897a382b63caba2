/**
 * A message sealed as a certificate copy: signed with the worker's key where there is one, encrypted to everybody's
 * certificate and to the worker's own, uploaded as it will leave.
 */
import { type Bytes, fromBase64Url } from '@under-lock/core/bytes';
import { readCertificate, type Certificate } from '@under-lock/core/certificate/certificate';
import { isIssuedFor, mayBeUsed, type Use } from '@under-lock/core/certificate/verdict';
import { sealForCertificates, type KnownRecipient } from '@under-lock/core/locks/certificate/seal';
import { isChosen } from '../../keys/choosing';
import { type MessageToSeal } from '@under-lock/core/outgoing/content';
import { contentOf } from '../message';
import { upload } from '../transfer';
import { type KeptItem, keptKeys } from './vault';

interface Usable {
  item: KeptItem;
  certificate: Certificate;
}

/** Own keys that can be used now for an address: the chosen one first, then the newest. */
async function usable(address: string, use: Use, now: Date): Promise<Usable[]> {
  const found = (await keptKeys()).flatMap((item) => {
    if (item.value.certificate === undefined || item.value.retiredAt !== undefined) return [];
    const certificate = readCertificate(fromBase64Url(item.value.certificate));
    return now <= certificate.notAfter &&
      now >= certificate.notBefore &&
      mayBeUsed(certificate, use) &&
      isIssuedFor(certificate, address)
      ? [{ item, certificate }]
      : [];
  });
  return found.sort(
    (a, b) =>
      Number(isChosen(b.item.value.chosen, address, use)) - Number(isChosen(a.item.value.chosen, address, use)) ||
      b.item.value.madeAt.localeCompare(a.item.value.madeAt),
  );
}

export interface CopyRecipient {
  certificate: Uint8Array;
  capabilities?: readonly string[];
}

export const sealing = {
  /** Whether copies from this address will be signed. */
  signs: async (address: string, now: Date): Promise<boolean> => (await usable(address, 'sign', now)).length > 0,
  /**
   * Seals and uploads; resolves with what it weighs. `clear` is for what is no secret: signed, not encrypted. @throws
   * ApiProblem, CmsError, RangeError when it would go neither signed nor encrypted
   */
  async sealAndUpload(
    message: MessageToSeal,
    recipients: readonly CopyRecipient[] | 'clear',
    neutralSubject: string,
    blobId: string,
    progress: (done: number) => void,
  ): Promise<{ size: number; signed: boolean }> {
    const { address } = message.from;
    const [signing, own] = [
      await usable(address, 'sign', message.date),
      await usable(address, 'encrypt', message.date),
    ];
    const known: KnownRecipient[] =
      recipients === 'clear'
        ? []
        : [
            ...recipients.map(({ certificate, capabilities }) => ({
              certificate: readCertificate(certificate),
              capabilities,
            })),
            ...own.slice(0, 1).map(({ certificate }) => ({ certificate, capabilities: certificate.capabilities })),
          ];
    const [signer] = signing;
    const sealed: Bytes = await sealForCertificates({
      message: await contentOf(message),
      recipients: known,
      neutralSubject,
      signer:
        signer === undefined
          ? undefined
          : {
              certificate: signer.certificate,
              privateKey: fromBase64Url(signer.item.value.privateKey),
              chain: signer.item.value.chain.map((one) => readCertificate(fromBase64Url(one))),
            },
    });
    await upload(blobId, sealed, progress);
    return { size: sealed.length, signed: signer !== undefined };
  },
};
