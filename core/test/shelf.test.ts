/**
 * The vault's shelf against a server that is only a map: whatever two browsers do at once nothing of it is lost, and
 * what such a server brings back from an earlier time is not taken for what is there.
 */
import fc from 'fast-check';
import { sealingKey } from '../src/sealing';
import { type GivenManifest, type NextManifest, type VaultDoor } from '../src/vault/door';
import { STEPS } from '../src/vault/limits';
import { VaultOldError } from '../src/vault/manifests';
import { briefMemory } from '../src/vault/memory';
import { createShelf, type Shelf } from '../src/vault/shelf';
import { Conflict, copyOf, MapDoor, type State } from './map-door';

const key = sealingKey(new Uint8Array(32).fill(7));
const browserAt = (door: VaultDoor): Shelf => createShelf({ door, memory: briefMemory(), key: () => key });
const IDS = ['a', 'b', 'c'];
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

describe('a change', () => {
  const sizesOf = (written: readonly NextManifest[]) => written.map(({ step, whole }) => [step?.length, whole?.length]);
  /** So many people, kept by one browser. */
  async function full(count: number) {
    const door = new MapDoor(noWait);
    const shelf = browserAt(door);
    await shelf.keepAll(
      'person',
      Array.from({ length: count }, (_, index) => ({ id: `n${index}`, revision: 0, value: index })),
    );
    door.manifests.length = 0;
    return { door, shelf };
  }

  test('brings a step along whose size does not depend on how much there is, the whole after many of them only', async () => {
    const [few, many] = [await full(10), await full(1_000)];
    for (const { shelf } of [few, many]) await shelf.keep('person', 'n5', 1, 'changed');
    const [[step, whole]] = sizesOf(few.door.manifests) as [[number, undefined]];
    expect(whole).toBeUndefined();
    expect(sizesOf(many.door.manifests)).toEqual([[step, undefined]]);
    for (let revision = 2; revision < 2 + STEPS; revision++) await few.shelf.keep('person', 'n5', revision, revision);
    expect(few.door.manifests.filter((one) => one.whole !== undefined)).toHaveLength(1);
    expect(few.door.manifests.every((one) => one.step !== undefined)).toBe(true);
    expect((await browserAt(few.door).list('person')).find(({ id }) => id === 'n5')!.revision).toBe(1 + STEPS + 1);
  });

  test('is followed by whoever was there before by its step alone, also past a whole one', async () => {
    const { door, shelf } = await full(20);
    const other = browserAt(door);
    const { mark } = await other.follow('person');
    const given: GivenManifest[] = [];
    const list = door.list.bind(door);
    door.list = async (...asked) => {
      const answer = await list(...asked);
      given.push(answer.manifest);
      return answer;
    };
    for (let revision = 1; revision <= STEPS + 2; revision++) await shelf.keep('person', 'n5', revision, revision);
    await shelf.drop('person', 'n6');
    expect(await other.follow('person', mark)).toMatchObject({
      isWhole: false,
      items: [{ id: 'n5', value: STEPS + 2 }],
      gone: ['n6'],
    });
    expect(given.map(({ whole }) => whole)).toEqual([undefined]);
    expect(await other.list('person')).toHaveLength(19);
  });

  test('of another line never comes together with what is known: steps that two made of one manifest', async () => {
    const { door, shelf } = await full(3);
    const other = browserAt(door);
    await other.list('person');
    const parted = copyOf(door.state);
    await shelf.keep('person', 'n0', 1, 'here');
    // The other one is given out another line: both wrote their own next one.
    const here = copyOf(door.state);
    door.state = parted;
    await other.keep('person', 'n1', 1, 'there');
    const [step] = door.state.steps.values();
    expect((await other.list('person')).map(({ value }) => value)).toEqual([0, 'there', 2]);
    await expect(shelf.list('person')).rejects.toThrow(VaultOldError);
    // Nor when the lines are told to be one.
    door.state = here;
    await shelf.keep('person', 'n2', 1, 'here, too');
    door.state.steps.set(2, step!);
    await expect(other.list('person')).rejects.toThrow(VaultOldError);
    await expect(browserAt(door).list('person')).rejects.toThrow(VaultOldError);
    await expect(browserAt(door).read('person', 'n2')).rejects.toThrow(VaultOldError);
  });

  test.each([
    ['one is left out', (steps: Map<number, Uint8Array>) => steps.delete(3)],
    [
      'two change places',
      (steps: Map<number, Uint8Array>) => {
        const [third, fourth] = [steps.get(3)!, steps.get(4)!];
        steps.set(3, fourth).set(4, third);
      },
    ],
    ['one is damaged', (steps: Map<number, Uint8Array>) => steps.set(3, new Uint8Array(80))],
    ['one more is made up', (steps: Map<number, Uint8Array>) => steps.set(5, steps.get(4)!)],
  ])('whose steps are not those that were written (%s) is noticed by everybody', async (_, bend) => {
    const { door, shelf } = await full(2);
    const other = browserAt(door);
    await other.list('person');
    for (const revision of [1, 2, 3]) await shelf.keep('person', 'n0', revision, revision);
    bend(door.state.steps);
    if (door.state.steps.has(5)) door.state.manifest!.revision = 5;
    for (const browser of [other, browserAt(door)]) {
      await expect(browser.list('person')).rejects.toThrow(VaultOldError);
      await expect(browser.read('person', 'n1')).rejects.toThrow(VaultOldError);
    }
  });

  test('is taken whole by whoever kept another life of the vault, when a backup was restored and accepted elsewhere', async () => {
    const { door, shelf } = await full(3);
    const other = browserAt(door);
    const backup = copyOf(door.state);
    await shelf.keep('person', 'n0', 1, 'lost');
    await other.list('person');
    door.state = copyOf(backup);
    await expect(shelf.list('person')).rejects.toThrow(VaultOldError);
    await shelf.accept();
    for (const revision of [1, 2]) await shelf.keep('person', 'n1', revision, revision);
    expect((await other.list('person')).map(({ value }) => value)).toEqual([0, 2, 2]);
    expect((await other.read('person', 'n1'))!.value).toBe(2);
  });
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
