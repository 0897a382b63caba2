/**
 * What a device keeps of a vault: a new page opens it and asks for what has changed, whatever two pages have written to
 * it; what is damaged, older or under another key is only fetched anew.
 */
import fc from 'fast-check';
import { type Bytes } from '../src/bytes';
import { sealingKey } from '../src/sealing';
import { type CountedKind } from '../src/vault/item';
import { briefMemory } from '../src/vault/memory';
import { createShelf, type Shelf } from '../src/vault/shelf';
import { type KeptHead, type Stock } from '../src/vault/stock';
import { copyOf, MapDoor } from './map-door';

class MapStock implements Stock {
  head: KeptHead | undefined;
  pieces = new Map<number, Uint8Array>();
  /** How many pieces each write brought. */
  readonly writes: number[] = [];

  async read() {
    return this.head && { head: this.head, pieces: new Map(this.pieces) };
  }

  async write(_: CountedKind, head: KeptHead, pieces: ReadonlyMap<number, Bytes>, over: string | undefined) {
    await Promise.resolve();
    if (over !== undefined && this.head?.mark !== over) return this.head;
    if (over === undefined) this.pieces.clear();
    for (const [at, sealed] of pieces) this.pieces.set(at, sealed);
    this.head = head;
    this.writes.push(pieces.size);
    return undefined;
  }

  async forget() {
    this.head = undefined;
    this.pieces.clear();
  }
}

const key = sealingKey(new Uint8Array(32).fill(7));
const noWait = async (): Promise<void> => undefined;
const pageAt = (door: MapDoor, stock: Stock, memory = briefMemory(), under = key): Shelf =>
  createShelf({ door, memory, key: () => under, stock });
const idOf = (n: number): string => `${n.toString(16).padStart(8, '0')}-0000-4000-8000-000000000000`;
const valuesOf = async (shelf: Shelf) => (await shelf.list('person')).map(({ value }) => value);
/** What a page has opened is kept a moment later. */
async function kept(stock: MapStock, page: Shelf): Promise<void> {
  const { mark } = await page.follow('person');
  while (stock.head?.mark !== mark) await new Promise((done) => setTimeout(done, 5));
}

/** A page of the device's that has opened all there is, and kept it. */
async function openedAt(door: MapDoor, stock: MapStock, memory = briefMemory()): Promise<Shelf> {
  const page = pageAt(door, stock, memory);
  await kept(stock, page);
  return page;
}

async function houseOf(count: number) {
  const [door, stock] = [new MapDoor(noWait), new MapStock()];
  const writer = createShelf({ door, memory: briefMemory(), key: () => key });
  await writer.keepAll(
    'person',
    Array.from({ length: count }, (_, n) => ({ id: idOf(n), revision: 0, value: `person ${n}` })),
  );
  return { door, stock, writer };
}

test('a new page opens it, and only what has changed since comes from the server', async () => {
  const { door, stock, writer } = await houseOf(1_000);
  await openedAt(door, stock);
  expect(stock.pieces.size).toBe(3);
  await writer.keep('person', idOf(3), 1, 'changed');
  await writer.drop('person', idOf(4));
  door.brought.length = 0;
  const [page, other] = [pageAt(door, stock), pageAt(door, new MapStock())];
  expect(await valuesOf(page)).toEqual(await valuesOf(other));
  expect(door.brought).toEqual([1, 999]);
  // Two that lie in different pieces: the third stays as it is.
  await kept(stock, page);
  expect(stock.writes).toEqual([3, 2]);
  door.brought.length = 0;
  expect(await pageAt(door, stock).list('person')).toHaveLength(999);
  expect(door.brought).toEqual([0]);
});

test('nothing of it can be read', async () => {
  const { door, stock } = await houseOf(20);
  await openedAt(door, stock);
  const octets = [stock.head!.sealed, ...stock.pieces.values()]
    .map((sealed) => Buffer.from(sealed).toString('latin1'))
    .join('');
  expect(octets.length).toBeGreaterThan(500);
  expect(octets).not.toMatch(/person|0000/);
});

test.each([
  ['a piece is damaged', async (stock: MapStock) => void stock.pieces.set(1, new Uint8Array(99))],
  ['a piece is missing', async (stock: MapStock) => void stock.pieces.delete(1)],
  ['two pieces change places', async (stock: MapStock) => void stock.pieces.set(1, stock.pieces.get(0)!)],
  [
    'a piece is from an earlier time',
    async (stock: MapStock, door: MapDoor, writer: Shelf) => {
      const before = stock.pieces.get(1)!;
      await writer.keep('person', idOf(1), 1, 'changed');
      await openedAt(door, stock);
      expect(stock.pieces.get(1)).not.toEqual(before);
      stock.pieces.set(1, before);
    },
  ],
  ['the head says another mark', async (stock: MapStock) => void (stock.head = { ...stock.head!, mark: 'other' })],
  ['nothing can be read', async (stock: MapStock) => void (stock.read = () => Promise.reject(new Error('no room')))],
])('where %s all comes from the server', async (_, bend) => {
  const { door, stock, writer } = await houseOf(1_000);
  await openedAt(door, stock);
  await bend(stock, door, writer);
  door.brought.length = 0;
  expect(await valuesOf(pageAt(door, stock))).toEqual(await valuesOf(writer));
  expect(door.brought[0]).toBe(1_000);
});

