/**
 * The vault's store: a bound for each account, said in a sentence; lists in pages that no amount of items makes large.
 */
import { allVaultItems, deleteVaultItem, getVaultItem, listVault, putVaultItem } from '@under-lock/contract/vault';
import { randomBytes } from '@under-lock/core/bytes';
import { rows } from '../src/data/database';
import { type House, openHouse, type Worker } from './house';

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
    .client(putVaultItem, { params: { kind: 'draft', id }, body: { revision, sealed: new Uint8Array(bytes).fill(7) } })
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
  await maren.client(deleteVaultItem, { params: { kind: 'draft', id: ids[0]! } });
  expect(await put(maren, 1_000_000)).toHaveLength(36);
  // Somebody else's room is their own.
  expect(await put(tobias, 1_900_000)).toHaveLength(36);
}, 60_000);

test('a list comes in pages of a few megabytes, each item once, what changed last first', async () => {
  const first = await maren.client(listVault, { params: { kind: 'draft' } });
  expect(first.items.reduce((sum, { sealed }) => sum + sealed.length, 0)).toBeLessThanOrEqual(5_000_000);
  expect(first.next).toBeDefined();
  const all = await allVaultItems(maren.client, 'draft');
  expect(new Set(all.map(({ id }) => id)).size).toBe((await used(maren))!.items);
  expect(all.map(({ updatedAt }) => updatedAt.getTime())).toEqual(
    all.map(({ updatedAt }) => updatedAt.getTime()).sort((a, b) => b - a),
  );
  expect((await allVaultItems(tobias.client, 'person')).length).toBe(0);
  for (let count = 0; count < 230; count++)
    await tobias.client(putVaultItem, {
      params: { kind: 'person', id: crypto.randomUUID() },
      body: { revision: 0, sealed: randomBytes(40) },
    });
  expect(await allVaultItems(tobias.client, 'person')).toHaveLength(230);
}, 60_000);

test('an item that has grown counts by what it is now', async () => {
  const id = await put(tobias, 1000);
  const before = Number((await used(tobias))!.bytes);
  await put(tobias, 5000, { id, revision: 1 });
  expect(Number((await used(tobias))!.bytes) - before).toBe(4000);
  expect((await tobias.client(getVaultItem, { params: { kind: 'draft', id } })).item!.revision).toBe(2);
});
