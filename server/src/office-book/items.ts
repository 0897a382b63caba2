/** The office book's items: on a shelf as a vault's, written by several people, each under the office's newest key. */
import { MAX_BOOK_BYTES, MOST_IN_BOOK, type putBookItems as putting } from '@under-lock/contract/office-book';
import { type Transaction } from 'sequelize';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows } from '../data/database';
import { type AccountRow } from '../data/models';
import { Problem } from '../problem';
import {
  atOnce,
  deleteItem,
  itemPage,
  type NextManifest,
  oneItem,
  type PageAsked,
  replaceItem,
  replaceManifest,
  type ShelfTable,
} from '../vault/shelf-table';
import { requireEpoch, requireMember } from './members';

const BOOK: ShelfTable = {
  items: 'office_items',
  manifests: 'office_manifests',
  steps: 'office_manifest_steps',
  owner: 'epoch',
  pageItems: 2_000,
  isSigned: true,
  name: 'The office book',
};

/** @throws Problem `not-member` */
export const listBookItems = (context: Context, accountId: string, kind: string, asked: PageAsked) =>
  atOnce(context, async (transaction) => {
    const epoch = await requireMember(context, accountId, transaction);
    return { epoch, ...(await itemPage(context, BOOK, epoch, kind, asked, transaction)) };
  });

/** @throws Problem `not-member` */
export const getBookItem = (context: Context, accountId: string, kind: string, id: string, known?: number) =>
  atOnce(context, async (transaction) => {
    const epoch = await requireMember(context, accountId, transaction);
    return { epoch, ...(await oneItem(context, BOOK, epoch, { kind, id, known }, transaction)) };
  });

/** @throws Problem `storage-full` */
async function requireRoom({ db }: Context, epoch: number, transaction: Transaction): Promise<void> {
  const [used] = await rows<{ items: number; bytes: string }>(
    db,
    'SELECT count(*)::int AS items, coalesce(sum(octet_length(sealed)), 0) AS bytes FROM office_items WHERE epoch = $1',
    [epoch],
    transaction,
  );
  if (used!.items > MOST_IN_BOOK || Number(used!.bytes) > MAX_BOOK_BYTES)
    throw new Problem('storage-full', 507, 'The office book is full', {
      detail: `It holds ${MOST_IN_BOOK.toLocaleString('en-GB')} people and ${MAX_BOOK_BYTES / 1_000_000} MB at most, so this was not kept. Take out people whom nobody writes to.`,
    });
}

interface Place {
  kind: string;
  id: string;
  epoch: number;
}

type Lot = z.output<typeof putting.body>;

/** All of them, or none. @throws Problem `not-member`, `key-renewed`, `manifest-behind`, `conflict`, `storage-full` */
export const putBookItems = (
  context: Context,
  by: AccountRow,
  kind: string,
  { epoch, items, manifest }: Lot,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await replaceManifest(context, BOOK, epoch, kind, manifest, transaction);
    const under = manifest.revision + 1;
    for (const item of items) await replaceItem(context, BOOK, epoch, { kind, ...item, by: by.id, under }, transaction);
    if (items.some(({ revision }) => revision === 0)) await requireRoom(context, epoch, transaction);
  });

/** Its next revision. @throws Problem as {@link putBookItems} */
export async function putBookItem(
  context: Context,
  by: AccountRow,
  { kind, id, epoch }: Place,
  { manifest, ...change }: Omit<Lot['items'][number], 'id'> & Pick<Lot, 'manifest'>,
): Promise<number> {
  await putBookItems(context, by, kind, { epoch, items: [{ id, ...change }], manifest });
  return change.revision + 1;
}

/** @throws Problem `not-member`, `key-renewed`, `manifest-behind` */
export const dropBookItem = (
  context: Context,
  by: AccountRow,
  { epoch, ...place }: Place,
  manifest: NextManifest,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await replaceManifest(context, BOOK, epoch, place.kind, manifest, transaction);
    await deleteItem(context, BOOK, epoch, place, transaction);
  });

/** @throws Problem `not-member`, `key-renewed`, `manifest-behind` */
export const putBookManifest = (
  context: Context,
  by: AccountRow,
  kind: string,
  { epoch, manifest }: { epoch: number; manifest: NextManifest },
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    await replaceManifest(context, BOOK, epoch, kind, manifest, transaction);
  });
