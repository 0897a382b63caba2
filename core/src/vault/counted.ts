/**
 * The revision of each item of a kind, by its id. One with a few changes shares all else with the one it was made of:
 * what it costs does not depend on how much there is.
 */
type Change = readonly [id: string, revision: number | undefined];

/** From so many on they are laid into a map of their own. */
const MOST_CHANGES = 256;

export class Counted {
  private constructor(
    private readonly all: ReadonlyMap<string, number>,
    private readonly changed: ReadonlyMap<string, number | undefined>,
    readonly size: number,
  ) {}

  static of(items: Iterable<readonly [id: string, revision: number]>): Counted {
    const all = new Map(items);
    return new Counted(all, new Map(), all.size);
  }

  /** With these revisions from now on; `undefined` for what is gone. */
  with(changes: Iterable<Change>): Counted {
    const changed = new Map(this.changed);
    let { size } = this;
    for (const [id, revision] of changes) {
      const isThere = (changed.has(id) ? changed.get(id) : this.all.get(id)) !== undefined;
      size += Number(revision !== undefined) - Number(isThere);
      changed.set(id, revision);
    }
    const next = new Counted(this.all, changed, size);
    return changed.size > MOST_CHANGES ? Counted.of(next) : next;
  }

  get(id: string): number | undefined {
    return this.changed.has(id) ? this.changed.get(id) : this.all.get(id);
  }

  has(id: string): boolean {
    return this.get(id) !== undefined;
  }

  *[Symbol.iterator](): Generator<[id: string, revision: number]> {
    for (const [id, revision] of this.all) if (!this.changed.has(id)) yield [id, revision];
    for (const [id, revision] of this.changed) if (revision !== undefined) yield [id, revision];
  }

  *keys(): Generator<string> {
    for (const [id] of this) yield id;
  }
}
