/**
 * What surrounds mail under lock, from outside in: whichever standard a layer follows, it is opened alike and says
 * alike what it vouches for.
 */
import { type Certificate } from '../certificate/certificate';
import { type HeldKey } from '../cms/enveloped-data';
import { type Entity } from '../message/entity';
import { type OpenPgpForm } from './openpgp/form';
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

/** Opens what follows OpenPGP; given by who has its keys, so that the library is loaded only where it is met. */
export type OpenPgpOpener = (
  form: OpenPgpForm,
  entity: Pick<Entity, 'bytes' | 'body' | 'contentType' | 'fields'>,
) => Promise<OpenedLayers>;

/** What we have to open with. */
export interface UnwrapMeans {
  /** Our keys with their certificates, old ones too. */
  held: readonly HeldKey[];
  openpgp: OpenPgpOpener | undefined;
}

/** One standard's way off a mail, a step at a time. */
export interface Unwrapping {
  /** What stands alone in a file, without a mail around it; undefined for what is something else. */
  bare(bytes: Uint8Array, means: UnwrapMeans): Promise<OpenedLayers | undefined>;
  /** The next step inwards; undefined when nothing of this standard surrounds the whole. */
  next(entity: Entity, means: UnwrapMeans): Promise<OpenedLayers | undefined>;
  /** A part of a mail that is signed or encrypted on its own. */
  isPart(part: Entity): boolean;
  /** A text with something signed or encrypted in it, and other words around that. */
  isWithin(text: Entity): boolean;
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
