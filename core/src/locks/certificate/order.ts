/** What one copy needs to be sealed, as plain data. */
import { type Bytes } from '../../bytes';

export interface CertificateOrder {
  lock: 'certificate';
  /** `clear`: signed, not encrypted. */
  recipients: { certificate: Bytes; capabilities?: string[] }[] | 'clear';
  neutralSubject: string;
}
