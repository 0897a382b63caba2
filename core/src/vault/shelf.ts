/**
 * The vault as its owner's browser uses it: values in, values out, sealed on the way. What the server gives out is held
 * against the kind's manifest, and the manifest against what this browser has met before: an item or a whole kind from
 * an earlier time, an item that is missing, or one under a wrong revision is never taken for what is there.
 *
 * What it can't notice: everything from one earlier time at once, on a browser that has met none of it since.
 */
import { type Bytes } from '../bytes';
import {
  GUARDED_KINDS,
  type CountedKind,
  isGuarded,
  openItem,
  sealItem,
  type VaultItemKind,
  type BookKind,
} from './item';
import { LOT_ITEMS } from './limits';
import {
  emptyManifest,
  type Manifest,
  newest,
  openManifest,
  type Revisions,
  sealManifest,
  withRevision,
  withRevisions,
} from './manifest';

export interface SealedItem {
  id: string;
  revision: number;
  updatedAt: Date;
  sealed: Uint8Array;
}

export interface SealedChange {
  id: string;
  /** The one it replaces, 0 for a new item. */
  revision: number;
  sealed: Bytes;
}

/** What replaces the manifest that has `revision`. */
export interface NextManifest {
  revision: number;
  sealed: Bytes;
}

export interface GivenManifest {
  /** 0 when there is none. */
  revision: number;
  /** Left out when it is the one the asker said to know. */
  sealed?: Uint8Array | undefined;
}

/** The server's side. Items and manifest of one answer are from one moment. */
export interface VaultDoor {
  /**
   * @param known The manifest that the asker has. @param since Of all items, only those that were written under a later
   * one.
   */
  list(kind: CountedKind, known: number, since?: number): Promise<{ items: SealedItem[]; manifest: GivenManifest }>;
  read(
    kind: VaultItemKind | BookKind,
    id: string,
    known: number,
  ): Promise<{ item?: SealedItem | undefined; manifest?: GivenManifest | undefined }>;
  /** Both or neither. Rejects with `isBehind` errors when another manifest has been written meanwhile. */
  put(
    kind: VaultItemKind | BookKind,
    id: string,
    change: { revision: number; sealed: Bytes; manifest?: NextManifest },
  ): Promise<void>;
  /** Several at once under one manifest: all of them, or none. Where it is not there, they go one by one. */
  putAll?(kind: CountedKind, changes: readonly SealedChange[], manifest: NextManifest): Promise<void>;
  drop(kind: CountedKind, id: string, manifest: NextManifest): Promise<void>;
  putManifest(kind: CountedKind, manifest: NextManifest): Promise<void>;
  isBehind(error: unknown): boolean;
}

/** What this browser has met, kept for as long as it keeps anything. */
export interface Memory {
  met(): Promise<Revisions>;
  /** Never lowers one. */
  raise(revisions: Revisions): Promise<void>;
  forget(): Promise<void>;
}

/** For who keeps nothing: it lasts as long as it is held. */
export function briefMemory(): Memory {
  let met: Revisions = {};
  return {
    met: async () => met,
    raise: async (revisions) => void (met = newest(met, revisions)),
    forget: async () => void (met = {}),
  };
}

export interface ShelfItem {
  id: string;
  revision: number;
  updatedAt: Date;
  /** Undefined when it does not open, for kinds without a manifest. */
  value: unknown;
}

/** What the server gave out is not what was left there. Nothing of it is used. */
export class VaultOldError extends Error {
  constructor(readonly kind: CountedKind) {
    super(kind);
    this.name = 'VaultOldError';
  }
}

export interface ValueChange {
  id: string;
  /** The one it replaces, 0 for a new item. */
  revision: number;
  value: unknown;
}

