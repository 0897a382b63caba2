/** The office book at the server: who is in, who reads what, how its key is renewed, and that nothing of it lies open. */
import { endAccount } from '@under-lock/contract/account';
import * as bookApi from '@under-lock/contract/office-book';
import { type KeyPair, openHouse, giveKeyPair, codeOf, type House, type Worker } from './house';
import { bookKey, makeOfficeKey, openAsMember, sealToMember } from '@under-lock/core/office-book/key';
import { type BookPerson } from '@under-lock/core/office-book/person';
import { resealed } from '@under-lock/core/office-book/renewal';
import { randomBytes } from '@under-lock/core/bytes';
import { BOOK_KINDS, openItem } from '@under-lock/core/vault/item';
import { briefMemory } from '@under-lock/core/vault/memory';
import { createShelf, type Shelf } from '@under-lock/core/vault/shelf';
import { randomUUID } from 'node:crypto';
import { rows, run } from '../src/data/database';

let house: House;
let admin: Worker;
let maren: Worker;
let tobias: Worker;
let signe: Worker;
const keys = new Map<Worker, KeyPair>();
const keyOf = (worker: Worker): KeyPair => keys.get(worker)!;

beforeAll(async () => {
  house = await openHouse();
  admin = await house.worker('ines.varga', 'administrator');
  [maren, tobias, signe] = [
    await house.worker('maren.oduya'),
    await house.worker('tobias.lind'),
    await house.worker('signe.holt'),
  ];
  for (const worker of [admin, maren, tobias, signe]) keys.set(worker, await giveKeyPair(worker));
});
afterAll(() => house.stop());

const stand = (worker: Worker) => worker.client(bookApi.getOfficeBook, {});

async function secretOf(worker: Worker): Promise<{ epoch: number; secret: Uint8Array<ArrayBuffer> }> {
  const { key, sealedKey } = await stand(worker);
  const secret = await openAsMember(keyOf(worker).privateKey, sealedKey!, key!.epoch, worker.account.id);
  return { epoch: key!.epoch, secret };
}

async function shelfOf(worker: Worker, memory = briefMemory()): Promise<Shelf> {
  let held = await secretOf(worker);
  return createShelf({
    kinds: BOOK_KINDS,
    memory,
    key: async () => bookKey(held.secret),
    door: bookApi.bookDoor(
      worker.client,
      () => held.epoch,
      async (epoch) => {
        if (epoch !== held.epoch) held = await secretOf(worker);
      },
    ),
  });
}

async function begin(): Promise<void> {
  const { suite, publicKey, secret } = await makeOfficeKey();
  const sealedKey = await sealToMember(keyOf(admin), secret, 1, admin.account.id);
  await admin.client(bookApi.beginOfficeBook, { body: { suite, publicKey, sealedKey } });
}

async function letIn(by: Worker, who: Worker): Promise<void> {
  const { secret, epoch } = await secretOf(by);
  const sealedKey = await sealToMember(keyOf(who), secret, epoch, who.account.id);
  await by.client(bookApi.letIn, { params: { id: who.account.id }, body: { epoch, sealedKey } });
}

async function renewal(by: Worker, staying: Worker[]) {
  const { epoch } = await secretOf(by);
  const shelf = await shelfOf(by);
  const shelved = await Promise.all(
    BOOK_KINDS.map(async (kind) => ({ kind, items: await shelf.list(kind), revision: await shelf.revisionOf(kind) })),
  );
  const made = await resealed(shelved, {
    epoch: epoch + 1,
    members: staying.map((worker) => ({ id: worker.account.id, key: keyOf(worker) })),
  });
  return { epoch, ...made };
}
const handIn = (by: Worker, { epoch, ...made }: Awaited<ReturnType<typeof renewal>>): Promise<void> =>
  bookApi.renewInParts(by.client, epoch, made);
const renew = async (by: Worker, staying: Worker[]): Promise<void> => handIn(by, await renewal(by, staying));

const person = (name: string, over: Partial<BookPerson> = {}): BookPerson => ({
  name,
  address: `${name.toLowerCase()}@northquay.example`,
  phone: '+4915550100',
  changes: [],
  ...over,
});

