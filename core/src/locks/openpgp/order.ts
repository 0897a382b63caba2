/** What one copy needs to be sealed, as plain data. */
import { type Bytes } from '../../bytes';
import { type OpenPgpMailForm } from '../../ways/mail-form';

export interface OpenPgpOrder {
  lock: 'openpgp';
  /** `clear`: signed, not encrypted. */
  recipients: Bytes[] | 'clear';
  form: OpenPgpMailForm;
  neutralSubject: string;
}
