/**
 * What was opened of a kind, kept on the device: sealed under the vault's key in pieces, so that a change costs one piece
 * and a new page opens some dozens of them where the server would send thousands of items. It says nothing by itself:
 * the server is asked what has changed since, and what it says is held against it as against what was opened just now.
 *
 * A head, sealed too, names the manifest and the digest of every piece: pieces of two times never come together.
 */
import { type Bytes } from '../bytes';
import { Counted } from './counted';
import { type CountedKind, openItem, sealItem } from './item';
import { headOf, type Manifest } from './manifest';
import { Opened, type ShelfItem } from './opened';

export interface KeptHead {
  /** Of the manifest that the pieces belong to. */
  mark: string;
  revision: number;
  sealed: Uint8Array;
}

/** Where a device keeps it. Each call is one transaction. */
export interface Stock {
  read(kind: CountedKind): Promise<{ head: KeptHead; pieces: ReadonlyMap<number, Uint8Array> } | undefined>;
  /**
   * Puts these pieces and their head in the place of those that are there; all others stay where `over` is the mark
   * that is there, and go where it is undefined. Resolves with the head that is there instead where it is another one.
   */
  write(
    kind: CountedKind,
    head: KeptHead,
    pieces: ReadonlyMap<number, Bytes>,
    over: string | undefined,
  ): Promise<KeptHead | undefined>;
  forget(kind: CountedKind): Promise<void>;
}

interface Head {
  mark: string;
  revision: number;
  life?: string;
  /** The manifest's. */
  whole: number;
  /** The digest of each piece, in their order. */
  pieces: string[];
}

type PieceItem = [id: string, revision: number, updatedAt: number, value: unknown];

const PIECE_ITEMS = 400;
/** Ids are random (RFC 9562 §5.4): their first digits spread them. */
const pieceOf = (id: string, pieces: number): number => (Number.parseInt(id.slice(0, 8), 16) || 0) % pieces;
const place = (kind: CountedKind, piece: number | 'head'): string => `${kind}/${piece}`;

/** What is known to lie there, and what of it is to be written. */
interface Lying {
  there: Pick<Head, 'mark' | 'revision' | 'pieces'> | undefined;
  opened: Opened | undefined;
  /** Since what lies there; undefined for all of it. */
  changed: Set<string> | undefined;
  isWriting: boolean;
}

async function openHead(key: CryptoKey, kind: CountedKind, { sealed, mark }: KeptHead): Promise<Head | undefined> {
  const head = (await openItem(key, 'stock', place(kind, 'head'), sealed).catch(() => undefined)) as Head | undefined;
  return head?.mark === mark ? head : undefined;
}

async function openPiece(
  key: CryptoKey,
  kind: CountedKind,
  piece: number,
  { sealed, digest }: { sealed: Uint8Array | undefined; digest: string },
): Promise<ShelfItem[] | undefined> {
  if (sealed === undefined || (await headOf(sealed)) !== digest) return undefined;
  const items = (await openItem(key, 'stock', place(kind, piece), sealed).catch(() => undefined)) as
    PieceItem[] | undefined;
  return items?.map(([id, revision, updatedAt, value]) => ({ id, revision, updatedAt: new Date(updatedAt), value }));
}

/** The items of every piece in which something has changed; all of them where it is not said what. */
function partsOf(
  { items }: Opened,
  count: number,
  changed: ReadonlySet<string> | undefined,
): ReadonlyMap<number, PieceItem[]> {
  const at = changed === undefined ? Array.from({ length: count }, (_, piece) => piece) : [];
  for (const id of changed ?? []) at.push(pieceOf(id, count));
  const parts = new Map<number, PieceItem[]>(at.map((piece) => [piece, []]));
  for (const { id, revision, updatedAt, value } of items.values())
    parts.get(pieceOf(id, count))?.push([id, revision, updatedAt.getTime(), value]);
  return parts;
}

/** One vault's, under one key. */
export class Stocked {
  private readonly lying = new Map<CountedKind, Lying>();

  constructor(
    private readonly stock: Stock,
    private readonly key: CryptoKey,
  ) {}