export interface Shelf {
  /** Throws VaultOldError. */
  list(kind: CountedKind): Promise<ShelfItem[]>;
  /** Undefined when there is no such item. Throws VaultOldError. */
  read(kind: VaultItemKind | BookKind, id: string): Promise<ShelfItem | undefined>;
  /** `revision` is the one it replaces, 0 for a new item; resolves with the next one. Throws what the door throws. */
  keep(kind: VaultItemKind | BookKind, id: string, revision: number, value: unknown): Promise<number>;
  /** As many `keep`s, in lots that each go at once: a manifest, which names all there are, is written once a lot. */
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

interface Before {
  met: number;
  manifest: Manifest | undefined;
}

/** A kind as it was opened last: what has the same revision now need not come again. */
interface Copy {
  /** Of the manifest it was held against. */
  revision: number;
  life: string | undefined;
  items: ReadonlyMap<string, ShelfItem>;
}

const byId = ({ id: one }: ShelfItem, { id: other }: ShelfItem): number => (one < other ? -1 : 1);

interface Parts {
  door: VaultDoor;
  memory: Memory;
  /** The vault's key, asked for at each use; rejects once the vault is locked. */
  key(): Promise<CryptoKey>;
  /** What lies in it that is counted; all of a worker's own where it is not said. */
  kinds?: readonly CountedKind[];
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

export function createShelf({ door, memory, key, kinds = GUARDED_KINDS }: Parts): Shelf {
  const known = new Map<CountedKind, Manifest>();
  /** Held by the key they were opened with: they go with it when the vault is locked. */
  const copies = new WeakMap<CryptoKey, Map<CountedKind, Copy>>();
  const queues = new Map<CountedKind, Promise<unknown>>();

  /** Writers of one kind go one after another: each writes what follows the one before. */
  function inTurn<T>(kind: CountedKind, act: () => Promise<T>): Promise<T> {
    const turn = (queues.get(kind) ?? Promise.resolve()).then(act);
    queues.set(
      kind,
      turn.catch(() => undefined),
    );
    return turn;
  }

  /**
   * What is known and what has been met before something is asked: writers that are quicker than the answer make it no
   * older.
   */
  const before = async (kind: CountedKind): Promise<Before> => ({
    met: (await memory.met())[kind] ?? 0,
    manifest: known.get(kind),
  });

  async function manifestOf(kind: CountedKind, given: GivenManifest, asked: Before): Promise<Manifest> {
    if (given.revision < asked.met) throw new VaultOldError(kind);
    if (given.revision === 0) return emptyManifest;
    const { sealed, revision } = given;
    if (sealed === undefined && asked.manifest?.revision !== revision) throw new VaultOldError(kind);
    const manifest =
      sealed === undefined
        ? asked.manifest!
        : await openManifest(await key(), kind, revision, sealed).catch(() => Promise.reject(new VaultOldError(kind)));
    if ((known.get(kind)?.revision ?? 0) < revision) known.set(kind, manifest);
    await memory.raise({ ...manifest.met, [kind]: revision });
    return manifest;
  }

  async function opened(
    kind: CountedKind,
    manifest: Manifest,
    { id, revision, updatedAt, sealed }: SealedItem,
  ): Promise<ShelfItem> {
    if (manifest.items.get(id) !== revision) throw new VaultOldError(kind);
    const bound = manifest.unbound.has(id) ? undefined : revision;
    const value = await openItem(await key(), kind, id, sealed, bound).catch(() =>
      Promise.reject(new VaultOldError(kind)),
    );
    return { id, revision, updatedAt, value };
  }

  const nextOf = async (kind: CountedKind, next: Manifest): Promise<NextManifest> => ({
    revision: next.revision - 1,
    sealed: await sealManifest(await key(), kind, { ...next, met: await memory.met() }),
  });

  async function written(kind: CountedKind, next: Manifest): Promise<void> {
    known.set(kind, next);
    await memory.raise({ [kind]: next.revision });
  }

  /**
   * The first manifest: of everything there is, each under the revision the server says, as it was believed until now.
   */
  async function begun(kind: CountedKind, items: readonly SealedItem[], replaced = 0): Promise<Manifest> {
    const vaultKey = await key();
    const opening = await Promise.all(
      items.map(async ({ id, revision, sealed }) => {
        const opens = (bound: number | undefined): Promise<boolean> =>
          openItem(vaultKey, kind, id, sealed, bound).then(
            () => true,
            () => false,
          );
        return {
          id,
          revision,
          how: (await opens(revision)) ? 'bound' : (await opens(undefined)) ? 'unbound' : 'closed',
        };
      }),
    );
    const counted = opening.filter(({ how }) => how !== 'closed');
    const first: Manifest = {
      ...emptyManifest,
      ...(replaced === 0 ? {} : { life: globalThis.crypto.randomUUID() }),
      revision: replaced + 1,
      items: new Map(counted.map(({ id, revision }) => [id, revision])),
      unbound: new Set(counted.filter(({ how }) => how === 'unbound').map(({ id }) => id)),
    };
    await door.putManifest(kind, await nextOf(kind, first));
    await written(kind, first);
    return first;
  }

  async function current(kind: CountedKind): Promise<Manifest> {
    const asked = await before(kind);
    if (asked.manifest !== undefined) return asked.manifest;
    const { items, manifest: given } = await door.list(kind, 0);
    const manifest = await manifestOf(kind, given, asked);
    return manifest.revision === 0 && items.length > 0 ? begun(kind, items) : manifest;
  }

  /** Makes a change to the kind's newest manifest, anew whenever somebody else was first. */
  const change = <T>(
    kind: CountedKind,
    make: (manifest: Manifest) => Promise<{ next: Manifest; reply: T }>,
  ): Promise<T> =>
    inTurn(kind, async () => {
      for (let left = TRIES; ; left--) {
        try {
          const { next, reply } = await make(await current(kind));
          await written(kind, next);
          return reply;
        } catch (error) {
          // Also after anything else: nobody knows whether it was written.
          known.delete(kind);
          if (left === 1 || !door.isBehind(error)) throw error;
        }
      }
    });

  const keepGuarded = (kind: CountedKind, id: string, revision: number, value: unknown): Promise<number> =>
    change(kind, async (manifest) => {
      const next = withRevision(manifest, id, revision + 1);
      const sealed = await sealItem(await key(), kind, id, value, revision + 1);
      await door.put(kind, id, { revision, sealed, manifest: await nextOf(kind, next) });
      return { next, reply: revision + 1 };
    });

  async function keepAll(kind: CountedKind, changes: readonly ValueChange[]): Promise<void> {
    if (door.putAll === undefined) {
      for (const { id, revision, value } of changes) await keepGuarded(kind, id, revision, value);
      return;
    }
    for (const lot of inLots(changes))
      await change(kind, async (manifest) => {
        const vaultKey = await key();
        const sealed = await Promise.all(
          lot.map(async ({ id, revision, value }) => ({
            id,
            revision,
            sealed: await sealItem(vaultKey, kind, id, value, revision + 1),
          })),
        );
        const next = withRevisions(
          manifest,
          lot.map(({ id, revision }) => [id, revision + 1]),
        );
        await door.putAll!(kind, sealed, await nextOf(kind, next));
        return { next, reply: undefined };
      });
  }

  /**
   * All that the manifest counts: what came, and of the copy what has not changed. Undefined where that is not all.
   */
  async function whole(
    kind: CountedKind,
    manifest: Manifest,
    came: readonly SealedItem[],
    copy: Copy | undefined,
  ): Promise<ShelfItem[] | undefined> {
    if (copy !== undefined && (copy.life !== manifest.life || copy.revision > manifest.revision)) return undefined;
    // What nobody counted is not there: something deleted that was put back.
    const opening = came.filter(({ id }) => manifest.items.has(id)).map((item) => opened(kind, manifest, item));
    const fresh = new Map((await Promise.all(opening)).map((item) => [item.id, item]));
    const items: ShelfItem[] = [];
    for (const [id, revision] of manifest.items) {
      const item = fresh.get(id) ?? copy?.items.get(id);
      if (item?.revision !== revision) return undefined;
      items.push(item);
    }
    return items.sort(byId);
  }

  function copiesUnder(vaultKey: CryptoKey): Map<CountedKind, Copy> {
    const there = copies.get(vaultKey) ?? new Map<CountedKind, Copy>();
    copies.set(vaultKey, there);
    return there;
  }

  async function list(kind: CountedKind): Promise<ShelfItem[]> {
    // Rejects once the vault is locked, whatever was opened before.
    const here = copiesUnder(await key());
    const asked = await before(kind);
    const copy = here.get(kind);
    const { items, manifest: given } = await door.list(kind, asked.manifest?.revision ?? 0, copy?.revision);
    const manifest = await manifestOf(kind, given, asked);
    if (manifest.revision === 0) {
      if (items.length === 0) return [];
      await inTurn(kind, () => begun(kind, items)).catch((error: unknown) =>
        door.isBehind(error) ? undefined : Promise.reject(error),
      );
      return list(kind);
    }
    const values = await whole(kind, manifest, items, copy);
    if (values === undefined) {
      if (copy === undefined) throw new VaultOldError(kind);
      here.delete(kind);
      return list(kind);
    }
    // Once in the life of what was sealed before revisions were bound in; what can't be written now waits for the next
    // time.
    for (const item of values.filter(({ id }) => manifest.unbound.has(id))) {
      item.revision = await keepGuarded(kind, item.id, item.revision, item.value).catch(() => item.revision);
    }
    const { revision, life } = manifest;
    // A list that was asked earlier may come later.
    if ((here.get(kind)?.revision ?? 0) <= revision)
      here.set(kind, { revision, life, items: new Map(values.map((item) => [item.id, { ...item }])) });
    return values;
  }

  async function readGuarded(kind: CountedKind, id: string): Promise<ShelfItem | undefined> {
    const asked = await before(kind);
    const { item, manifest: given } = await door.read(kind, id, asked.manifest?.revision ?? 0);
    const manifest = await manifestOf(kind, given ?? { revision: 0 }, asked);
    // Counting begins with the list.
    if (manifest.revision === 0)
      return item === undefined ? undefined : (await list(kind)).find((one) => one.id === id);
    if (!manifest.items.has(id)) return undefined;
    if (item === undefined) throw new VaultOldError(kind);
    return opened(kind, manifest, item);
  }

  async function readLoose(kind: VaultItemKind | BookKind, id: string): Promise<ShelfItem | undefined> {
    const { item } = await door.read(kind, id, 0);
    if (item === undefined) return undefined;
    return {
      id,
      revision: item.revision,
      updatedAt: item.updatedAt,
      value: await openItem(await key(), kind, id, item.sealed).catch(() => undefined),
    };
  }

  return {
    list,
    read: (kind, id) => (isGuarded(kind) ? readGuarded(kind, id) : readLoose(kind, id)),
    async keep(kind, id, revision, value) {
      if (!isGuarded(kind)) {
        await door.put(kind, id, { revision, sealed: await sealItem(await key(), kind, id, value) });
        return revision + 1;
      }
      return keepGuarded(kind, id, revision, value);
    },
    keepAll,
    drop: (kind, id) =>
      change(kind, async (manifest) => {
        const next = withRevision(manifest, id, undefined);
        await door.drop(kind, id, await nextOf(kind, next));
        return { next, reply: undefined };
      }),
    revisionOf: async (kind) => (await memory.met())[kind] ?? 0,
    async accept() {
      await memory.forget();
      known.clear();
      copies.delete(await key());
      for (const kind of kinds) {
        const { items, manifest } = await door.list(kind, 0);
        if (items.length > 0 || manifest.revision > 0) await inTurn(kind, () => begun(kind, items, manifest.revision));
      }
    },
  };
}
