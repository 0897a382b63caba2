/**
 * Finds paths from a certificate up to a trust anchor by names and key identifiers, the likeliest first, within limits:
 * a message can bring a thousand certificates that all seem to issue each other.
 */
import { toHex } from '../bytes';
import { type Certificate } from './certificate';
import { type Evidence } from './evidence';

export const MAX_PATH_LENGTH = 12;
export const MAX_PATHS = 100;
const MAX_STEPS = 2000;

/** A path without its anchor, from the anchor's side down to the certificate. */
export interface Path {
  anchor: Certificate;
  certificates: readonly Certificate[];
}

/**
 * How well an issuer's key answers to what the certificate says of its issuer's key; a differing identifier is no bar
 * (RFC 4158 §3.5.12).
 */
function fit({ authorityKeyId }: Pick<Certificate, 'authorityKeyId'>, issuer: Certificate): number {
  if (authorityKeyId?.key === undefined || issuer.subjectKeyId === undefined) return 1;
  return toHex(authorityKeyId.key) === toHex(issuer.subjectKeyId) ? 2 : 0;
}

export const likeliestFirst = (
  what: Pick<Certificate, 'authorityKeyId'>,
  issuers: readonly Certificate[],
): Certificate[] => [...issuers].sort((a, b) => fit(what, b) - fit(what, a));

// The same name and key twice in a path leads nowhere new (RFC 4158 §5.2).
const same = (a: Certificate, b: Certificate): boolean =>
  a === b || (a.subject.key === b.subject.key && toHex(a.publicKey.bytes) === toHex(b.publicKey.bytes));

export function* pathsTo(
  target: Certificate,
  { anchors, certificates }: Pick<Evidence, 'anchors' | 'certificates'>,
): Generator<Path, void> {
  let steps = 0;
  let found = 0;
  function* up(path: readonly Certificate[]): Generator<Path, void> {
    const [top] = path as [Certificate];
    if (++steps > MAX_STEPS) return;
    for (const anchor of likeliestFirst(top, anchors.get(top.issuer.key) ?? [])) {
      if (++found > MAX_PATHS) return;
      yield { anchor, certificates: path };
    }
    if (path.length === MAX_PATH_LENGTH) return;
    for (const issuer of likeliestFirst(top, certificates.get(top.issuer.key) ?? [])) {
      if (found > MAX_PATHS || steps > MAX_STEPS) return;
      if (!path.some((one) => same(one, issuer))) yield* up([issuer, ...path]);
    }
  }
  yield* up([target]);
}
