/**
 * The vault's store: a bound for each account, said in a sentence; lists in pages that no amount of items makes large;
 * and a server that gives out what was there before is found out.
 */
import {
  dropVaultItem,
  getVaultItem,
  listVault,
  putVaultItem,
  putVaultManifest,
  vaultDoor,
} from '@under-lock/contract/vault';
import { makeAccountSecret, vaultKey } from '@under-lock/core/account/secret';
import { randomBytes } from '@under-lock/core/bytes';
import { sealItem } from '@under-lock/core/vault/item';
import { MOST_STEPS, STEPS } from '@under-lock/core/vault/limits';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { rows } from '../src/data/database';
import { codeOf, type House, openHouse, type Worker } from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
beforeAll(async () => {
  house = await openHouse({ UNDERLOCK_VAULT_MB: '10' });
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
});
afterAll(() => house.stop());

const put = (
  worker: Worker,
  bytes: number,
  { id = crypto.randomUUID() as string, revision = 0 } = {},
): Promise<string> =>
  worker
    .client(putVaultItem, { params: { kind: 'sent', id }, body: { revision, sealed: new Uint8Array(bytes).fill(7) } })
    .then(
      () => id,
      (problem: { code: string; details: { detail?: string } }) => `${problem.code}: ${problem.details.detail ?? ''}`,
    );
const used = async ({ account }: Worker) =>
  (
    await rows<{ bytes: string; items: number }>(
      house.server.context.db,
      'SELECT bytes, items FROM vault_usage WHERE account_id = $1',
      [account.id],
    )
  )[0];

test('what goes beyond the bound is refused with a sentence, nothing of it stays, and making room helps', async () => {
  const ids: string[] = [];
  for (let count = 0; count < 5; count++) ids.push(await put(maren, 1_900_000));
  const refused = await put(maren, 1_900_000);
  expect(refused).toBe(
    'storage-full: Your vault holds 10 MB, the most there is for one person, so this was not kept. Delete drafts and messages you no longer need, or ask your administrator for more room.',
  );
  expect(await used(maren)).toEqual({ bytes: String(5 * 1_900_000), items: 5 });
  // Nor by a change, nor by many at once.
  expect(await put(maren, 100)).toHaveLength(36);
  const many = await Promise.all(Array.from({ length: 8 }, () => put(maren, 300_000)));
  expect(many.filter((one) => one.startsWith('storage-full'))).toHaveLength(7);
  expect(Number((await used(maren))!.bytes)).toBeLessThanOrEqual(10_000_000);
  await put(maren, 100, { id: ids[0]!, revision: 1 });
  expect(await put(maren, 1_000_000)).toHaveLength(36);
  // Somebody else's room is their own.
  expect(await put(tobias, 1_900_000)).toHaveLength(36);
}, 60_000);

/** A browser of this worker: with a memory of its own, or with that of an earlier page. */
const browser = async (worker: Worker, key: CryptoKey, met = briefMemory()): Promise<Shelf> =>
  createShelf({ door: vaultDoor(worker.client), memory: met, key: async () => key });
const newKey = () => vaultKey(makeAccountSecret());

test('a list comes in pages of a few megabytes, each item once, and its manifest with it', async () => {
  const first = await maren.client(listVault, { params: { kind: 'sent' } });
  expect(first.items.reduce((sum, { sealed }) => sum + sealed.length, 0)).toBeLessThanOrEqual(5_000_000);
  expect(first.next).toBeDefined();
  const anna = await house.worker('anna.weil');
  const shelf = await browser(anna, await newKey());
  expect(await shelf.list('person')).toEqual([]);
  const ids = Array.from({ length: 230 }, () => crypto.randomUUID() as string);
  for (const id of ids) await shelf.keep('person', id, 0, { name: id });
  const listed = await shelf.list('person');
  expect(new Set(listed.map(({ id }) => id))).toEqual(new Set(ids));
  expect(listed.every(({ id, value }) => (value as { name: string }).name === id)).toBe(true);
  // Whoever has them all gets what was written since.
  const since = await shelf.revisionOf('person');
  await shelf.keep('person', ids[7]!, 1, { name: 'changed' });
  const page = await anna.client(listVault, { params: { kind: 'person' }, query: { known: since, since } });
  expect(page.items.map(({ id, revision }) => [id, revision])).toEqual([[ids[7], 2]]);
  expect(
    (await shelf.list('person')).filter(({ value }) => (value as { name: string }).name === 'changed'),
  ).toHaveLength(1);
}, 60_000);

