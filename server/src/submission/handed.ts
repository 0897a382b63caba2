/**
 * Mail that mail programs handed in, sealed to its writer and, until it is dealt with, to the door. `taken`: the door is
 * at it. `waits`: its writer is told what is missing. `done`: it has become a message, and can come back while that can.
 */
import {
  type Handed,
  type handIn as handingIn,
  type letWait as lettingWait,
  MOST_HANDED,
} from '@under-lock/contract/submission';
import { officePaths } from '@under-lock/contract/office-paths';
import { buildHandedWaits } from '@under-lock/core/notice/notice';
import { type Transaction } from 'sequelize';
import { type z } from 'zod';
import { completeAndFrozen, ownBlob } from '../blob/blob';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { notFound, Problem } from '../problem';
import { type OwnDevice } from './devices';

/** The same octets within this time are the same mail: programs try again when they did not hear our yes. */
const KEPT_MS = 2 * 86_400_000;
const PURPOSE = 'handed-in';

/** @throws Problem `storage-full`, `upload-incomplete` */
export async function handIn(
  context: Context,
  { account, device }: { account: AccountRow; device: OwnDevice },
  id: string,
  { blobId, sha256, size, account: accountLabel, door }: z.output<typeof handingIn.body>,
): Promise<{ already: boolean }> {
  const text = Buffer.from(sha256).toString('hex');
  const [before] = await rows<{ id: string }>(
    context.db,
    'SELECT id FROM handed_in WHERE account_id = $1 AND digest = ANY($2)',
    [account.id, context.secrets.keyedHashes(PURPOSE, text)],
  );
  // Under its own number it was laid down by the same asking, whose answer was lost.
  if (before !== undefined) return { already: before.id !== id };
  await completeAndFrozen(context, await ownBlob(account.id, blobId));
  const [lying] = await rows<{ count: number }>(
    context.db,
    `SELECT count(*)::int AS count FROM handed_in WHERE account_id = $1 AND state <> 'done'`,
    [account.id],
  );
  if (lying!.count >= MOST_HANDED) throw new Problem('storage-full', 507, 'Too much mail is waiting for you here');
  const put = await rows(
    context.db,
    `INSERT INTO handed_in (id, account_id, device_id, device_name, handed_at, digest, blob_id, size, account_label, door_label)
      VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT DO NOTHING RETURNING id`,
    [
      id,
      account.id,
      device.id,
      device.name,
      context.clock(),
      context.secrets.keyedHash(PURPOSE, text),
      blobId,
      size,
      Buffer.from(accountLabel),
      Buffer.from(door),
    ],
  );
  return { already: put.length === 0 };
}

export const listUnfinished = async ({ db }: Context) =>
  (
    await rows<{ id: string; device_id: string; blob_id: string; door_label: Buffer }>(
      db,
      `SELECT id, device_id, blob_id, door_label FROM handed_in
        WHERE state = 'taken' AND door_label IS NOT NULL AND device_id IS NOT NULL ORDER BY handed_at LIMIT 200`,
      [],
    )
  ).map(({ id, device_id: deviceId, blob_id: blobId, door_label: label }) => ({
    id,
    deviceId,
    blobId,
    label: new Uint8Array(label),
  }));

/** Tells its writer, once. @throws Problem `not-found` */
export async function letWait(
  context: Context,
  account: AccountRow,
  id: string,
  { why, sentence }: z.output<typeof lettingWait.body>,
): Promise<void> {
  const waits = await run(
    context.db,
    `UPDATE handed_in SET state = 'waits', sealed_why = $3, door_label = NULL WHERE id = $1 AND account_id = $2 AND state = 'taken'`,
    [id, account.id, Buffer.from(why)],
  );
  if (waits === 0) {
    const [there] = await rows(context.db, 'SELECT 1 FROM handed_in WHERE id = $1 AND account_id = $2', [
      id,
      account.id,
    ]);
    if (there === undefined) throw notFound('This mail');
    return;
  }
  const { origin } = context.config;
  const raw = buildHandedWaits({
    ...officeMail(context, account),
    sentence,
    link: `${origin}${officePaths.handed(id)}`,
  });
  // It stands among the drafts in any case.
  const { outcome } = await sendUnfollowed(context, account.address, raw);
  if (outcome !== 'accepted') context.log.info('waits-not-told', { id, outcome });
}

/** In the transaction that makes it a message. */
export const settleHanded = ({ db }: Context, id: string, transaction: Transaction): Promise<number> =>
  run(
    db,
    `UPDATE handed_in SET state = 'done', sealed_why = NULL, door_label = NULL WHERE id = $1 AND state <> 'done'`,
    [id],
    transaction,
  );

/** A message taken back before it left is a mail that waits again. */
export const waitsAgain = ({ db }: Context, id: string, transaction: Transaction): Promise<number> =>
  run(db, `UPDATE handed_in SET state = 'waits' WHERE id = $1 AND state = 'done'`, [id], transaction);

interface HandedRow {
  id: string;
  handed_at: Date;
  device_name: string;
  size: string;
  blob_id: string;
  account_label: Buffer;
  sealed_why: Buffer | null;
}

/** A mail that the door is still at is shown once it has taken longer than it should. */
const DOOR_MAY_TAKE_MS = 10 * 60_000;

export const listHanded = async ({ db, clock }: Context, accountId: string): Promise<Handed[]> =>
  (
    await rows<HandedRow>(
      db,
      `SELECT id, handed_at, device_name, size, blob_id, account_label, sealed_why FROM handed_in
        WHERE account_id = $1 AND (state = 'waits' OR (state = 'taken' AND handed_at < $2)) ORDER BY handed_at DESC LIMIT ${MOST_HANDED}`,
      [accountId, new Date(clock().getTime() - DOOR_MAY_TAKE_MS)],
    )
  ).map((row) => ({
    id: row.id,
    at: row.handed_at,
    by: row.device_name,
    size: Number(row.size),
    blobId: row.blob_id,
    label: new Uint8Array(row.account_label),
    ...(row.sealed_why === null ? {} : { why: new Uint8Array(row.sealed_why) }),
  }));

/** A draft was made of it, or it is not wanted. @throws Problem `not-found` */
export async function dropHanded({ db }: Context, accountId: string, id: string): Promise<void> {
  const [gone] = await rows<{ blob_id: string }>(
    db,
    `DELETE FROM blobs WHERE id IN (SELECT blob_id FROM handed_in WHERE id = $1 AND account_id = $2 AND state <> 'done') RETURNING id AS blob_id`,
    [id, accountId],
  );
  if (gone === undefined) throw notFound('This mail');
}

/** What has become a message and can't come back any more. */
export const tidyHanded = ({ db, clock }: Context): Promise<number> =>
  run(
    db,
    `DELETE FROM blobs WHERE id IN (
       SELECT h.blob_id FROM handed_in h WHERE h.state = 'done' AND h.handed_at < $1
         AND NOT EXISTS (SELECT FROM messages m WHERE m.id = h.id AND m.sent_at > $2))`,
    [new Date(clock().getTime() - KEPT_MS), clock()],
  );
