/** What a page may know of a worker's own OpenPGP key. */
import { type KeptOpenPgp } from '@under-lock/core/openpgp/kept-key';
import { type OpenPgpView } from './view';

/** Everything but the secret half. */
export interface OwnOpenPgpKey extends Omit<KeptOpenPgp, 'secretKey' | 'revocation'> {
  id: string;
  revision: number;
  hasRevocation: boolean;
  view: OpenPgpView;
}