test('of a manifest only the steps come that the asker has not, as long as they are kept; one whole is due from time to time', async () => {
  const worker = await house.worker('anna.roth');
  const shelf = await browser(worker, await newKey());
  const id = crypto.randomUUID() as string;
  for (let revision = 0; revision < 2 * STEPS + 10; revision++) await shelf.keep('person', id, revision, {});
  const manifestFor = async (known?: number) =>
    (await worker.client(listVault, { params: { kind: 'person' }, query: { known } })).manifest;
  const newest = (await manifestFor()).revision;
  const one = await manifestFor(newest - 1);
  expect([one.revision, one.whole, one.steps?.length]).toEqual([newest, undefined, 1]);
  expect(await manifestFor(newest)).toEqual({ revision: newest });
  // Past one that was written whole, too.
  const last = (await manifestFor()).whole!.revision;
  expect((await manifestFor(last - 5)).steps).toHaveLength(newest - last + 5);
  // Who was away for longer than steps are kept, or knows one that was never there, gets it whole with the steps since.
  for (const known of [1, newest + 1]) {
    const away = await manifestFor(known);
    expect([away.whole?.revision, away.steps?.length]).toEqual([last, newest - last]);
  }
  const kept = await rows(house.server.context.db, 'SELECT FROM vault_manifest_steps WHERE account_id = $1', [
    worker.account.id,
  ]);
  expect(kept.length).toBeLessThanOrEqual(2 * STEPS + 1);
  const step = (revision: number): Promise<string> =>
    codeOf(
      worker.client(dropVaultItem, {
        params: { kind: 'person', id: crypto.randomUUID() },
        body: { manifest: { revision, step: randomBytes(60) } },
      }),
    );
  let revision = newest;
  while ((await step(revision)) === 'done') revision += 1;
  expect(revision - last).toBe(MOST_STEPS);
  const first = { revision: 0, step: randomBytes(60) };
  const begun = worker.client(putVaultManifest, { params: { kind: 'draft' }, body: first });
  expect(await codeOf(begun)).toBe('invalid-input');
}, 60_000);