test('nobody has a book before an administrator begins one, and it is begun once', async () => {
  expect(await stand(maren)).toEqual({ members: [], out: [], renew: false, directory: false });
  expect(await codeOf(maren.client(bookApi.listBook, { params: { kind: 'book-person' }, query: {} }))).toBe(
    'not-member',
  );
  const { publicKey, suite } = await makeOfficeKey();
  const body = { suite, publicKey, sealedKey: randomBytes(100) };
  expect(await codeOf(maren.client(bookApi.beginOfficeBook, { body }))).toBe('not-allowed');
  await begin();
  expect(await codeOf(admin.client(bookApi.beginOfficeBook, { body }))).toBe('conflict');
  expect((await stand(maren)).sealedKey).toBeUndefined();
  expect((await stand(admin)).members).toEqual([{ id: admin.account.id, letInAt: expect.any(Date) as Date }]);
});

test('a member lets in, two at once the same one; who is not in lets nobody in', async () => {
  const body = { epoch: 1, sealedKey: randomBytes(100) };
  expect(await codeOf(tobias.client(bookApi.letIn, { params: { id: signe.account.id }, body }))).toBe('not-member');
  await letIn(admin, maren);
  await Promise.all([letIn(admin, tobias), letIn(maren, tobias)]);
  const [one, other] = [await secretOf(maren), await secretOf(tobias)];
  expect(one).toEqual(other);
  expect((await stand(signe)).members.map(({ id }) => id).sort()).toEqual(
    [admin, maren, tobias].map(({ account }) => account.id).sort(),
  );
  expect(await codeOf(maren.client(bookApi.letIn, { params: { id: randomUUID() }, body }))).toBe('not-found');
  expect(
    await codeOf(maren.client(bookApi.letIn, { params: { id: signe.account.id }, body: { ...body, epoch: 7 } })),
  ).toBe('key-renewed');
});

test('many at once are all kept or none, by who is in only, and as many as there is room for', async () => {
  const shelf = await shelfOf(maren);
  const many = Array.from({ length: 620 }, (_, index) => ({
    id: randomUUID(),
    revision: 0,
    value: person(`Crew${index}`),
  }));
  await shelf.keepAll('book-person', many);
  const others = await shelfOf(tobias);
  expect(await others.list('book-person')).toHaveLength(620);
  expect((await stand(maren)).revisions).toEqual({ 'book-person': 2 });
  const [first, second] = many;
  await others.keep('book-person', first!.id, 1, person('Crew0', { note: 'changed' }));
  const changedSince = await maren.client(bookApi.listBook, { params: { kind: 'book-person' }, query: { since: 2 } });
  expect(changedSince.items.map(({ id }) => id)).toEqual([first!.id]);
  const again = [first!, second!].map((one) => ({ ...one, revision: 1 }));
  await expect(shelf.keepAll('book-person', again)).rejects.toMatchObject({ details: { code: 'conflict' } });
  expect((await shelf.read('book-person', second!.id))!.revision).toBe(1);
  const body = {
    epoch: 1,
    items: [{ id: randomUUID(), revision: 0, sealed: randomBytes(60) }],
    manifest: { revision: 3, whole: randomBytes(60) },
  };
  const putting = (worker: Worker, over: object = {}) =>
    codeOf(worker.client(bookApi.putBookItems, { params: { kind: 'book-person' }, body: { ...body, ...over } }));
  expect(await putting(signe)).toBe('not-member');
  expect(await putting(maren, { epoch: 7 })).toBe('key-renewed');
  expect(await putting(maren, { manifest: { ...body.manifest, revision: 2 } })).toBe('manifest-behind');
  for (const { id } of many)
    await rows(house.server.context.db, 'DELETE FROM office_items WHERE id = $1 RETURNING id', [id]);
  await rows(house.server.context.db, 'DELETE FROM office_manifests RETURNING epoch', []);
});

