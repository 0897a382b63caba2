/**
 * Who holds the office's secret, and how it is renewed. The server has it only sealed to members, and gives nobody who
 * is out, or whose account has ended, anything of the book (docs/decisions/26).
 */
import { type beginOfficeBook, type getOfficeBook, type letIn } from '@under-lock/contract/office-book';
import { type Reply } from '@under-lock/contract/client';
import { type Bytes } from '@under-lock/core/bytes';
import { defined } from '@under-lock/core/defined';
import { type BookKind } from '@under-lock/core/vault/item';
import { type Transaction } from 'sequelize';
import { type z } from 'zod';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { byAccount, logged } from '../log/log';
import { notFound, Problem } from '../problem';

/** Its number; one that is being made is none yet. */
const CURRENT = '(SELECT max(epoch) FROM office_keys WHERE finished_at IS NOT NULL)';
/** A member's account that is in use, and not let out. */
const STAYS = 'a.ended_at IS NULL AND a.out_of_book_at IS NULL';

/** Held as it is until the transaction ends, where one is given; undefined before there is a book. */
export async function currentKey(
  { db }: Context,
  transaction?: Transaction,
): Promise<{ epoch: number; suite: number; publicKey: Bytes } | undefined> {
  const [key] = await rows<{ epoch: number; suite: number; public_key: Buffer }>(
    db,
    `SELECT epoch, suite, public_key FROM office_keys WHERE epoch = ${CURRENT}${transaction === undefined ? '' : ' FOR SHARE'}`,
    [],
    transaction,
  );
  return key === undefined
    ? undefined
    : { epoch: key.epoch, suite: key.suite, publicKey: new Uint8Array(key.public_key) };
}

/** The epoch that they are a member of. @throws Problem `not-member` */
export async function requireMember(context: Context, accountId: string, transaction?: Transaction): Promise<number> {
  const [found] = await rows<{ epoch: number }>(
    context.db,
    `SELECT m.epoch FROM office_members m JOIN accounts a ON a.id = m.account_id
      WHERE m.account_id = $1 AND m.epoch = ${CURRENT} AND ${STAYS}`,
    [accountId],
    transaction,
  );
  if (found === undefined)
    throw new Problem('not-member', 403, 'Not in the office book yet', {
      detail: 'A colleague who is in has to let you in first: People › Office.',
    });
  return found.epoch;
}

/** Held until the transaction ends, so that nothing is sealed under a key that is being replaced. @throws Problem `not-member`, `key-renewed` */
export async function requireEpoch(
  context: Context,
  accountId: string,
  epoch: number,
  transaction: Transaction,
  lock: 'SHARE' | 'UPDATE' = 'SHARE',
): Promise<void> {
  await rows(context.db, `SELECT epoch FROM office_keys WHERE epoch = ${CURRENT} FOR ${lock}`, [], transaction);
  if ((await requireMember(context, accountId, transaction)) !== epoch)
    throw new Problem('key-renewed', 409, 'The office book has a new key');
}

/** `door` is asked for members only. */
export async function officeBook(
  context: Context,
  accountId: string,
  door: (epoch: number) => Promise<Reply<typeof getOfficeBook>['door']> = async () => undefined,
): Promise<Reply<typeof getOfficeBook>> {
  const { db } = context;
  const key = await currentKey(context);
  const out = await rows<{ id: string }>(
    db,
    'SELECT id FROM accounts WHERE out_of_book_at IS NOT NULL AND ended_at IS NULL ORDER BY id',
    [],
  );
  const directory = context.config.ldap !== undefined;
  if (key === undefined) return { members: [], out: out.map(({ id }) => id), renew: false, directory };
  const all = await rows<{ id: string; at: Date; by: string | null; stays: boolean; sealed_key: Buffer }>(
    db,
    `SELECT m.account_id AS id, m.let_in_at AS at, b.name AS by, ${STAYS} AS stays,
            CASE WHEN m.account_id = $2 THEN m.sealed_key END AS sealed_key
      FROM office_members m JOIN accounts a ON a.id = m.account_id LEFT JOIN accounts b ON b.id = m.let_in_by
      WHERE m.epoch = $1 ORDER BY m.let_in_at, m.account_id`,
    [key.epoch, accountId],
  );
  const own = all.find(({ id, stays }) => id === accountId && stays);
  const kinds = await rows<{ kind: BookKind; revision: number }>(
    db,
    'SELECT kind, revision FROM office_manifests WHERE epoch = $1',
    [key.epoch],
  );
  return {
    key,
    ...(own === undefined
      ? {}
      : {
          sealedKey: new Uint8Array(own.sealed_key),
          ...defined({ door: await door(key.epoch) }),
          revisions: Object.fromEntries(kinds.map(({ kind, revision }) => [kind, revision])),
        }),
    members: all
      .filter(({ stays }) => stays)
      .map(({ id, at, by }) => ({ id, letInAt: at, ...(by === null ? {} : { letInBy: by }) })),
    out: out.map(({ id }) => id),
    renew: all.some(({ stays }) => !stays),
    directory,
  };
}

