/**
 * The vault's shelf against a server that is only a map: whatever two browsers do at once nothing of it is lost, and
 * what such a server brings back from an earlier time is not taken for what is there.
 */
import fc from 'fast-check';
import { sealingKey } from '../src/sealing';
import { type BookKind, type CountedKind, type VaultItemKind } from '../src/vault/item';
import {
  briefMemory,
  createShelf,
  type SealedItem,
  type Shelf,
  type VaultDoor,
  VaultOldError,
} from '../src/vault/shelf';

class Behind extends Error {}
class Conflict extends Error {}

interface State {
  items: Map<string, SealedItem & { under: number }>;
  manifest: { revision: number; sealed: Uint8Array } | undefined;
}

/** The people's shelf at the server, and what was written to it in which order. */
class MapDoor implements VaultDoor {
  state: State = { items: new Map(), manifest: undefined };
  readonly log: { id: string; revision: number | undefined }[] = [];
  /** How many items each list brought. */
  readonly brought: number[] = [];
  /** Waits as long as a line would, so that others come in between. */
  constructor(private readonly line: () => Promise<void>) {}

  private given = (known: number) =>
    this.state.manifest === undefined
      ? { revision: 0 }
      : {
          revision: this.state.manifest.revision,
          ...(known === this.state.manifest.revision ? {} : this.state.manifest),
        };

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

