/**
 * What surrounds mail under lock, from outside in: whichever standard a layer follows, it is opened alike and says
 * alike what it vouches for.
 */
import { type Certificate } from '../certificate/certificate';
import { type CipherName } from '../cms/identifiers';
import { type SignerCheck } from '../cms/signed-data';
import { type OpenPgpCheck } from '../openpgp/message';

export type Layer =
  | {
      kind: 'encrypted';
      by: 'certificate';
      cipher: CipherName;
      authenticated: boolean;
      old: boolean;
      openedWith: Certificate;
      recipients: number;
    }
  | { kind: 'signed'; by: 'certificate'; checks: readonly SignerCheck[]; certificates: readonly Certificate[] }
  | {
      kind: 'encrypted';
      by: 'openpgp';
      cipher: string;
      authenticated: true;
      old: boolean;
      /** The fingerprint of our key. */ openedWith: string;
      recipients: number;
    }
  | {
      kind: 'signed';
      by: 'openpgp';
      checks: readonly OpenPgpCheck[];
      /** Text and files each under a signature of their own: nobody vouches for their belonging together. */ apart: boolean;
    };

/** What one step brought: the layers it went through and what was inside, a MIME entity. */
export interface OpenedLayers {
  layers: readonly Layer[];
  inner: Uint8Array;
}

export type UnwrapErrorCode = 'too-deep' | 'malformed' | 'unsupported' | 'not-for-us' | 'not-opened';
export class UnwrapError extends Error {
  /** `layers`: what had been opened before. */
  constructor(
    readonly code: UnwrapErrorCode,
    readonly layers: readonly Layer[],
    options?: ErrorOptions,
  ) {
    super(`Sealed mail: ${code}`, options);
    this.name = 'UnwrapError';
  }
}
