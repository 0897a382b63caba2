/** What was opened of a kind: of what has changed since, only that has to be opened again. */
import { type Manifest } from './manifest';

export interface ShelfItem {
  readonly id: string;
  readonly revision: number;
  readonly updatedAt: Date;
  /** Undefined when it does not open, for kinds without a manifest. */
  readonly value: unknown;
}

/** What is new to somebody who has what was there at a mark. */
export interface Followed {
  /** Names what is there now. */
  mark: string;
  /** Of all there are where `isWhole`, else what was changed or is new. */
  items: ShelfItem[];
  gone: string[];
  isWhole: boolean;
}

/** How many changes back somebody may be. */
const MOST_STRIDES = 64;

interface Stride {
  /** What was there before it. */
  from: string;
  touched: ReadonlySet<string>;
}

export class Opened {
  private strides: Stride[] = [];

  /** @param items All that `manifest` counts, each with the revision it has there. */
  constructor(
    public manifest: Manifest,
    private readonly all: Map<string, ShelfItem>,
  ) {}

  get items(): ReadonlyMap<string, ShelfItem> {
    return this.all;
  }

  /** On to a later manifest, with what has changed until then as it is there; what is not in `fresh` is gone. */
  advance(manifest: Manifest, touched: ReadonlySet<string>, fresh: ReadonlyMap<string, ShelfItem>): void {
    for (const id of touched) {
      const item = fresh.get(id);
      if (item === undefined) this.all.delete(id);
      else this.all.set(id, item);
    }
    if (touched.size > 0) this.strides = [...this.strides, { from: this.manifest.head, touched }].slice(-MOST_STRIDES);
    this.manifest = manifest;
  }

  /** @param mark What the asker was given before, none for whoever has nothing. */
  since(mark: string | undefined): Followed {
    const now = { mark: this.manifest.head };
    if (mark === this.manifest.head) return { ...now, items: [], gone: [], isWhole: false };
    const from = this.strides.findLastIndex((stride) => stride.from === mark);
    if (from === -1) return { ...now, items: [...this.all.values()], gone: [], isWhole: true };
    const touched = new Set(this.strides.slice(from).flatMap((stride) => [...stride.touched]));
    const changed = [...touched].map((id) => ({ id, item: this.all.get(id) }));
    return {
      ...now,
      items: changed.flatMap(({ item }) => item ?? []),
      gone: changed.flatMap(({ id, item }) => (item === undefined ? [id] : [])),
      isWhole: false,
    };
  }
}