  private replace(manifest: { revision: number; sealed: Uint8Array } | undefined): void {
    if (manifest === undefined) return;
    if ((this.state.manifest?.revision ?? 0) !== manifest.revision) throw new Behind();
    this.state.manifest = { revision: manifest.revision + 1, sealed: manifest.sealed };
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

const key = sealingKey(new Uint8Array(32).fill(7));
const browserAt = (door: VaultDoor): Shelf => createShelf({ door, memory: briefMemory(), key: () => key });
const IDS = ['a', 'b', 'c'];
const copyOf = ({ items, manifest }: State): State => ({ items: new Map(items), manifest });

/** What the log says is there: the last of each that was written. */
function standing(door: MapDoor): Map<string, number> {
  const there = new Map<string, number>();
  for (const { id, revision } of door.log) {
    if (revision === undefined) there.delete(id);
    else there.set(id, revision);
  }
  return there;
}

const acts = fc.array(
  fc.record({
    browser: fc.nat(1),
    id: fc.constantFrom(...IDS),
    what: fc.constantFrom('keep', 'keep', 'keep', 'drop', 'list'),
    wait: fc.nat(6),
  }),
  { minLength: 1, maxLength: 14 },
);

test('whatever two browsers do at once, both then see all that was kept and nothing that was removed', async () => {
  await fc.assert(
    fc.asyncProperty(acts, fc.infiniteStream(fc.nat(3)), async (script, waits) => {
      const line = async (): Promise<void> => {
        for (let left = waits.next().value as number; left > 0; left--) await Promise.resolve();
      };
      const door = new MapDoor(line);
      const browsers = [browserAt(door), browserAt(door)];
      const written = new Map<string, unknown>();
      await Promise.all(
        script.map(async ({ browser, id, what, wait }, index) => {
          for (let left = wait; left > 0; left--) await Promise.resolve();
          const shelf = browsers[browser]!;
          try {
            if (what === 'list') await shelf.list('person');
            else if (what === 'drop') await shelf.drop('person', id);
            else {
              const before = (await shelf.read('person', id))?.revision ?? 0;
              const revision = await shelf.keep('person', id, before, { index });
              written.set(`${id} ${revision}`, { index });
            }
          } catch (error) {
            // Somebody else was first with the same one, which its writer is told.
            if (!(error instanceof Conflict)) throw error;
          }
        }),
      );
      const there = standing(door);
      for (const shelf of browsers) {
        const seen = await shelf.list('person');
        expect(new Map(seen.map(({ id, revision }) => [id, revision]))).toEqual(there);
        for (const { id, revision, value } of seen) expect(value).toEqual(written.get(`${id} ${revision}`));
      }
    }),
    { numRuns: 60 },
  );
});

const noWait = async (): Promise<void> => undefined;

test('a whole shelf from an earlier time is noticed by every browser that has met a later one', async () => {
  const door = new MapDoor(noWait);
  const maren = browserAt(door);
  await maren.keep('person', 'a', 0, { phone: 'old' });
  const earlier = copyOf(door.state);
  await maren.keep('person', 'a', 1, { phone: 'new' });
  door.state = earlier;
  await expect(maren.list('person')).rejects.toBeInstanceOf(VaultOldError);
  await expect(maren.read('person', 'a')).rejects.toBeInstanceOf(VaultOldError);
  // One that has met nothing can't know; it goes on from what it finds.
  expect((await browserAt(door).list('person')).map(({ value }) => value)).toEqual([{ phone: 'old' }]);
  // Its owner says that a backup was restored.
  await maren.accept();
  expect((await maren.list('person')).map(({ value }) => value)).toEqual([{ phone: 'old' }]);
});

test.each([
  ['an item from an earlier time', (door: MapDoor, old: State) => door.state.items.set('a', old.items.get('a')!)],
  ['an item that is missing', (door: MapDoor) => door.state.items.delete('a')],
  [
    'one item under another’s number',
    (door: MapDoor) => door.state.items.set('a', { ...door.state.items.get('b')!, id: 'a' }),
  ],
  [
    'a revision that only the server says',
    (door: MapDoor) => door.state.items.set('a', { ...door.state.items.get('a')!, revision: 9 }),
  ],
])('%s is noticed, also by a browser that has met nothing', async (_, bend) => {
  const door = new MapDoor(noWait);
  const maren = browserAt(door);
  await maren.keep('person', 'a', 0, { phone: 'old' });
  const earlier = copyOf(door.state);
  await maren.keep('person', 'a', 1, { phone: 'new' });
  await maren.keep('person', 'b', 0, { phone: 'other' });
  bend(door, earlier);
  await expect(maren.list('person')).rejects.toBeInstanceOf(VaultOldError);
  await expect(browserAt(door).list('person')).rejects.toBeInstanceOf(VaultOldError);
});

test('what was removed and put back by the server is not there', async () => {
  const door = new MapDoor(noWait);
  const maren = browserAt(door);
  await maren.keep('person', 'a', 0, { phone: 'old' });
  await maren.keep('person', 'b', 0, { phone: 'stays' });
  const gone = door.state.items.get('a')!;
  await maren.drop('person', 'a');
  door.state.items.set('a', gone);
  for (const browser of [maren, browserAt(door)]) {
    expect((await browser.list('person')).map(({ id }) => id)).toEqual(['b']);
    expect(await browser.read('person', 'a')).toBeUndefined();
  }
});

test('an answer that got lost leaves the next change right', async () => {
  let lost = false;
  const door = new MapDoor(noWait);
  const flaky: VaultDoor = {
    list: (...given) => door.list(...given),
    read: (...given) => door.read(...given),
    drop: (...given) => door.drop(...given),
    putManifest: (...given) => door.putManifest(...given),
    isBehind: door.isBehind,
    async put(...given) {
      await door.put(...given);
      if (lost) throw new TypeError('no connection');
    },
  };
  const maren = browserAt(flaky);
  await maren.keep('person', 'a', 0, { phone: 'first' });
  lost = true;
  await expect(maren.keep('person', 'a', 1, { phone: 'second' })).rejects.toThrow('no connection');
  lost = false;
  // It was written all the same: who goes on from the one before is told, and nothing is counted wrongly.
  await expect(maren.keep('person', 'a', 1, { phone: 'third' })).rejects.toBeInstanceOf(Conflict);
  expect(await maren.keep('person', 'a', 2, { phone: 'third' })).toBe(3);
  expect((await maren.list('person')).map(({ value }) => value)).toEqual([{ phone: 'third' }]);
});

describe('many at once', () => {
  const many = (count: number, revision = 0) =>
    Array.from({ length: count }, (_, index) => ({ id: `n${index}`, revision, value: { index } }));
  const idsOf = async (shelf: Shelf) => (await shelf.list('person')).map(({ id }) => id).sort();

  test('they go in lots, each with one manifest, and another browser has them all', async () => {
    const door = new MapDoor(async () => undefined);
    await browserAt(door).keepAll('person', many(1201));
    expect(door.state.manifest!.revision).toBe(3);
    const found = await browserAt(door).list('person');
    expect(found).toHaveLength(1201);
    expect(found.find(({ id }) => id === 'n1200')).toMatchObject({ revision: 1, value: { index: 1200 } });
  });

  test('large ones go in smaller lots', async () => {
    const door = new MapDoor(async () => undefined);
    const large = Array.from({ length: 4 }, (_, index) => ({
      id: `n${index}`,
      revision: 0,
      value: 'x'.repeat(700_000),
    }));
    await browserAt(door).keepAll('person', large);
    expect(door.state.manifest!.revision).toBe(2);
    expect(await idsOf(browserAt(door))).toEqual(['n0', 'n1', 'n2', 'n3']);
  });

  test('whatever somebody else keeps meanwhile is there, too', async () => {
    let waits = 0;
    const door = new MapDoor(() => new Promise((done) => setTimeout(done, (waits += 1) % 4)));
    const [one, other] = [browserAt(door), browserAt(door)];
    await Promise.all([
      one.keepAll('person', many(900)),
      other.keep('person', 'a', 0, 'A'),
      other.keep('person', 'b', 0, 'B'),
    ]);
    expect(await idsOf(one)).toEqual(await idsOf(other));
    expect(await idsOf(one)).toHaveLength(902);
  });

  test('a lot of which one was changed elsewhere is not kept at all', async () => {
    const door = new MapDoor(async () => undefined);
    await browserAt(door).keep('person', 'n2', 0, 'theirs');
    await expect(browserAt(door).keepAll('person', many(5))).rejects.toThrow(Conflict);
    expect(await browserAt(door).list('person')).toMatchObject([{ id: 'n2', value: 'theirs' }]);
  });

  test('where the server takes one at a time only, they go one by one', async () => {
    const door = new MapDoor(async () => undefined);
    const single: VaultDoor = {
      list: (...given) => door.list(...given),
      read: (...given) => door.read(...given),
      put: (...given) => door.put(...given),
      drop: (...given) => door.drop(...given),
      putManifest: (...given) => door.putManifest(...given),
      isBehind: (error) => door.isBehind(error),
    };
    await browserAt(single).keepAll('person', many(3));
    expect(door.state.manifest!.revision).toBe(3);
    expect(await idsOf(browserAt(door))).toEqual(['n0', 'n1', 'n2']);
  });
});

test('a locked vault gives out nothing of what was opened before', async () => {
  const door = new MapDoor(async () => undefined);
  let isLocked = false;
  const shelf = createShelf({
    door,
    memory: briefMemory(),
    key: () => (isLocked ? Promise.reject(new Error('locked')) : key),
  });
  await shelf.keep('person', 'a', 0, 'a');
  expect(await shelf.list('person')).toHaveLength(1);
  isLocked = true;
  await expect(shelf.list('person')).rejects.toThrow('locked');
});

describe('what was opened before', () => {
  const door = (): MapDoor => new MapDoor(async () => undefined);
  const valuesOf = async (shelf: Shelf) => (await shelf.list('person')).map(({ value }) => value);

  test('does not come again: of what was changed elsewhere only that does', async () => {
    const here = door();
    const [one, other] = [browserAt(here), browserAt(here)];
    for (const id of ['a', 'b', 'c', 'd']) await one.keep('person', id, 0, id);
    expect(await valuesOf(other)).toEqual(['a', 'b', 'c', 'd']);
    await one.keep('person', 'b', 1, 'B');
    await one.drop('person', 'c');
    await one.keep('person', 'e', 0, 'e');
    here.brought.length = 0;
    expect(await valuesOf(other)).toEqual(['a', 'B', 'd', 'e']);
    expect(await valuesOf(other)).toEqual(['a', 'B', 'd', 'e']);
    expect(here.brought).toEqual([2, 0]);
  });

  test('is not used where the server leaves out what was changed: all is asked for, and told when that is missing', async () => {
    const here = door();
    const [one, other] = [browserAt(here), browserAt(here)];
    for (const id of ['a', 'b']) await one.keep('person', id, 0, id);
    await other.list('person');
    await one.keep('person', 'b', 1, 'B');
    const hidden = here.state.items.get('b')!;
    here.state.items.set('b', { ...hidden, under: 0 });
    expect(await valuesOf(other)).toEqual(['a', 'B']);
    await one.keep('person', 'b', 2, 'BB');
    here.state.items.delete('b');
    await expect(other.list('person')).rejects.toThrow(VaultOldError);
  });

  test('is not taken for what has the same number since a backup was restored and accepted', async () => {
    const here = door();
    const memory = briefMemory();
    const [one, other] = [0, 1].map(() => createShelf({ door: here, memory, key: () => key })) as [Shelf, Shelf];
    await one.keep('person', 'a', 0, 'first');
    const backup = copyOf(here.state);
    const thrice = async (): Promise<void> => {
      for (const revision of [0, 1, 2]) await one.keep('person', 'b', revision, 'b');
    };
    await one.keep('person', 'a', 1, 'lost');
    await thrice();
    expect(await valuesOf(other)).toEqual(['lost', 'b']);
    here.state = copyOf(backup);
    await expect(one.list('person')).rejects.toThrow(VaultOldError);
    await one.accept();
    await one.keep('person', 'a', 1, 'written anew');
    await thrice();
    // Under a manifest with a number that was met before, with the number that the lost one had.
    expect((await one.list('person'))[0]).toMatchObject({ revision: 2, value: 'written anew' });
    expect(await valuesOf(other)).toEqual(['written anew', 'b']);
  });
});
