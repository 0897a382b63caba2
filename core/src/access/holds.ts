/**
 * Whether one access keeps to what its message demands: asked wherever an access is made or changed, with the same
 * answer.
 */
import { type HandlingTerms, isAsStrong, type IdentityCheck, mergeTerms, passwordSuffices } from '../handling/handling';

/** How the reader of an access is known. */
export type ReaderKnown =
  /** A colleague: by their sign-in. */
  | { kind: 'account' }
  /** A registered reader: by their password, worth the strongest check its owner has passed. */
  | { kind: 'registered'; knownBy: IdentityCheck | undefined }
  | { kind: 'link'; check: IdentityCheck; /** Something is asked besides, or nothing else is. */ question: boolean };

/** Which part is not held. */
export type Unheld = 'audience' | 'check' | 'question';

/**
 * Undefined when the access holds what `handling` and `floor`, the strictest of both part by part, demand of it.
 * The audience: `staff` are known by their account; whoever is known by it is no outsider; nobody may read what two
 * exclude from each other.
 */
export function grantHolds(handling: HandlingTerms, floor: HandlingTerms, reader: ReaderKnown): Unheld | undefined {
  const demanded = mergeTerms(handling, floor);
  if (
    demanded.audience === 'nobody' ||
    (demanded.audience === 'staff' && reader.kind !== 'account') ||
    (demanded.audience === 'outsiders' && reader.kind === 'account')
  )
    return 'audience';
  switch (reader.kind) {
    case 'account':
      return undefined;
    case 'registered':
      return passwordSuffices(reader.knownBy, demanded) ? undefined : demanded.question ? 'question' : 'check';
    case 'link':
      if (!isAsStrong(reader.check, demanded.check)) return 'check';
      return demanded.question && !reader.question ? 'question' : undefined;
  }
}
