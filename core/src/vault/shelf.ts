/**
 * The vault as its owner's browser uses it: values in, values out, sealed on the way. What the server gives out is held
 * against the kind's manifest, and the manifest against what this browser has met before: an item or a whole kind from
 * an earlier time, an item that is missing, or one under a wrong revision is never taken for what is there.
 *
 * What it can't notice: everything from one earlier time at once, on a browser that has met none of it since.
 */
import { Counted } from './counted';
import { type NextManifest, type SealedItem, type VaultDoor } from './door';
import {
  type BookKind,
  type CountedKind,
  GUARDED_KINDS,
  isGuarded,
  openItem,
  sealItem,
  type VaultItemKind,
} from './item';
import { LOT_ITEMS } from './limits';
import { emptyManifest, type Manifest, type ManifestChanges } from './manifest';
import { Manifests, VaultOldError } from './manifests';
import { type Memory } from './memory';
import { type Followed, Opened, type ShelfItem } from './opened';
import { type Stock, Stocked } from './stock';

export interface ValueChange {
  id: string;
  /** The one it replaces, 0 for a new item. */
  revision: number;
  value: unknown;
}

export interface Shelf {
  /** By their ids. Throws VaultOldError. */
  list(kind: CountedKind): Promise<ShelfItem[]>;
  /**
   * What is new since a mark that was given here before, all of it where there is none or it is long ago. Throws
   * VaultOldError.
   */
  follow(kind: CountedKind, mark?: string): Promise<Followed>;
  /** Undefined when there is no such item. Throws VaultOldError. */
  read(kind: VaultItemKind | BookKind, id: string): Promise<ShelfItem | undefined>;
  /** `revision` is the one it replaces, 0 for a new item; resolves with the next one. Throws what the door throws. */
  keep(kind: VaultItemKind | BookKind, id: string, revision: number, value: unknown): Promise<number>;
  /** As many `keep`s, in lots that each go at once. */
  keepAll(kind: CountedKind, changes: readonly ValueChange[]): Promise<void>;
  drop(kind: CountedKind, id: string): Promise<void>;
  /** Of the manifest that was met last, 0 before any. */
  revisionOf(kind: CountedKind): Promise<number>;
  /**
   * Takes everything as the server gives it out now: after a backup was restored, when its owner has said so. What does
   * not open is left out from then on.
   */
  accept(): Promise<void>;
}

export interface ShelfParts {
  door: VaultDoor;
  memory: Memory;
  /** The vault's key, asked for at each use; rejects once the vault is locked. */
  key(): Promise<CryptoKey>;
  /** What lies in it that is counted; all of a worker's own where it is not said. */
  kinds?: readonly CountedKind[];
  /** Where the device keeps what was opened, sealed; nothing is kept where there is none. */
  stock?: Stock;
}

/** How often others may write in between. */
const TRIES = 12;

/** Of one request that writes several, before they are sealed. */
const LOT_CHARACTERS = 1_500_000;

function inLots(changes: readonly ValueChange[]): ValueChange[][] {
  const lots: ValueChange[][] = [];
  let characters = 0;
  for (const change of changes) {
    const size = JSON.stringify(change.value).length;
    const lot = lots.at(-1);
    if (lot === undefined || lot.length === LOT_ITEMS || characters + size > LOT_CHARACTERS) {
      lots.push([change]);
      characters = size;
    } else {
      lot.push(change);
      characters += size;
    }
  }
  return lots;
}

const byId = ({ id: one }: ShelfItem, { id: other }: ShelfItem): number => (one < other ? -1 : 1);

/** Acts of one kind go one after another. */
class Turns {
  private readonly last = new Map<CountedKind, Promise<unknown>>();

  take<T>(kind: CountedKind, act: () => Promise<T>): Promise<T> {
    const turn = (this.last.get(kind) ?? Promise.resolve()).then(act);
    this.last.set(
      kind,
      turn.catch(() => undefined),
    );
    return turn;
  }
}

/** What was opened under one key: it goes with the key when the vault is locked. */
interface UnderKey {
  opened: Map<CountedKind, Opened>;
  stocked: Stocked | undefined;
}

