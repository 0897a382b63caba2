/** The door for mail programs as a reader of the office book: a member lets it in, for as long as the key is the same. */
import { type getDoorBook, type getOfficeBook, type letDoorIn as lettingIn } from '@under-lock/contract/office-book';
import { type Reply } from '@under-lock/contract/client';
import { type BookKind } from '@under-lock/core/vault/item';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, telling } from '../log/log';
import { notFound, Problem } from '../problem';
import { knownDoor } from '../submission/door';
import { requireEpoch, requireMember } from './members';

/** What a member is shown of it. */
export async function doorInBook(context: Context, epoch: number): Promise<Reply<typeof getOfficeBook>['door']> {
  const door = await knownDoor(context);
  if (door === undefined) return undefined;
  const [letIn] = await rows<{ at: Date; by: string | null }>(
    context.db,
    `SELECT d.let_in_at AS at, a.name AS by FROM submission_door d LEFT JOIN accounts a ON a.id = d.let_in_by
      WHERE d.book_epoch = $1 AND d.book_key IS NOT NULL`,
    [epoch],
  );
  const { suite, publicKey } = door;
  return {
    suite,
    publicKey,
    ...(letIn === undefined ? {} : { letIn: { at: letIn.at, ...(letIn.by === null ? {} : { by: letIn.by }) } }),
  };
}

/** @throws Problem `not-member`, `key-renewed`, `conflict` where it has another key than its member saw */
export const letDoorIn = (
  context: Context,
  by: AccountRow,
  { epoch, sealedKey, publicKey }: z.output<typeof lettingIn.body>,
): Promise<void> =>
  telling(context, { kind: 'door-let-in', actor: byAccount(by.id) }, async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    const put = await run(
      context.db,
      'UPDATE submission_door SET book_epoch = $1, book_key = $2, let_in_at = $3, let_in_by = $4 WHERE public_key = $5',
      [epoch, Buffer.from(sealedKey), context.clock(), by.id, Buffer.from(publicKey)],
      transaction,
    );
    if (put === 0) throw new Problem('conflict', 409, 'The door has another key by now. Look at it again');
  });

export const letDoorOut = (context: Context, by: AccountRow): Promise<void> =>
  telling(context, { kind: 'door-let-out', actor: byAccount(by.id) }, async (transaction) => {
    const out = await run(
      context.db,
      'UPDATE submission_door SET book_epoch = NULL, book_key = NULL, let_in_at = NULL, let_in_by = NULL',
      [],
      transaction,
    );
    if (out === 0) throw notFound('The door for mail programs');
  });

/** What the door opens the book with for this member; nothing where either of them is not in. */
export async function doorBook(context: Context, accountId: string): Promise<Reply<typeof getDoorBook>> {
  const epoch = await requireMember(context, accountId).catch((error: unknown) => {
    if (error instanceof Problem && error.code === 'not-member') return undefined;
    throw error;
  });
  if (epoch === undefined) return {};
  const [door] = await rows<{ book_key: Buffer }>(
    context.db,
    'SELECT book_key FROM submission_door WHERE book_epoch = $1 AND book_key IS NOT NULL',
    [epoch],
  );
  if (door === undefined) return {};
  const kinds = await rows<{ kind: BookKind; revision: number }>(
    context.db,
    'SELECT kind, revision FROM office_manifests WHERE epoch = $1',
    [epoch],
  );
  return {
    book: {
      epoch,
      sealedKey: new Uint8Array(door.book_key),
      revisions: Object.fromEntries(kinds.map(({ kind, revision }) => [kind, revision])),
    },
  };
}