/** @returns Whether it was put there: nothing is replaced. */
export async function insertKey(
  { db, clock }: Context,
  epoch: number,
  key: { suite: number; publicKey: Uint8Array; renewal?: string },
  by: string,
  transaction: Transaction,
): Promise<boolean> {
  const put = await rows(
    db,
    'INSERT INTO office_keys (epoch, suite, public_key, made_at, made_by, renewal) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING RETURNING epoch',
    [epoch, key.suite, Buffer.from(key.publicKey), clock(), by, key.renewal ?? null],
    transaction,
  );
  return put.length > 0;
}

/** @returns Whether it was put there: who is in stays as they are. */
export async function insertMember(
  { db, clock }: Context,
  { epoch, id, sealedKey, by }: { epoch: number; id: string; sealedKey: Uint8Array; by: string | null },
  transaction: Transaction,
): Promise<boolean> {
  const put = await rows(
    db,
    `INSERT INTO office_members (epoch, account_id, sealed_key, let_in_at, let_in_by) VALUES ($1, $2, $3, $4, $5) ON CONFLICT DO NOTHING RETURNING epoch`,
    [epoch, id, Buffer.from(sealedKey), clock(), by],
    transaction,
  );
  return put.length > 0;
}

export const finish = ({ db, clock }: Context, epoch: number, transaction: Transaction): Promise<number> =>
  run(db, 'UPDATE office_keys SET finished_at = $2 WHERE epoch = $1', [epoch, clock()], transaction);

/** @throws Problem `conflict` when there is a book already */
export const beginBook = (
  context: Context,
  by: AccountRow,
  { sealedKey, ...key }: z.output<typeof beginOfficeBook.body>,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    const begun = await rows(context.db, 'SELECT epoch FROM office_keys LIMIT 1', [], transaction);
    if (begun.length > 0 || !(await insertKey(context, 1, key, by.id, transaction)))
      throw new Problem('conflict', 409, 'The office book has been begun already', {
        detail: 'Somebody was first. A colleague who is in lets you in: People › Office.',
      });
    await insertMember(context, { epoch: 1, id: by.id, sealedKey, by: null }, transaction);
    await finish(context, 1, transaction);
    await logged(context, { kind: 'office-book-begun', actor: byAccount(by.id) }, transaction);
  });

/** @throws Problem `not-member`, `key-renewed`, `not-found` */
export const letMemberIn = (
  context: Context,
  by: AccountRow,
  id: string,
  { epoch, sealedKey }: z.output<typeof letIn.body>,
): Promise<void> =>
  context.db.transaction(async (transaction) => {
    await requireEpoch(context, by.id, epoch, transaction);
    const [able] = await rows<{ id: string }>(
      context.db,
      `SELECT a.id FROM accounts a WHERE a.id = $1 AND a.public_key IS NOT NULL AND ${STAYS} FOR SHARE`,
      [id],
      transaction,
    );
    if (able === undefined) throw notFound('A colleague who can be let in');
    // Two may let in the same one at once: they seal the same secret.
    if (await insertMember(context, { epoch, id, sealedKey, by: by.id }, transaction))
      await logged(
        context,
        { kind: 'office-member-let-in', actor: byAccount(by.id), about: { account: id } },
        transaction,
      );
  });

/** @throws Problem `not-found`, `conflict` for the last one who could let others in */
export const letMemberOut = (context: Context, by: AccountRow, id: string): Promise<void> =>
  context.db.transaction(async (transaction) => {
    const { db, clock } = context;
    await rows(db, `SELECT epoch FROM office_keys WHERE epoch = ${CURRENT} FOR UPDATE`, [], transaction);
    const members = await rows<{ id: string }>(
      db,
      `SELECT m.account_id AS id FROM office_members m JOIN accounts a ON a.id = m.account_id WHERE m.epoch = ${CURRENT} AND ${STAYS}`,
      [],
      transaction,
    );
    if (members.length === 1 && members[0]!.id === id)
      throw new Problem('conflict', 409, 'The last one in the office book', {
        detail: 'Nobody could read it any more. Let a colleague in first.',
      });
    const changed = await run(
      db,
      'UPDATE accounts SET out_of_book_at = $2 WHERE id = $1 AND out_of_book_at IS NULL',
      [id, clock()],
      transaction,
    );
    if (changed === 0) throw notFound('This account');
    await logged(
      context,
      { kind: 'office-member-let-out', actor: byAccount(by.id), about: { account: id } },
      transaction,
    );
  });

/** A member again at once where the key has not been renewed since; else to be let in. @throws Problem `not-found` */
export async function readmit({ db }: Context, id: string): Promise<void> {
  const changed = await run(
    db,
    'UPDATE accounts SET out_of_book_at = NULL WHERE id = $1 AND out_of_book_at IS NOT NULL',
    [id],
  );
  if (changed === 0) throw notFound('A colleague who is out');
}

/** The members of an epoch who are still in. */
export const staying = async ({ db }: Context, epoch: number, transaction: Transaction): Promise<string[]> =>
  (
    await rows<{ id: string }>(
      db,
      `SELECT m.account_id AS id FROM office_members m JOIN accounts a ON a.id = m.account_id WHERE m.epoch = $1 AND ${STAYS}`,
      [epoch],
      transaction,
    )
  ).map(({ id }) => id);
