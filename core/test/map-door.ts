/** A vault's server that is only a map: what was written to it in which order, and whatever a test makes of it. */
import { type GivenManifest, type NextManifest, type SealedItem, type VaultDoor } from '../src/vault/door';
import { type BookKind, type CountedKind, type VaultItemKind } from '../src/vault/item';

export class Behind extends Error {}
export class Conflict extends Error {}

export interface State {
  items: Map<string, SealedItem & { under: number }>;
  manifest: { revision: number; whole: { revision: number; sealed: Uint8Array } } | undefined;
  /** By their revision. */
  steps: Map<number, Uint8Array>;
}

/** The people's shelf at the server, and what was written to it in which order. */
export class MapDoor implements VaultDoor {
  state: State = { items: new Map(), manifest: undefined, steps: new Map() };
  readonly log: { id: string; revision: number | undefined }[] = [];
  /** How many items each list brought. */
  readonly brought: number[] = [];
  /** What each change brought along. */
  readonly manifests: NextManifest[] = [];
  /** Waits as long as a line would, so that others come in between. */
  constructor(private readonly line: () => Promise<void>) {}

  private given(known: number): GivenManifest {
    const { manifest, steps } = this.state;
    if (manifest === undefined) return { revision: 0 };
    const { revision, whole } = manifest;
    const follows = known > 0 && known <= revision && (known >= whole.revision || steps.has(known + 1));
    const since = [...steps].filter(([at]) => at > (follows ? known : whole.revision) && at <= revision);
    return { revision, ...(follows ? {} : { whole }), steps: since.map(([, sealed]) => sealed) };
  }

  async list(kind: CountedKind, known: number, since = -1) {
    await this.line();
    if (kind !== 'person') return { items: [], manifest: { revision: 0 } };
    const items = [...this.state.items.values()].filter(({ under }) => under > since).map((one) => ({ ...one }));
    this.brought.push(items.length);
    const answer = { items, manifest: this.given(known) };
    await this.line();
    return answer;
  }

  async read(_: VaultItemKind | BookKind, id: string, known: number) {
    await this.line();
    const item = this.state.items.get(id);
    return { item: item && { ...item }, manifest: this.given(known) };
  }

  private replace(manifest: NextManifest | undefined): void {
    if (manifest === undefined) return;
    if ((this.state.manifest?.revision ?? 0) !== manifest.revision) throw new Behind();
    const revision = manifest.revision + 1;
    this.manifests.push(manifest);
    if (manifest.step === undefined) this.state.steps.clear();
    else this.state.steps.set(revision, manifest.step);
    const whole = manifest.whole === undefined ? this.state.manifest!.whole : { revision, sealed: manifest.whole };
    this.state.manifest = { revision, whole };
  }

  async put(...[, id, { revision, sealed, manifest }]: Parameters<VaultDoor['put']>) {
    await this.line();
    if ((this.state.items.get(id)?.revision ?? 0) !== revision) throw new Conflict();
    this.replace(manifest);
    const under = this.state.manifest?.revision ?? 0;
    this.state.items.set(id, { id, revision: revision + 1, updatedAt: new Date(0), sealed, under });
    this.log.push({ id, revision: revision + 1 });
    await this.line();
  }

  async putAll(...[, changes, manifest]: Parameters<NonNullable<VaultDoor['putAll']>>) {
    await this.line();
    if (changes.some(({ id, revision }) => (this.state.items.get(id)?.revision ?? 0) !== revision))
      throw new Conflict();
    this.replace(manifest);
    for (const { id, revision, sealed } of changes) {
      const under = this.state.manifest!.revision;
      this.state.items.set(id, { id, revision: revision + 1, updatedAt: new Date(0), sealed, under });
      this.log.push({ id, revision: revision + 1 });
    }
    await this.line();
  }

  async drop(...[, id, manifest]: Parameters<VaultDoor['drop']>) {
    await this.line();
    this.replace(manifest);
    this.state.items.delete(id);
    this.log.push({ id, revision: undefined });
  }

  async putManifest(...[, manifest]: Parameters<VaultDoor['putManifest']>) {
    await this.line();
    this.replace(manifest);
  }

  isBehind = (error: unknown): boolean => error instanceof Behind;
}

export const copyOf = ({ items, manifest, steps }: State): State => ({
  items: new Map(items),
  manifest,
  steps: new Map(steps),
});