test('what one shares the others have, with who wrote it last; nothing of it lies open', async () => {
  const [mine, theirs] = [await shelfOf(maren), await shelfOf(tobias)];
  const id = randomUUID();
  await mine.keep('book-person', id, 0, person('Linde', { note: 'asks for the blue form' }));
  await mine.keep('book-firm', randomUUID(), 0, { domain: 'northquay.example', lock: 'room', changes: [] });
  const [found] = await theirs.list('book-person');
  expect(found).toMatchObject({ id, value: { name: 'Linde', phone: '+4915550100' } });
  await theirs.keep('book-person', id, found!.revision, person('Linde', { phone: '+4915550199' }));
  expect((await stand(maren)).revisions).toEqual({ 'book-person': 2, 'book-firm': 1 });
  const page = await maren.client(bookApi.listBook, { params: { kind: 'book-person' }, query: {} });
  expect(page.items[0]!.by).toEqual({ id: tobias.account.id, name: tobias.account.name });
  // Both write at once: neither is lost, one is told.
  const all = await Promise.all([
    mine.keep('book-person', randomUUID(), 0, person('Ros')),
    theirs.keep('book-person', randomUUID(), 0, person('Holm')),
  ]);
  expect(all).toEqual([1, 1]);
  expect(
    (await (await shelfOf(admin)).list('book-person')).map(({ value }) => (value as BookPerson).name).sort(),
  ).toEqual(['Holm', 'Linde', 'Ros']);
  const kept = await rows<{ all: Buffer }>(
    house.server.context.db,
    'SELECT sealed AS all FROM office_items UNION ALL SELECT sealed FROM office_manifests UNION ALL SELECT sealed FROM office_manifest_steps UNION ALL SELECT sealed_key FROM office_members',
  );
  expect(kept.length).toBeGreaterThan(5);
  for (const { all: bytes } of kept) expect(bytes.toString('latin1')).not.toMatch(/Linde|northquay|5550|blue form/);
});

test('a restored backup is told of by everybody who has met a later book, until they say that they go on with it', async () => {
  const { db } = house.server.context;
  const [met, alsoMet] = [briefMemory(), briefMemory()];
  const [mine, theirs] = [await shelfOf(maren, met), await shelfOf(tobias, alsoMet)];
  const [linde] = (await mine.list('book-person')).filter(({ value }) => (value as BookPerson).name === 'Linde');
  const lindes = async (shelf: Shelf) => (await shelf.read('book-person', linde!.id))!.value;
  const tables = ['office_manifests', 'office_manifest_steps', 'office_items'];
  for (const table of tables) await run(db, `CREATE TABLE backup_${table} AS SELECT * FROM ${table}`);
  await mine.keep('book-person', linde!.id, linde!.revision, person('Linde', { note: 'lost' }));
  await mine.keep('book-firm', randomUUID(), 0, { domain: 'lost.example', changes: [] });
  expect(await theirs.list('book-firm')).toHaveLength(2);
  expect(await lindes(theirs)).toMatchObject({ note: 'lost' });
  await run(db, 'DELETE FROM office_items');
  await run(db, 'DELETE FROM office_manifests');
  for (const table of tables) {
    await run(db, `INSERT INTO ${table} SELECT * FROM backup_${table}`);
    await run(db, `DROP TABLE backup_${table}`);
  }
  const old = { name: 'VaultOldError' };
  for (const shelf of [mine, theirs]) {
    await expect(shelf.list('book-person')).rejects.toMatchObject(old);
    await expect(shelf.list('book-firm')).rejects.toMatchObject(old);
  }
  await mine.accept();
  expect(await lindes(mine)).toEqual(linde!.value);
  expect(await mine.list('book-firm')).toHaveLength(1);
  // Whoever has not met the later one goes on without a word; whoever has says so for themselves.
  expect(await lindes(await shelfOf(admin))).toEqual(linde!.value);
  await theirs.accept();
  await theirs.keep('book-person', linde!.id, linde!.revision, person('Linde', { note: 'since' }));
  expect(await lindes(mine)).toMatchObject({ note: 'since' });
  expect(await lindes(await shelfOf(maren, met))).toMatchObject({ note: 'since' });
  // Only by who is in, and under the key of now.
  const putting = (worker: Worker, epoch: number) =>
    codeOf(
      worker.client(bookApi.putBookManifest, {
        params: { kind: 'book-firm' },
        body: { epoch, manifest: { revision: 2, whole: randomBytes(60) } },
      }),
    );
  expect([await putting(signe, 1), await putting(maren, 7)]).toEqual(['not-member', 'key-renewed']);
});