class VaultShelf implements Shelf {
  private readonly door: VaultDoor;
  private readonly manifests: Manifests;
  private readonly held = new WeakMap<CryptoKey, UnderKey>();
  /** Each writes what follows the one before. */
  private readonly writers = new Turns();
  private readonly readers = new Turns();

  constructor(private readonly parts: ShelfParts) {
    this.door = parts.door;
    this.manifests = new Manifests(parts.memory, parts.key);
  }

  private async underKey(): Promise<UnderKey> {
    // Rejects once the vault is locked, whatever was opened before.
    const key = await this.parts.key();
    const known = this.held.get(key);
    if (known !== undefined) return known;
    const { stock } = this.parts;
    const made = { opened: new Map(), stocked: stock === undefined ? undefined : new Stocked(stock, key) };
    this.held.set(key, made);
    return made;
  }

  /** Undefined where it is not what the manifest counts. */
  private async openedItem(
    key: CryptoKey,
    kind: CountedKind,
    manifest: Manifest,
    { id, revision, updatedAt, sealed }: SealedItem,
  ): Promise<ShelfItem | undefined> {
    if (manifest.items.get(id) !== revision) return undefined;
    const bound = manifest.unbound.has(id) ? undefined : revision;
    return openItem(key, kind, id, sealed, bound).then(
      (value) => ({ id, revision, updatedAt, value }),
      () => undefined,
    );
  }

  /** All of these that the manifest counts, by what came; undefined where that is not all. */
  private async openedItems(
    kind: CountedKind,
    manifest: Manifest,
    ids: Iterable<string>,
    came: readonly SealedItem[],
  ): Promise<Map<string, ShelfItem> | undefined> {
    // What nobody counted is not there: something deleted that was put back.
    const counted = came.filter(({ id }) => manifest.items.has(id));
    const key = await this.parts.key();
    const items = await Promise.all(counted.map((item) => this.openedItem(key, kind, manifest, item)));
    const opened = new Map(items.flatMap((item) => (item === undefined ? [] : [[item.id, item]])));
    for (const id of ids) if (manifest.items.has(id) && !opened.has(id)) return undefined;
    return opened;
  }

  /**
   * The first manifest: of everything there is, each under the revision the server says, as it was believed until now.
   */
  private async begun(kind: CountedKind, items: readonly SealedItem[], replaced = 0): Promise<Manifest> {
    const key = await this.parts.key();
    const opens = ({ id, sealed }: SealedItem, bound: number | undefined): Promise<boolean> =>
      openItem(key, kind, id, sealed, bound).then(
        () => true,
        () => false,
      );
    const opening = await Promise.all(
      items.map(async (item) => ({
        id: item.id,
        revision: item.revision,
        how: (await opens(item, item.revision)) ? 'bound' : (await opens(item, undefined)) ? 'unbound' : 'closed',
      })),
    );
    const counted = opening.filter(({ how }) => how !== 'closed');
    const { next, written } = await this.manifests.first(kind, {
      ...emptyManifest,
      ...(replaced === 0 ? {} : { life: globalThis.crypto.randomUUID() }),
      revision: replaced + 1,
      items: Counted.of(counted.map(({ id, revision }) => [id, revision])),
      unbound: new Set(counted.filter(({ how }) => how === 'unbound').map(({ id }) => id)),
    });
    await this.door.putManifest(kind, written);
    await this.manifests.written(kind, next);
    return next;
  }

  /** An item as it is there, and the newest manifest. */
  private async newest(
    kind: CountedKind,
    id: string,
    isParted = false,
  ): Promise<{ manifest: Manifest; item: SealedItem | undefined }> {
    const asked = { ...(await this.manifests.before(kind)), isParted };
    const known = isParted ? 0 : (asked.manifest?.revision ?? 0);
    const { item, manifest: given = { revision: 0 } } = await this.door.read(kind, id, known);
    const taken = await this.manifests.take(kind, given, asked);
    return taken === undefined ? this.newest(kind, id, true) : { manifest: taken.manifest, item };
  }

