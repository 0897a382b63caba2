/**
 * What is at hand to judge certificates by: trust anchors, other certificates, revocation lists and OCSP answers, found
 * by name; and every signature already checked.
 */
import { type Certificate } from './certificate';
import { type OcspAnswer } from './ocsp';
import { SignatureChecks } from './path';
import { type RevocationList } from './revocation-list';

function byKey<T>(items: Iterable<T>, keyOf: (item: T) => string): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const item of items) found.set(keyOf(item), [...(found.get(keyOf(item)) ?? []), item]);
  return found;
}

export interface EvidenceItems {
  anchors: readonly Certificate[];
  certificates?: readonly Certificate[];
  lists?: readonly RevocationList[];
  answers?: readonly OcspAnswer[];
}

export class Evidence {
  readonly signatures = new SignatureChecks();
  readonly anchors: ReadonlyMap<string, readonly Certificate[]>;
  readonly certificates: ReadonlyMap<string, readonly Certificate[]>;
  readonly lists: ReadonlyMap<string, readonly RevocationList[]>;
  readonly answers: readonly OcspAnswer[];

  constructor({ anchors, certificates = [], lists = [], answers = [] }: EvidenceItems) {
    this.anchors = byKey(anchors, ({ subject }) => subject.key);
    this.certificates = byKey(certificates, ({ subject }) => subject.key);
    this.lists = byKey(lists, ({ issuer }) => issuer.key);
    this.answers = answers;
  }
}
