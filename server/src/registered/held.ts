/**
 * A registered reader's list of all that is held for them, by cursor; every page is one walk along an index, however
 * long the list.
 */
import { randomBytes, createHash } from 'node:crypto';
import { type HeldItem, type HeldSort, UNREAD_SHOWN } from '@under-lock/contract/registered';
import { isIdentityCheck, passwordSuffices } from '@under-lock/core/handling/handling';
import { addressKey } from '@under-lock/core/people/address';
import { type Bytes } from '@under-lock/core/bytes';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { GrantRow, type ReaderRow, ReaderSessionRow } from '../data/models';
import { cursorAfter, readCursor } from '../data/cursor';
import { record } from '../access/grants';
import { listed, type ListedRow } from '../access/listed';
import { heldFor, requireOpen } from '../access/release';
import { notFound, Problem } from '../problem';
import { READER_SESSION_MS } from '../room/room';
import { recordCheckPassed } from './account';
import { type SignedInReader } from './sign-in';

const PAGE = 30;

interface HeldRow extends ListedRow {
  account_id: string;
  lost_at: Date | null;
  give_again_asked_at: Date | null;
}

const itemOf = (row: HeldRow, now: Date): HeldItem => ({
  senderId: row.account_id,
  ...listed(row, now),
  ...(row.lost_at === null
    ? {}
    : { lost: row.give_again_asked_at === null ? {} : { askedAt: row.give_again_asked_at } }),
});

/** Each order is an index forwards or backwards: the column it walks, which way, and what comes after a place in it. */
const ORDERS: Record<HeldSort, { column: 'arrived_at' | 'closes_at'; direction: 'ASC' | 'DESC' }> = {
  newest: { column: 'arrived_at', direction: 'DESC' },
  oldest: { column: 'arrived_at', direction: 'ASC' },
  closing: { column: 'closes_at', direction: 'ASC' },
};

export async function listHeld(
  context: Context,
  { id: readerId }: ReaderRow,
  {
    sort = 'newest',
    sender,
    after,
  }: { sort?: HeldSort | undefined; sender?: string | undefined; after?: string | undefined },
  pageSize = PAGE,
) {
  const { column, direction } = ORDERS[sort];
  const now = context.clock();
  const bind: unknown[] = [readerId, now, pageSize + 1];
  const bound = (value: unknown): string => `$${bind.push(value)}`;
  const bySender = sender === undefined ? '' : `AND g.account_id = ${bound(sender)}`;
  const cursor = after === undefined ? undefined : readCursor(after);
  const place =
    cursor === undefined
      ? ''
      : `AND (g.${column}, g.id) ${direction === 'ASC' ? '>' : '<'} (${bound(cursor[0])}::timestamptz, ${bound(cursor[1])}::uuid)`;
  // What closes first is what can still be read: the others come with the other orders.
  const alive = sort === 'closing' && cursor === undefined ? 'AND g.closes_at > $2' : '';
  const [found, unread, senders] = await Promise.all([
    rows<HeldRow>(
      context.db,
      `SELECT g.id, g.account_id, coalesce(nullif(s.name, ''), s.address, a.name) AS sender_name, coalesce(s.address, m.sender_address, a.address) AS sender_address, g.arrived_at, g.closes_at, g.ended_at, g.state, m.size, g.unread, m.reference,
         g.sealed_share, g.sealed_summary, g.lost_at, g.give_again_asked_at
       FROM (SELECT * FROM grants g WHERE g.reader_id = $1 AND g.removed_at IS NULL AND g.arrived_at <= $2 AND g.replaced_by IS NULL ${bySender} ${place} ${alive} ORDER BY g.${column} ${direction}, g.id ${direction} LIMIT $3) g
       JOIN messages m ON m.id = g.message_id JOIN accounts a ON a.id = m.account_id LEFT JOIN grants s ON s.id = m.sender_grant_id ORDER BY g.${column} ${direction}, g.id ${direction}`,
      bind,
    ),
    rows<{ count: number }>(
      context.db,
      `SELECT count(*)::int AS count FROM (SELECT 1 FROM grants WHERE reader_id = $1 AND removed_at IS NULL AND unread AND state = 'held' AND closes_at > $2 AND arrived_at <= $2 LIMIT ${UNREAD_SHOWN}) u`,
      [readerId, now],
    ),
    sendersTo(context, readerId),
  ]);
  const page = found.slice(0, pageSize);
  const last = page.at(-1);
  return {
    items: page.map((row) => itemOf(row, now)),
    unread: unread[0]!.count,
    senders,
    maxBytes: context.config.office.limits.maxBytes,
    ...(found.length > pageSize && last !== undefined ? { next: cursorAfter(last[column], last.id) } : {}),
  };
}