  /** @param id Of an item that is about to be written: all of them are asked for only where counting has not begun. */
  private async current(kind: CountedKind, id: string): Promise<Manifest> {
    const standing = this.manifests.standing(kind);
    if (standing !== undefined) return standing;
    const { manifest } = await this.newest(kind, id);
    if (manifest.revision > 0) return manifest;
    const { items, manifest: given } = await this.door.list(kind, 0);
    const asked = await this.manifests.before(kind);
    const found = (await this.manifests.take(kind, given, asked))?.manifest ?? emptyManifest;
    return found.revision === 0 && items.length > 0 ? this.begun(kind, items) : found;
  }

  /** Makes changes to the kind's newest manifest, anew whenever somebody else was first. */
  private change(
    kind: CountedKind,
    changes: ManifestChanges,
    write: (manifest: NextManifest) => Promise<void>,
  ): Promise<void> {
    return this.writers.take(kind, async () => {
      for (let left = TRIES; ; left--) {
        try {
          const { next, written } = await this.manifests.following(
            kind,
            await this.current(kind, changes[0]![0]),
            changes,
          );
          await write(written);
          await this.manifests.written(kind, next);
          return;
        } catch (error) {
          // Also after anything else: nobody knows whether it was written.
          this.manifests.doubt(kind);
          if (left === 1 || !this.door.isBehind(error)) throw error;
        }
      }
    });
  }

  private async keepGuarded(kind: CountedKind, id: string, revision: number, value: unknown): Promise<number> {
    await this.change(kind, [[id, revision + 1]], async (manifest) => {
      const sealed = await sealItem(await this.parts.key(), kind, id, value, revision + 1);
      await this.door.put(kind, id, { revision, sealed, manifest });
    });
    return revision + 1;
  }

  async keep(kind: VaultItemKind | BookKind, id: string, revision: number, value: unknown): Promise<number> {
    if (isGuarded(kind)) return this.keepGuarded(kind, id, revision, value);
    await this.door.put(kind, id, { revision, sealed: await sealItem(await this.parts.key(), kind, id, value) });
    return revision + 1;
  }

  async keepAll(kind: CountedKind, changes: readonly ValueChange[]): Promise<void> {
    if (this.door.putAll === undefined) {
      for (const { id, revision, value } of changes) await this.keepGuarded(kind, id, revision, value);
      return;
    }
    for (const lot of inLots(changes))
      await this.change(
        kind,
        lot.map(({ id, revision }) => [id, revision + 1]),
        async (manifest) => {
          const key = await this.parts.key();
          const sealed = await Promise.all(
            lot.map(async ({ id, revision, value }) => ({
              id,
              revision,
              sealed: await sealItem(key, kind, id, value, revision + 1),
            })),
          );
          await this.door.putAll!(kind, sealed, manifest);
        },
      );
  }

  drop(kind: CountedKind, id: string): Promise<void> {
    return this.change(kind, [[id, undefined]], (manifest) => this.door.drop(kind, id, manifest));
  }

  /**
   * What is opened now, brought on to what is there; opened whole where nothing is, or where the two do not lead to all
   * that the newest manifest counts. Undefined where there is nothing, and never was.
   */
  private async brought(kind: CountedKind): Promise<Opened | undefined> {
    const here = await this.underKey();
    const opened = here.opened.get(kind) ?? (await here.stocked?.opened(kind));
    if (opened === undefined) return this.whole(kind, here, {});
    this.manifests.remember(kind, opened.manifest);
    const { met } = await this.manifests.before(kind);
    const { revision } = opened.manifest;
    const { items, manifest: given } = await this.door.list(kind, revision, revision);
    const taken = await this.manifests.take(kind, given, { met, manifest: opened.manifest });
    const touched = taken && (taken.touched ?? differing(opened, taken.manifest));
    const fresh = touched && (await this.openedItems(kind, taken!.manifest, touched, items));
    if (fresh === undefined) {
      here.opened.delete(kind);
      return this.whole(kind, here, { isParted: taken === undefined, isAnew: true });
    }
    opened.advance(taken!.manifest, touched!, fresh);
    here.opened.set(kind, opened);
    if (touched!.size > 0) here.stocked?.keep(kind, opened, touched);
    return opened;
  }

