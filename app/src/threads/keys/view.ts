import {
  type Certificate,
  addressesOf,
  fingerprintOf,
  readCertificate,
} from '@under-lock/core/certificate/certificate';
import { attributeOf, nameInWords } from '@under-lock/core/certificate/name';
import { mayBeUsed } from '@under-lock/core/certificate/verdict';
import { type JudgedHere } from './judging';
import { type CertificateView, type VerdictView } from '../../keys/certificate-view';

const keyWords = ({ publicKey: { key } }: Certificate): string =>
  key.kind === 'rsa'
    ? `RSA ${key.bits}`
    : key.kind === 'ec'
      ? `EC ${key.curve}`
      : key.kind === 'ed25519'
        ? 'Ed25519'
        : key.kind === 'dsa'
          ? `DSA ${key.bits}`
          : 'unknown';

export async function viewOf(certificate: Certificate): Promise<CertificateView> {
  return {
    fingerprint: await fingerprintOf(certificate),
    bytes: certificate.bytes.slice() as Uint8Array<ArrayBuffer>,
    name: nameInWords(certificate.subject) || (addressesOf(certificate)[0] ?? ''),
    organization: attributeOf(certificate.subject, 'organization') ?? '',
    addresses: addressesOf(certificate),
    issuer: nameInWords(certificate.issuer),
    notBefore: certificate.notBefore,
    notAfter: certificate.notAfter,
    key: keyWords(certificate),
    uses: { sign: mayBeUsed(certificate, 'sign'), encrypt: mayBeUsed(certificate, 'encrypt') },
    serial: certificate.serial.toString(16),
    authority: certificate.basicConstraints?.ca === true,
  };
}

export const viewOfBytes = (bytes: Uint8Array): Promise<CertificateView> => viewOf(readCertificate(bytes));

export const verdictView = async ({
  level,
  findings,
  path,
  validUntil,
  personal,
}: JudgedHere): Promise<VerdictView> => ({
  level,
  findings,
  personal,
  path: await Promise.all(path.map(viewOf)),
  validUntil,
});
