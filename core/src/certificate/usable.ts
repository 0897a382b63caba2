/** Which of somebody's own certificates serves an address. */
import { fromBase64Url } from '../bytes';
import { type Certificate, readCertificate } from './certificate';
import { isChosen, type KeptKey } from './kept-key';
import { isIssuedFor, mayBeUsed, type Use } from './verdict';

export interface UsableCertificate {
  value: KeptKey;
  certificate: Certificate;
}

/** Those that can be used for an address at that time: the chosen one first, then the newest. */
export function usableCertificates(
  kept: readonly { value: KeptKey }[],
  address: string,
  use: Use,
  at: Date,
): UsableCertificate[] {
  const found = kept.flatMap(({ value }): UsableCertificate[] => {
    if (value.certificate === undefined || value.retiredAt !== undefined || value.forPrograms === true) return [];
    const certificate = readCertificate(fromBase64Url(value.certificate));
    const isInForce = at <= certificate.notAfter && at >= certificate.notBefore;
    return isInForce && mayBeUsed(certificate, use) && isIssuedFor(certificate, address)
      ? [{ value, certificate }]
      : [];
  });
  const chosen = ({ value }: UsableCertificate): number => Number(isChosen(value.chosen, address, use));
  return found.sort((a, b) => chosen(b) - chosen(a) || b.value.madeAt.localeCompare(a.value.madeAt));
}