test('under another key it is nothing', async () => {
  const { door, stock } = await houseOf(20);
  await openedAt(door, stock);
  const other = pageAt(door, stock, briefMemory(), sealingKey(new Uint8Array(32).fill(8)));
  await expect(other.list('person')).rejects.toMatchObject({ name: 'VaultOldError' });
});

test('a device that keeps nothing is no hindrance', async () => {
  const { door, stock, writer } = await houseOf(20);
  stock.write = () => Promise.reject(new Error('no room'));
  const page = pageAt(door, stock);
  expect(await page.list('person')).toHaveLength(20);
  await writer.keep('person', idOf(3), 1, 'changed');
  expect((await valuesOf(page))[3]).toBe('changed');
});

test('an older state of the server’s is told of, whatever the device has kept; once it is accepted nothing of that counts', async () => {
  const { door, stock, writer } = await houseOf(20);
  const memory = briefMemory();
  const backup = copyOf(door.state);
  await writer.keep('person', idOf(3), 1, 'lost');
  const page = await openedAt(door, stock, memory);
  door.state = copyOf(backup);
  await expect(page.list('person')).rejects.toMatchObject({ name: 'VaultOldError' });
  const after = pageAt(door, stock, memory);
  await expect(after.list('person')).rejects.toMatchObject({ name: 'VaultOldError' });
  await after.accept();
  expect((await valuesOf(after))[3]).toBe('person 3');
  await kept(stock, after);
  expect((await valuesOf(pageAt(door, stock, memory)))[3]).toBe('person 3');
});

test('a page that is behind another of the device’s takes nothing back of what that one has kept', async () => {
  const { door, stock, writer } = await houseOf(5);
  const memory = briefMemory();
  const [one, other] = [await openedAt(door, stock, memory), await openedAt(door, stock, memory)];
  await writer.keep('person', idOf(0), 1, 'first');
  // One that is at the first change waits with it until the other has kept the second.
  let going = (): void => undefined;
  const waiting = new Promise<void>((done) => (going = done));
  const write = stock.write.bind(stock);
  let isFirst = true;
  stock.write = async (...given) => {
    if (isFirst) {
      isFirst = false;
      await waiting;
    }
    return write(...given);
  };
  await one.list('person');
  await writer.keep('person', idOf(1), 1, 'second');
  await kept(stock, other);
  const { mark } = stock.head!;
  going();
  await new Promise((done) => setTimeout(done, 20));
  expect(stock.head!.mark).toBe(mark);
  await writer.keep('person', idOf(2), 1, 'third');
  await kept(stock, one);
  door.brought.length = 0;
  expect((await valuesOf(pageAt(door, stock, memory))).slice(0, 3)).toEqual(['first', 'second', 'third']);
  expect(door.brought).toEqual([0]);
});

test('whatever two pages of one device do, with new ones in between, each has what the server has', async () => {
  const acts = fc.array(
    fc.record({
      page: fc.nat(1),
      what: fc.constantFrom('keep', 'keep', 'drop', 'list', 'list', 'reload', 'settle'),
      id: fc.nat(5),
    }),
    { minLength: 1, maxLength: 25 },
  );
  await fc.assert(
    fc.asyncProperty(acts, async (script) => {
      const [door, stock, memory] = [new MapDoor(noWait), new MapStock(), briefMemory()];
      const pages = [pageAt(door, stock, memory), pageAt(door, stock, memory)];
      for (const [index, { page, what, id }] of script.entries()) {
        const shelf = pages[page]!;
        if (what === 'reload') pages[page] = pageAt(door, stock, memory);
        else if (what === 'settle') await new Promise((done) => setTimeout(done, 5));
        else if (what === 'list') await shelf.list('person');
        else if (what === 'drop') await shelf.drop('person', idOf(id));
        else {
          const before = await shelf.read('person', idOf(id));
          await shelf.keep('person', idOf(id), before?.revision ?? 0, index);
        }
      }
      const fresh = await valuesOf(createShelf({ door, memory: briefMemory(), key: () => key }));
      for (const shelf of [...pages, pageAt(door, stock, memory)]) expect(await valuesOf(shelf)).toEqual(fresh);
    }),
    { numRuns: 40 },
  );
});