describe('a server that gives out what was there before', () => {
  const sql = (statement: string, bind: unknown[]) => rows<never>(house.server.context.db, statement, bind);
  interface Kept {
    revision: number;
    sealed: Buffer;
  }
  interface KeptManifest extends Kept {
    whole: number;
    steps: Kept[];
  }
  const itemNow = async (id: string): Promise<Kept> =>
    (await rows<Kept>(house.server.context.db, 'SELECT revision, sealed FROM vault_items WHERE id = $1', [id]))[0]!;
  const manifestNow = async (worker: Worker): Promise<KeptManifest> => {
    const { db } = house.server.context;
    const of = `WHERE account_id = $1 AND kind = 'person'`;
    const [manifest] = await rows<Omit<KeptManifest, 'steps'>>(
      db,
      `SELECT revision, whole, sealed FROM vault_manifests ${of}`,
      [worker.account.id],
    );
    const steps = await rows<Kept>(db, `SELECT revision, sealed FROM vault_manifest_steps ${of}`, [worker.account.id]);
    return { ...manifest!, steps };
  };
  const setItem = (id: string, { revision, sealed }: Kept) =>
    sql('UPDATE vault_items SET revision = $2, sealed = $3 WHERE id = $1 RETURNING id', [id, revision, sealed]);
  async function setManifest(worker: Worker, { revision, whole, sealed, steps }: KeptManifest): Promise<void> {
    const { id } = worker.account;
    await sql('DELETE FROM vault_manifest_steps WHERE account_id = $1 AND kind = $2 RETURNING kind', [id, 'person']);
    await sql(
      `INSERT INTO vault_manifests (account_id, kind, revision, whole, sealed) VALUES ($1, 'person', $2, $3, $4)
        ON CONFLICT (account_id, kind) DO UPDATE SET revision = $2, whole = $3, sealed = $4 RETURNING kind`,
      [id, revision, whole, sealed],
    );
    for (const step of steps)
      await sql(
        `INSERT INTO vault_manifest_steps (account_id, kind, revision, sealed) VALUES ($1, 'person', $2, $3) RETURNING kind`,
        [id, step.revision, step.sealed],
      );
  }
  const old = { name: 'VaultOldError', message: 'person' };

  /** A person kept twice, with what lay in the database in between. */
  async function changedTwice(name: string) {
    const worker = await house.worker(name);
    const key = await newKey();
    const met = briefMemory();
    const shelf = await browser(worker, key, met);
    const [id, other] = [crypto.randomUUID() as string, crypto.randomUUID() as string];
    await shelf.keep('person', other, 0, { phone: 'other' });
    await shelf.keep('person', id, 0, { phone: 'old' });
    const before = { item: await itemNow(id), manifest: await manifestNow(worker) };
    await shelf.keep('person', id, 1, { phone: 'new' });
    return {
      worker,
      key,
      met,
      shelf,
      id,
      other,
      before,
      after: { item: await itemNow(id), manifest: await manifestNow(worker) },
    };
  }

  test('is noticed when it is one item, whichever revision it says, by a browser that has met nothing', async () => {
    const { worker, key, id, before, after } = await changedTwice('b.one');
    expect((await (await browser(worker, key)).read('person', id))!.value).toEqual({ phone: 'new' });
    for (const told of [before.item, { ...before.item, revision: after.item.revision }]) {
      await setItem(id, told);
      await expect((await browser(worker, key)).read('person', id)).rejects.toMatchObject(old);
      await expect((await browser(worker, key)).list('person')).rejects.toMatchObject(old);
    }
    await setItem(id, after.item);
    expect(await (await browser(worker, key)).list('person')).toHaveLength(2);
  });

  test('is noticed when it is a whole kind, by a browser that has met a later one or another kind written since', async () => {
    const { worker, key, met, shelf, id, before, after } = await changedTwice('b.two');
    await shelf.keep('settings', crypto.randomUUID(), 0, {});
    await setItem(id, before.item);
    await setManifest(worker, before.manifest);
    await expect(shelf.list('person')).rejects.toMatchObject(old);
    await expect((await browser(worker, key, met)).list('person')).rejects.toMatchObject(old);
    const elsewhere = await browser(worker, key);
    await elsewhere.list('settings');
    await expect(elsewhere.read('person', id)).rejects.toMatchObject(old);
    // A manifest that only says it is the later one opens nowhere, nor does a step.
    const later = after.manifest.revision;
    const step = { ...before.manifest.steps.at(-1)!, revision: later };
    for (const told of [
      { ...before.manifest, revision: later },
      { ...before.manifest, revision: later, whole: later, steps: [] },
      { ...before.manifest, revision: later, steps: [...before.manifest.steps, step] },
    ]) {
      await setManifest(worker, told);
      await expect((await browser(worker, key)).list('person')).rejects.toMatchObject(old);
    }
  });

  test('is noticed when something is missing, and what was deleted does not come back', async () => {
    const { worker, key, met, shelf, id, other, after } = await changedTwice('b.three');
    await sql('DELETE FROM vault_items WHERE id = $1 RETURNING id', [id]);
    await expect(shelf.read('person', id)).rejects.toMatchObject(old);
    await expect(shelf.list('person')).rejects.toMatchObject(old);
    await sql(
      `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, 'person', $2, $3, now(), $4) RETURNING id`,
      [worker.account.id, id, after.item.revision, after.item.sealed],
    );
    await shelf.drop('person', id);
    await sql(
      `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, 'person', $2, $3, now(), $4) RETURNING id`,
      [worker.account.id, id, after.item.revision, after.item.sealed],
    );
    expect((await shelf.list('person')).map((item) => item.id)).toEqual([other]);
    expect(await shelf.read('person', id)).toBeUndefined();
    // No manifest at all is an earlier time, too.
    await sql('DELETE FROM vault_manifests WHERE account_id = $1 RETURNING kind', [worker.account.id]);
    await expect((await browser(worker, key, met)).list('person')).rejects.toMatchObject(old);
  });

  test('is taken for what there is once its owner says so, and everything goes on from there', async () => {
    const { worker, key, met, shelf, id, before } = await changedTwice('b.four');
    await setItem(id, before.item);
    await setManifest(worker, before.manifest);
    await expect(shelf.list('person')).rejects.toMatchObject(old);
    await shelf.accept();
    expect((await shelf.read('person', id))!.value).toEqual({ phone: 'old' });
    expect(await shelf.keep('person', id, 1, { phone: 'newer' })).toBe(2);
    expect((await (await browser(worker, key, met)).read('person', id))!.value).toEqual({ phone: 'newer' });
    // What opens under no revision is left out and harms nothing else.
    await setItem(id, { revision: 2, sealed: Buffer.from(randomBytes(60)) });
    await expect(shelf.list('person')).rejects.toMatchObject(old);
    await shelf.accept();
    expect(await shelf.list('person')).toHaveLength(1);
  });
});

