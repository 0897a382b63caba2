/**
 * The manifest of a kind: which items there are, each with its revision, sealed under the vault's key together with a
 * revision of its own. It is written in the same transaction as every change of an item, so that what the server gives
 * out is either exactly what was left there or noticed.
 */
import { type Bytes, fromUtf8, utf8 } from '../bytes';
import { seal, SealError, unseal } from '../sealing';
import { type CountedKind } from './item';

export interface Manifest {
  /** 0 as long as none has been written. */
  revision: number;
  /** The revision of each item, by its id. */
  items: ReadonlyMap<string, number>;
  /** Items that were sealed before revisions were bound in, until each is written again. */
  unbound: ReadonlySet<string>;
  /**
   * Revisions of the other kinds' manifests that its writer had met: a browser that has seen none of them learns them
   * here.
   */
  met: Revisions;
  /**
   * Another one since its owner took everything as the server gave it out (a restored backup): one number of an item
   * may have stood for two things since. Undefined before that was ever done.
   */
  life?: string;
}

/** Of manifests, by kind. */
export type Revisions = Partial<Record<CountedKind, number>>;

/** Of each kind the later one; what was `before` where nothing is later. */
export function newest(before: Revisions, more: Revisions): Revisions {
  const later = Object.entries(more).filter(([kind, revision]) => revision > (before[kind as CountedKind] ?? 0));
  return later.length === 0 ? before : { ...before, ...Object.fromEntries(later) };
}

export const emptyManifest: Manifest = { revision: 0, items: new Map(), unbound: new Set(), met: {} };

const context = (kind: CountedKind, revision: number): string => `under-lock/vault/manifest/v1/${kind}/${revision}`;

interface Written {
  items: Record<string, number>;
  unbound: string[];
  met: Revisions;
  life?: string;
}

export function sealManifest(
  key: CryptoKey,
  kind: CountedKind,
  { revision, items, unbound, met, life }: Manifest,
): Promise<Bytes> {
  const written: Written = {
    items: Object.fromEntries(items),
    unbound: [...unbound],
    met,
    ...(life === undefined ? {} : { life }),
  };
  return seal(key, utf8(JSON.stringify(written)), context(kind, revision));
}

/** Throws SealError, also when it is the manifest of another kind or of another revision than is said. */
export async function openManifest(
  key: CryptoKey,
  kind: CountedKind,
  revision: number,
  sealed: Uint8Array,
): Promise<Manifest> {
  const plain = await unseal(key, sealed, context(kind, revision));
  try {
    const { items, unbound, met, life } = JSON.parse(fromUtf8(plain)) as Written;
    return {
      revision,
      items: new Map(Object.entries(items)),
      unbound: new Set(unbound),
      met,
      ...(life === undefined ? {} : { life }),
    };
  } catch {
    throw new SealError('malformed');
  }
}

/** The next manifest, in which these items have these revisions from now on, or are gone (`undefined`). */
export function withRevisions(
  manifest: Manifest,
  changes: Iterable<readonly [id: string, revision: number | undefined]>,
): Manifest {
  const items = new Map(manifest.items);
  const unbound = new Set(manifest.unbound);
  for (const [id, revision] of changes) {
    unbound.delete(id);
    if (revision === undefined) items.delete(id);
    else items.set(id, revision);
  }
  return { ...manifest, revision: manifest.revision + 1, items, unbound };
}
export const withRevision = (manifest: Manifest, id: string, revision: number | undefined): Manifest =>
  withRevisions(manifest, [[id, revision]]);
