/** What a page may know of a worker's own key. */
import { type KeptKey } from '@under-lock/core/certificate/kept-key';

/** Everything but the private half. */
export interface OwnKey extends Omit<KeptKey, 'privateKey' | 'certificate' | 'chain'> {
  id: string;
  revision: number;
  certificate: Uint8Array<ArrayBuffer> | undefined;
  chain: readonly Uint8Array<ArrayBuffer>[];
}