test('tabs and threads that write at once all get their turn, and whoever changes the same item second is told', async () => {
  const worker = await house.worker('b.five');
  const key = await newKey();
  const met = briefMemory();
  const shelves = await Promise.all([browser(worker, key, met), browser(worker, key, met), browser(worker, key)]);
  const id = crypto.randomUUID() as string;
  await shelves[0]!.keep('person', id, 0, { count: 0 });
  await Promise.all(
    shelves.flatMap((shelf) => Array.from({ length: 4 }, () => shelf.keep('person', crypto.randomUUID(), 0, {}))),
  );
  for (const shelf of shelves) expect(await shelf.list('person')).toHaveLength(13);
  const second = await Promise.allSettled(shelves.map((shelf) => shelf.keep('person', id, 1, { count: 1 })));
  expect(
    second.map((one) => (one.status === 'fulfilled' ? one.value : (one.reason as { code: string }).code)).sort(),
  ).toEqual([2, 'conflict', 'conflict']);
});

test('a vault from before manifests is taken as it is, once, and bound from then on', async () => {
  const worker = await house.worker('b.six');
  const key = await newKey();
  const ids = [crypto.randomUUID() as string, crypto.randomUUID() as string];
  for (const id of ids)
    await rows(
      house.server.context.db,
      `INSERT INTO vault_items (account_id, kind, id, revision, updated_at, sealed) VALUES ($1, 'person', $2, 3, now(), $3) RETURNING id`,
      [worker.account.id, id, Buffer.from(await sealItem(key, 'person', id, { name: id }))],
    );
  const shelf = await browser(worker, key);
  expect((await shelf.read('person', ids[1]!))!.value).toEqual({ name: ids[1] });
  const again = await (await browser(worker, key)).list('person');
  expect(again.map(({ value, revision }) => [(value as { name: string }).name, revision]).sort()).toEqual(
    ids.map((id) => [id, 4]).sort(),
  );
});

test('a page that does not know of manifests can’t write past them', async () => {
  await expect(
    tobias.client(putVaultItem, {
      params: { kind: 'person', id: crypto.randomUUID() },
      body: { revision: 0, sealed: randomBytes(40) },
    }),
  ).rejects.toMatchObject({ code: 'invalid-input' });
});

test('an item that has grown counts by what it is now', async () => {
  const id = await put(tobias, 1000);
  const before = Number((await used(tobias))!.bytes);
  await put(tobias, 5000, { id, revision: 1 });
  expect(Number((await used(tobias))!.bytes) - before).toBe(4000);
  expect((await tobias.client(getVaultItem, { params: { kind: 'sent', id } })).item!.revision).toBe(2);
});
