/**
 * The manifests of one vault as a browser knows them: what comes is held against what it has met before, and what it
 * writes follows what it knows.
 */
import { type Bytes } from '../bytes';
import { type GivenManifest, type NextManifest } from './door';
import { type CountedKind } from './item';
import { STEPS } from './limits';
import {
  emptyManifest,
  headOf,
  type Manifest,
  type ManifestChanges,
  openManifest,
  sealManifest,
  sealStep,
  withRevisions,
  withSteps,
} from './manifest';
import { type Memory } from './memory';

/** What the server gave out is not what was left there. Nothing of it is used. */
export class VaultOldError extends Error {
  constructor(readonly kind: CountedKind) {
    super(kind);
    this.name = 'VaultOldError';
  }
}

/**
 * What is known and what has been met before something is asked: writers that are quicker than the answer make it no
 * older.
 */
export interface Before {
  met: number;
  manifest: Manifest | undefined;
  /** What the server gave first did not follow it. */
  isParted?: boolean;
}

export interface Taken {
  manifest: Manifest;
  /** The items that have changed since what was known; undefined where it came whole. */
  touched: ReadonlySet<string> | undefined;
}

export interface Following {
  next: Manifest;
  written: NextManifest;
}

export class Manifests {
  private readonly known = new Map<CountedKind, Manifest>();
  /** Somebody else may have written since. */
  private readonly doubtful = new Set<CountedKind>();

  /** @param key The vault's, asked for at each use; rejects once the vault is locked. */
  constructor(
    private readonly memory: Memory,
    private readonly key: () => Promise<CryptoKey>,
  ) {}

  async before(kind: CountedKind): Promise<Before> {
    return { met: await this.revisionOf(kind), manifest: this.known.get(kind) };
  }

  /** What a change can follow without asking. */
  standing(kind: CountedKind): Manifest | undefined {
    return this.doubtful.has(kind) ? undefined : this.known.get(kind);
  }

  doubt(kind: CountedKind): void {
    this.doubtful.add(kind);
  }

  /**
   * What the server gave, as far as it is what was left there. Undefined where it does not follow what was known: then
   * the whole is to be asked for, which says whether it is another life of the vault's or another line of the same one.
   *
   * @throws VaultOldError
   */
  async take(kind: CountedKind, given: GivenManifest, asked: Before): Promise<Taken | undefined> {
    const { revision, whole } = given;
    if (revision < asked.met) throw new VaultOldError(kind);
    if (revision === 0) return { manifest: emptyManifest, touched: undefined };
    const taken =
      whole === undefined
        ? await this.takeSteps(kind, given, asked)
        : await this.takeWhole(kind, { ...given, whole }, asked);
    if (taken?.manifest.revision !== revision) {
      if (whole !== undefined || asked.manifest === undefined || asked.isParted === true) throw new VaultOldError(kind);
      return undefined;
    }
    const { manifest } = taken;
    const known = this.known.get(kind);
    if (known === undefined || known.revision < revision || known.life !== manifest.life)
      this.known.set(kind, manifest);
    this.doubtful.delete(kind);
    await this.memory.raise({ ...manifest.met, [kind]: revision });
    return taken;
  }

  private async takeSteps(
    kind: CountedKind,
    { steps = [] }: GivenManifest,
    { manifest }: Before,
  ): Promise<Taken | undefined> {
    if (manifest === undefined) return undefined;
    return withSteps(await this.key(), kind, manifest, steps).catch(() => undefined);
  }

  private async takeWhole(
    kind: CountedKind,
    { whole, steps = [] }: GivenManifest & { whole: NonNullable<GivenManifest['whole']> },
    { manifest: before, isParted = false }: Before,
  ): Promise<Taken | undefined> {
    const key = await this.key();
    const start = await openManifest(key, kind, whole.revision, whole.sealed).catch(() => undefined);
    if (start === undefined) return undefined;
    // In a life of its own nothing from before goes on.
    const isSameLife = before !== undefined && before.life === start.life;
    if (isSameLife && isParted) return undefined;
    const followed = await withSteps(key, kind, start, steps, isSameLife ? before : undefined).catch(() => undefined);
    return followed && { manifest: followed.manifest, touched: undefined };
  }

  /** A manifest without one before it, or one that takes the place of all that was. */
  async first(kind: CountedKind, manifest: Manifest): Promise<Following> {
    const { revision } = manifest;
    const whole = await this.sealed(kind, { ...manifest, head: '' });
    return {
      next: { ...manifest, head: await headOf(whole), whole: revision },
      written: { revision: revision - 1, whole },
    };
  }

  /** What follows `manifest` with these changes: a step, and from time to time the whole. */
  async following(kind: CountedKind, manifest: Manifest, changes: ManifestChanges): Promise<Following> {
    const { revision } = manifest;
    const next = withRevisions(manifest, changes);
    if (revision === 0) return this.first(kind, next);
    const step = await sealStep(await this.key(), kind, manifest, changes, await this.memory.met());
    const stepped = { ...next, head: await headOf(step) };
    if (next.revision - manifest.whole <= STEPS) return { next: stepped, written: { revision, step } };
    const whole = await this.sealed(kind, stepped);
    return { next: { ...stepped, whole: next.revision }, written: { revision, step, whole } };
  }

  private async sealed(kind: CountedKind, manifest: Manifest): Promise<Bytes> {
    return sealManifest(await this.key(), kind, { ...manifest, met: await this.memory.met() });
  }

  /** It is there now. */
  async written(kind: CountedKind, next: Manifest): Promise<void> {
    this.known.set(kind, next);
    this.doubtful.delete(kind);
    await this.memory.raise({ [kind]: next.revision });
  }

  /** Also what was met: whatever the server gives out is taken. */
  async forgetAll(): Promise<void> {
    this.known.clear();
    await this.memory.forget();
  }

  /** Of the manifest that was met last, 0 before any. */
  async revisionOf(kind: CountedKind): Promise<number> {
    return (await this.memory.met())[kind] ?? 0;
  }

  /** Begins with what a device has kept, where nothing newer is known. */
  remember(kind: CountedKind, manifest: Manifest): void {
    if (!this.known.has(kind)) this.known.set(kind, manifest);
  }
}
