/** The certificate lock (S/MIME). Sealing is loaded when there is something to seal. */
import { defined } from '../../defined';
import { fromBase64Url } from '../../bytes';
import { addressKey } from '../../people/address';
import { type CopyReason, copiesOf } from '../copy';
import { type CopyLock } from '../lock';
import { assessCertificate } from './assess';
import { type CertificateOrder } from './order';

type Assessed = ReturnType<typeof assessCertificate>;

export const certificateLock: CopyLock<
  'certificate',
  Assessed['missing'][number],
  Assessed['warnings'][number],
  CopyReason,
  CertificateOrder
> = {
  lock: 'certificate',
  gives: 'copy',
  assess: assessCertificate,
  want: (lines) => copiesOf('certificate', lines),
  order({ clear, recipients }, { known: { certificates }, neutralSubject }) {
    const theirs = () =>
      recipients.map(({ address }) => {
        const { certificate, capabilities } = certificates.get(addressKey(address))!.kept;
        return { certificate: fromBase64Url(certificate), ...defined({ capabilities }) };
      });
    // What is signed in the clear goes to people who have none.
    return { lock: 'certificate', recipients: clear ? 'clear' : theirs(), neutralSubject };
  },
  seal: async (...given) => (await import('./seal')).sealCertificateCopy(...given),
  recognise: async (mail) => (await import('./recognise')).recogniseCertificate(mail),
  unwrapping: async () => (await import('./unwrapping')).unwrapping,
};