/** Everybody of the office who wrote to a reader: one step along the index a sender, not one a message. */
export async function sendersTo(
  context: Context,
  readerId: string,
): Promise<{ id: string; name: string; address: string; key?: { suite: number; publicKey: Bytes } }[]> {
  const found = await rows<{
    id: string;
    name: string;
    address: string;
    public_key: Buffer | null;
    key_suite: number | null;
  }>(
    context.db,
    `WITH RECURSIVE step AS (
       (SELECT account_id FROM grants WHERE reader_id = $1 AND removed_at IS NULL ORDER BY account_id LIMIT 1)
       UNION ALL SELECT (SELECT g.account_id FROM grants g WHERE g.reader_id = $1 AND g.removed_at IS NULL AND g.account_id > step.account_id ORDER BY g.account_id LIMIT 1) FROM step WHERE step.account_id IS NOT NULL)
     SELECT a.id, a.name, a.address, a.public_key, a.key_suite FROM step JOIN accounts a ON a.id = step.account_id ORDER BY a.name, a.id`,
    [readerId],
  );
  return found.map(({ id, name, address, public_key, key_suite }) => ({
    id,
    name,
    address,
    ...(public_key === null || key_suite === null
      ? {}
      : { key: { suite: key_suite, publicKey: new Uint8Array(public_key) } }),
  }));
}

async function ownGrant(context: Context, reader: ReaderRow, id: string): Promise<GrantRow> {
  const grant = await GrantRow.findOne({ where: { id, readerId: reader.id } });
  if (grant === null || (grant.arrivedAt != null && grant.arrivedAt > context.clock())) throw notFound('This message');
  return grant;
}

/**
 * The sign-in as an identity check. Returns the token of a reader's session when it is enough. @throws Problem
 * `not-found`, `grant-closed`, `grant-withdrawn`
 */
export async function enterHeld(
  context: Context,
  { reader, tokenHash }: SignedInReader,
  id: string,
): Promise<{ sealedShare: Bytes; token?: string }> {
  const grant = await ownGrant(context, reader, id);
  requireOpen(grant.state, grant.closesAt, context.clock());
  if (grant.sealedShare === null) throw notFound('Its key');
  const sealedShare = new Uint8Array(grant.sealedShare);
  const enough =
    grant.readerKind === 'registered' ||
    (isIdentityCheck(grant.checkKind) &&
      passwordSuffices(reader.knownBy ?? undefined, { check: grant.checkKind, question: grant.question !== null }));
  if (!enough) return { sealedShare };
  const token = randomBytes(32).toString('base64url');
  await ReaderSessionRow.create({
    tokenHash: createHash('sha256').update(token).digest(),
    grantId: id,
    expiresAt: new Date(context.clock().getTime() + READER_SESSION_MS),
    signInHash: tokenHash,
  });
  return { sealedShare, token };
}

/**
 * Puts an access whose check has been passed into the list. @throws Problem `not-allowed` when it is somebody else's
 */
export async function keepGrant(
  context: Context,
  { reader }: SignedInReader,
  id: string,
  sealed: { sealedShare: Uint8Array; sealedSummary: Uint8Array },
): Promise<void> {
  await heldFor(context, { kind: 'room' }, id);
  const grant = (await GrantRow.findByPk(id))!;
  if (addressKey(grant.address) !== reader.addressKey)
    throw new Problem('not-allowed', 403, 'This message is for another address');
  if (!isIdentityCheck(grant.checkKind)) return;
  await grant.update({
    readerId: reader.id,
    removedAt: null,
    unread: false,
    sealedShare: Buffer.from(sealed.sealedShare),
    sealedSummary: Buffer.from(sealed.sealedSummary),
  });
  await recordCheckPassed(reader, grant);
}

export const markHeld = async (context: Context, reader: ReaderRow, id: string, unread: boolean): Promise<void> =>
  void (await (await ownGrant(context, reader, id)).update({ unread }));
export const removeHeld = async (context: Context, reader: ReaderRow, id: string): Promise<void> =>
  void (await (await ownGrant(context, reader, id)).update({ removedAt: context.clock() }));

/** Asks the senders to give again what was sealed to a forgotten password; each is told once. */
export async function askToGiveAgain(context: Context, reader: ReaderRow, ids: string[]): Promise<number> {
  return context.db.transaction(async (transaction) => {
    const asked = await rows<{ id: string; message_id: string }>(
      context.db,
      `UPDATE grants SET give_again_asked_at = $3 WHERE reader_id = $1 AND id = ANY($2) AND lost_at IS NOT NULL AND state = 'held' AND closes_at > $3 AND give_again_asked_at IS NULL RETURNING id, message_id`,
      [reader.id, ids, context.clock()],
      transaction,
    );
    for (const { id, message_id } of asked)
      await record(context, { messageId: message_id, grantId: id, kind: 'give-again-asked' }, transaction);
    return asked.length;
  });
}

/** Ends what is over by itself. */
export async function tidyRegistered(context: Context): Promise<void> {
  const before = (days: number): Date => new Date(context.clock().getTime() - days * 86_400_000);
  await run(context.db, 'DELETE FROM reader_sign_ins WHERE last_seen_at < $1', [before(1)]);
  await run(context.db, 'DELETE FROM mailbox_codes WHERE asked_at < $1', [before(30)]);
}