  /** @param how `isAnew`: nothing that is known is believed to be there. */
  private async whole(
    kind: CountedKind,
    here: UnderKey,
    { isParted = false, isAnew = false }: { isParted?: boolean; isAnew?: boolean },
  ): Promise<Opened | undefined> {
    const asked = { ...(await this.manifests.before(kind)), isParted };
    const { items, manifest: given } = await this.door.list(kind, isAnew ? 0 : (asked.manifest?.revision ?? 0));
    const taken = await this.manifests.take(kind, given, asked);
    if (taken === undefined) return this.whole(kind, here, { isParted: true, isAnew: true });
    const { manifest } = taken;
    if (manifest.revision === 0) {
      if (items.length === 0) return undefined;
      await this.writers
        .take(kind, () => this.begun(kind, items))
        .catch((error: unknown) => (this.door.isBehind(error) ? undefined : Promise.reject(error)));
      return this.whole(kind, here, {});
    }
    const all = await this.openedItems(kind, manifest, manifest.items.keys(), items);
    if (all === undefined) {
      if (isAnew || given.whole !== undefined) throw new VaultOldError(kind);
      return this.whole(kind, here, { isAnew: true });
    }
    const opened = new Opened(manifest, all);
    here.opened.set(kind, opened);
    here.stocked?.keep(kind, opened, undefined);
    return opened;
  }

  /**
   * Once in the life of what was sealed before revisions were bound in; what can't be written now waits for the next
   * time.
   */
  private async bound(kind: CountedKind): Promise<Opened | undefined> {
    const opened = await this.brought(kind);
    const unbound = [...(opened?.manifest.unbound ?? [])];
    if (unbound.length === 0) return opened;
    for (const id of unbound) {
      const { revision, value } = opened!.items.get(id)!;
      await this.keepGuarded(kind, id, revision, value).catch(() => undefined);
    }
    return this.brought(kind);
  }

  follow(kind: CountedKind, mark?: string): Promise<Followed> {
    return this.readers.take(kind, async () => {
      const opened = await this.bound(kind);
      return opened?.since(mark) ?? { mark: '', items: [], gone: [], isWhole: true };
    });
  }

  async list(kind: CountedKind): Promise<ShelfItem[]> {
    return (await this.follow(kind)).items.sort(byId);
  }

  private async readGuarded(kind: CountedKind, id: string): Promise<ShelfItem | undefined> {
    const { manifest, item } = await this.newest(kind, id);
    // Counting begins with the list.
    if (manifest.revision === 0)
      return item === undefined ? undefined : (await this.list(kind)).find((one) => one.id === id);
    if (!manifest.items.has(id)) return undefined;
    const opened = item && (await this.openedItem(await this.parts.key(), kind, manifest, item));
    if (opened === undefined) throw new VaultOldError(kind);
    return opened;
  }

  async read(kind: VaultItemKind | BookKind, id: string): Promise<ShelfItem | undefined> {
    if (isGuarded(kind)) return this.readGuarded(kind, id);
    const { item } = await this.door.read(kind, id, 0);
    if (item === undefined) return undefined;
    const { revision, updatedAt, sealed } = item;
    const value = await openItem(await this.parts.key(), kind, id, sealed).catch(() => undefined);
    return { id, revision, updatedAt, value };
  }

  revisionOf(kind: CountedKind): Promise<number> {
    return this.manifests.revisionOf(kind);
  }

  async accept(): Promise<void> {
    await this.manifests.forgetAll();
    const { stocked } = await this.underKey();
    this.held.delete(await this.parts.key());
    for (const kind of this.parts.kinds ?? GUARDED_KINDS) {
      await stocked?.forget(kind);
      const { items, manifest } = await this.door.list(kind, 0);
      if (items.length > 0 || manifest.revision > 0)
        await this.writers.take(kind, () => this.begun(kind, items, manifest.revision));
    }
  }
}

/** What is not the same there; undefined where the manifest is of another life, in which one number may mean another thing. */
function differing({ manifest: before, items }: Opened, now: Manifest): Set<string> | undefined {
  if (before.life !== now.life || before.revision > now.revision) return undefined;
  const changed = new Set([...items.keys()].filter((id) => !now.items.has(id)));
  for (const [id, revision] of now.items) if (items.get(id)?.revision !== revision) changed.add(id);
  return changed;
}

export const createShelf = (parts: ShelfParts): Shelf => new VaultShelf(parts);