test('who is let out reads nothing more, and nothing that was renewed, also with the key they had', async () => {
  const before = await secretOf(tobias);
  const stale = await shelfOf(maren);
  expect(await codeOf(maren.client(bookApi.letOut, { params: { id: tobias.account.id } }))).toBe('not-allowed');
  await admin.client(bookApi.letOut, { params: { id: tobias.account.id } });
  expect(await codeOf(tobias.client(bookApi.listBook, { params: { kind: 'book-person' }, query: {} }))).toBe(
    'not-member',
  );
  expect((await stand(tobias)).sealedKey).toBeUndefined();
  expect(await stand(maren)).toMatchObject({ renew: true, out: [tobias.account.id] });

  expect(await codeOf(renew(maren, [admin, maren, tobias]))).toBe('invalid-input');
  await renew(maren, [admin, maren]);
  expect(await stand(maren)).toMatchObject({ renew: false, key: { epoch: 2 } });
  expect(await codeOf(tobias.client(bookApi.listBook, { params: { kind: 'book-person' }, query: {} }))).toBe(
    'not-member',
  );
  const [row] = await rows<{ id: string; revision: number; sealed: Buffer }>(
    house.server.context.db,
    'SELECT id, revision, sealed FROM office_items LIMIT 1',
  );
  const old = await bookKey(before.secret);
  await expect(openItem(old, 'book-person', row!.id, new Uint8Array(row!.sealed), row!.revision)).rejects.toMatchObject(
    { code: 'not-opened' },
  );
  const [rest] = await rows<{ count: number }>(
    house.server.context.db,
    'SELECT (SELECT count(*)::int FROM office_items WHERE epoch = 1) + (SELECT count(*)::int FROM office_members WHERE epoch = 1) AS count',
  );
  expect(rest!.count).toBe(0);
  expect(await (await shelfOf(admin)).list('book-firm')).toMatchObject([{ value: { domain: 'northquay.example' } }]);
  // A browser that has the key of before learns the new one on its next change.
  await stale.keep('book-person', randomUUID(), 0, person('Brook'));
  expect(await (await shelfOf(admin)).list('book-person')).toHaveLength(4);
});

test('a renewal that something was changed under is refused and made anew', async () => {
  const late = await renewal(maren, [admin, maren]);
  await (await shelfOf(admin)).keep('book-person', randomUUID(), 0, person('Late'));
  expect(await codeOf(handIn(maren, late))).toBe('manifest-behind');
  const short = await renewal(maren, [admin, maren]);
  short.kinds[0]!.items.pop();
  expect(await codeOf(handIn(maren, short))).toBe('manifest-behind');
  const none = { ...(await renewal(maren, [admin, maren])), kinds: [] };
  expect(await codeOf(handIn(maren, none))).toBe('manifest-behind');
  // What was begun and left harms nothing; a colleague waits while somebody is at it, and takes it up afterwards.
  expect((await stand(admin)).key!.epoch).toBe(2);
  expect(await codeOf(renew(admin, [admin, maren]))).toBe('busy');
  Object.assign(house.clock, { now: new Date(Date.now() + 6 * 60_000), real: false });
  // Two tabs of one colleague at once: what each seals under its own key is never mixed.
  const done = await Promise.all([codeOf(renew(admin, [admin, maren])), codeOf(renew(admin, [admin, maren]))]);
  expect(done).toContain('done');
  expect((await stand(admin)).key!.epoch).toBeGreaterThanOrEqual(3);
  expect(await (await shelfOf(maren)).list('book-person')).toHaveLength(5);
  house.clock.real = true;
});

test('who may be let in again is let in by a member; an account that ends is out; the last one stays', async () => {
  expect(await codeOf(letIn(maren, tobias))).toBe('not-found');
  await admin.client(bookApi.mayBeLetIn, { params: { id: tobias.account.id } });
  expect((await stand(tobias)).sealedKey).toBeUndefined();
  await letIn(maren, tobias);
  expect(await (await shelfOf(tobias)).list('book-person')).toHaveLength(5);
  await admin.client(endAccount, { params: { id: tobias.account.id }, body: { withdraw: false } });
  expect(await stand(maren)).toMatchObject({ renew: true });
  await admin.client(bookApi.letOut, { params: { id: maren.account.id } });
  expect(await codeOf(admin.client(bookApi.letOut, { params: { id: admin.account.id } }))).toBe('conflict');
});