  /** Undefined where nothing is there, or not all of it under this key. */
  async opened(kind: CountedKind): Promise<Opened | undefined> {
    const kept = await this.stock.read(kind).catch(() => undefined);
    if (kept === undefined) return undefined;
    const head = await openHead(this.key, kind, kept.head);
    if (head === undefined) return undefined;
    const pieces = await Promise.all(
      head.pieces.map((digest, at) => openPiece(this.key, kind, at, { sealed: kept.pieces.get(at), digest })),
    );
    const items = new Map<string, ShelfItem>();
    for (const piece of pieces) {
      if (piece === undefined) return undefined;
      for (const item of piece) items.set(item.id, item);
    }
    const { mark, revision, life, whole } = head;
    this.lying.set(kind, { there: head, opened: undefined, changed: new Set(), isWriting: false });
    const manifest: Manifest = {
      revision,
      whole,
      head: mark,
      items: Counted.of(Array.from(items.values(), (item) => [item.id, item.revision])),
      unbound: new Set(),
      met: {},
      ...(life === undefined ? {} : { life }),
    };
    return new Opened(manifest, items);
  }

  /**
   * Keeps what is opened, as soon as what is being written is there. A device that can't keep anything goes on without.
   *
   * @param changed Since it was given to be kept last; undefined where it is another one altogether.
   */
  keep(kind: CountedKind, opened: Opened, changed: ReadonlySet<string> | undefined): void {
    // What was sealed before revisions were bound in is written anew first.
    if (opened.manifest.unbound.size > 0) return;
    const lying = this.lying.get(kind) ?? {
      there: undefined,
      opened: undefined,
      changed: undefined,
      isWriting: false,
    };
    this.lying.set(kind, lying);
    lying.opened = opened;
    if (changed === undefined) lying.changed = undefined;
    else for (const id of changed) lying.changed?.add(id);
    if (lying.isWriting) return;
    lying.isWriting = true;
    void this.writeAll(kind, lying)
      .catch(() => this.lying.delete(kind))
      .finally(() => (lying.isWriting = false));
  }

  async forget(kind: CountedKind): Promise<void> {
    this.lying.delete(kind);
    await this.stock.forget(kind).catch(() => undefined);
  }

  private async writeAll(kind: CountedKind, lying: Lying): Promise<void> {
    while (lying.opened !== undefined) {
      const { opened, changed, there } = lying;
      lying.opened = undefined;
      lying.changed = new Set();
      const isPart =
        changed !== undefined && there !== undefined && opened.items.size <= 2 * PIECE_ITEMS * there.pieces.length;
      if (!isPart) lying.there = await this.write(kind, opened, undefined);
      // Another page of the device's may be further than this one: all that changed here is there.
      else if (opened.manifest.revision > there.revision)
        lying.there = await this.write(kind, opened, { over: there, changed });
    }
  }

  /** @returns What lies there then: by another page of the device's, perhaps, that is as far or further. */
  private async write(
    kind: CountedKind,
    opened: Opened,
    part: { over: NonNullable<Lying['there']>; changed: ReadonlySet<string> } | undefined,
  ): Promise<Lying['there']> {
    const { head: mark, revision, life, whole } = opened.manifest;
    const count = part?.over.pieces.length ?? Math.max(1, Math.ceil(opened.items.size / PIECE_ITEMS));
    // Before anything is waited for: what is opened may go on meanwhile.
    const parts = partsOf(opened, count, part?.changed);
    const digests = [...(part?.over.pieces ?? [])];
    const pieces = new Map<number, Bytes>();
    for (const [at, items] of parts) {
      const sealed = await sealItem(this.key, 'stock', place(kind, at), items);
      pieces.set(at, sealed);
      digests[at] = await headOf(sealed);
    }
    const head: Head = { mark, revision, whole, pieces: digests, ...(life === undefined ? {} : { life }) };
    const sealed = await sealItem(this.key, 'stock', place(kind, 'head'), head);
    const there = await this.stock.write(kind, { mark, revision, sealed }, pieces, part?.over.mark);
    if (there === undefined) return head;
    const theirs = await openHead(this.key, kind, there);
    const isFurther = theirs !== undefined && (theirs.mark === mark || theirs.revision > revision);
    return isFurther ? theirs : this.write(kind, opened, undefined);
  }
}
