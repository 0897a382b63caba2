/**
 * The manifest of a kind: which items there are, each with its revision, sealed under the vault's key together with a
 * revision of its own. It is written in the same transaction as every change of an item, so that what the server gives
 * out is either exactly what was left there or noticed.
 *
 * Most of the time only a step is written: what changes from the manifest before, which it names by the digest of what
 * was sealed. Steps follow one another in one line only: what two writers made of the same manifest never comes together.
 */
import { type Bytes, fromUtf8, toBase64Url, utf8 } from '../bytes';
import { seal, SealError, unseal } from '../sealing';
import { Counted } from './counted';
import { type CountedKind } from './item';

export interface Manifest {
  /** 0 as long as none has been written. */
  revision: number;
  /** The revision of each item, by its id. */
  items: Counted;
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
  /** Names the step that led to it, or the whole that others followed since. Empty before any. */
  head: string;
  /** The revision of the last one that was written whole. */
  whole: number;
}

/** Of manifests, by kind. */
export type Revisions = Partial<Record<CountedKind, number>>;

/** Of each kind the later one; what was `before` where nothing is later. */
export function newest(before: Revisions, more: Revisions): Revisions {
  const later = Object.entries(more).filter(([kind, revision]) => revision > (before[kind as CountedKind] ?? 0));
  return later.length === 0 ? before : { ...before, ...Object.fromEntries(later) };
}

export const emptyManifest: Manifest = {
  revision: 0,
  items: Counted.of([]),
  unbound: new Set(),
  met: {},
  head: '',
  whole: 0,
};

const context = (kind: CountedKind, revision: number): string => `under-lock/vault/manifest/v1/${kind}/${revision}`;
const stepContext = (kind: CountedKind, revision: number): string =>
  `under-lock/vault/manifest-step/v1/${kind}/${revision}`;

/** SHA-256 of sealed octets, as what follows them names them. */
export const headOf = async (sealed: Uint8Array): Promise<string> =>
  toBase64Url(new Uint8Array(await globalThis.crypto.subtle.digest('SHA-256', sealed as Bytes)));

interface Written {
  items: Record<string, number>;
  unbound: string[];
  met: Revisions;
  life?: string;
  /** The step that led to it; its own digest where none did. */
  head?: string;
}

export function sealManifest(
  key: CryptoKey,
  kind: CountedKind,
  { revision, items, unbound, met, life, head }: Manifest,
): Promise<Bytes> {
  const written: Written = {
    items: Object.fromEntries(items),
    unbound: [...unbound],
    met,
    ...(life === undefined ? {} : { life }),
    ...(head === '' ? {} : { head }),
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
    const { items, unbound, met, life, head } = JSON.parse(fromUtf8(plain)) as Written;
    return {
      revision,
      items: Counted.of(Object.entries(items)),
      unbound: new Set(unbound),
      met,
      ...(life === undefined ? {} : { life }),
      head: head ?? (await headOf(sealed)),
      whole: revision,
    };
  } catch {
    throw new SealError('malformed');
  }
}

/** Which items have which revision from now on; `undefined` for what is gone. */
export type ManifestChanges = readonly (readonly [id: string, revision: number | undefined])[];

interface WrittenStep {
  after: string;
  items: [id: string, revision: number | null][];
  met: Revisions;
}

const withoutAny = (all: ReadonlySet<string>, some: ReadonlySet<string>): ReadonlySet<string> =>
  all.size === 0 ? all : new Set([...all].filter((id) => !some.has(id)));

/** What leads from a manifest to the next. */
export function sealStep(
  key: CryptoKey,
  kind: CountedKind,
  { head, revision }: Manifest,
  changes: ManifestChanges,
  met: Revisions,
): Promise<Bytes> {
  const written: WrittenStep = {
    after: head,
    items: changes.map(([id, changed]) => [id, changed ?? null]),
    met,
  };
  return seal(key, utf8(JSON.stringify(written)), stepContext(kind, revision + 1));
}

async function openStep(key: CryptoKey, kind: CountedKind, revision: number, sealed: Uint8Array): Promise<WrittenStep> {
  const plain = await unseal(key, sealed, stepContext(kind, revision));
  try {
    return JSON.parse(fromUtf8(plain)) as WrittenStep;
  } catch {
    throw new SealError('malformed');
  }
}

/**
 * The manifest that these steps lead to, one after another, and the items they name. Throws SealError where they do not
 * follow it or one another, or come past the revision of `via` by another way.
 */
export async function withSteps(
  key: CryptoKey,
  kind: CountedKind,
  manifest: Manifest,
  steps: readonly Uint8Array[],
  via?: Pick<Manifest, 'revision' | 'head'>,
): Promise<{ manifest: Manifest; touched: Set<string> }> {
  const changes = new Map<string, number | undefined>();
  let { head, revision, met } = manifest;
  const requireVia = (): void => {
    if (revision === via?.revision && head !== via.head) throw new SealError('malformed');
  };
  requireVia();
  for (const sealed of steps) {
    const step = await openStep(key, kind, ++revision, sealed);
    if (step.after !== head) throw new SealError('malformed');
    head = await headOf(sealed);
    requireVia();
    met = newest(met, step.met);
    for (const [id, changed] of step.items) changes.set(id, changed ?? undefined);
  }
  const touched = new Set(changes.keys());
  const items = manifest.items.with(changes);
  const unbound = withoutAny(manifest.unbound, touched);
  return { manifest: { ...manifest, items, unbound, head, revision, met }, touched };
}

/** The next manifest, as long as it has not been sealed. */
export const withRevisions = (manifest: Manifest, changes: ManifestChanges): Manifest => ({
  ...manifest,
  revision: manifest.revision + 1,
  items: manifest.items.with(changes),
  unbound: withoutAny(manifest.unbound, new Set(changes.map(([id]) => id))),
});
