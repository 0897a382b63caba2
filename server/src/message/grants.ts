/** Grant rows as the sender sees them, and the sealing contexts of what a grant keeps at rest. */
import { type Grant } from '@under-lock/contract/message';
import { type EventKind } from '@under-lock/contract/message';
import { randomUUID } from 'node:crypto';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type EventData, EventRow, type GrantRow } from '../data/models';

export const houseShareContext = (grantId: string): string => `grant/${grantId}/house-share`;
export const channelContext = (grantId: string): string => `grant/${grantId}/channel`;
export const readerShareContext = (outboxId: string): string => `outbox/${outboxId}/reader-share`;

export function grantOf(row: GrantRow, now: Date): Grant {
  const paused = row.passcodePausedUntil !== null && row.passcodePausedUntil > now ? row.passcodePausedUntil : undefined;
  // Due and not yet swept is over all the same.
  const overdue = row.state === 'held' && row.closesAt <= now;
  const endedAt = overdue ? row.closesAt : (row.endedAt ?? undefined);
  return {
    id: row.id,
    address: row.address,
    name: row.name,
    role: row.role,
    state: overdue ? 'closed' : row.state,
    closesAt: row.closesAt,
    ...(endedAt === undefined ? {} : { endedAt }),
    check: { kind: row.checkKind, hint: row.checkHint },
    notice: { state: row.noticeState, ...(row.noticeAt === null ? {} : { at: row.noticeAt }), ...(row.noticeAnswer === null ? {} : { answer: row.noticeAnswer }) },
    opened: { count: row.openCount, ...(row.firstOpenedAt === null ? {} : { first: row.firstOpenedAt }), ...(row.lastOpenedAt === null ? {} : { last: row.lastOpenedAt }) },
    wrongTries: row.wrongTries,
    ...(paused === undefined ? {} : { pausedUntil: paused }),
  };
}

export async function record(
  context: Context,
  event: { messageId: string; grantId?: string; kind: EventKind; data?: EventData },
  transaction?: Transaction,
): Promise<void> {
  await EventRow.create(
    { id: randomUUID(), messageId: event.messageId, grantId: event.grantId ?? null, at: context.clock(), kind: event.kind, data: event.data ?? {} },
    transaction === undefined ? {} : { transaction },
  );
}

/**
 * Ends accesses for good: share, wrapped key, channel, passcode, sessions and undelivered notices go in the transaction that records it.
 * Returns those that really were held.
 */
export async function endGrants(
  context: Context,
  grants: { id: string }[],
  end: { state: 'closed' | 'withdrawn'; at: Date },
  transaction: Transaction,
): Promise<{ id: string; messageId: string; hadOpened: boolean }[]> {
  const ids = grants.map(({ id }) => id);
  const ended = await rows<{ id: string; message_id: string; had_opened: boolean }>(
    context.db,
    `UPDATE grants SET state = $2, ended_at = $3, house_share = NULL, wrapped_key = NULL, channel = NULL, passcode_hash = NULL, passcode_sent_at = NULL
     WHERE id = ANY($1) AND state = 'held' RETURNING id, message_id, open_count > 0 AS had_opened`,
    [ids, end.state, end.at],
    transaction,
  );
  const endedIds = ended.map(({ id }) => id);
  await run(context.db, 'DELETE FROM reader_sessions WHERE grant_id = ANY($1)', [endedIds], transaction);
  await run(context.db, `UPDATE outbox SET state = 'cancelled', sealed_share = NULL WHERE grant_id = ANY($1) AND state = 'waiting'`, [endedIds], transaction);
  for (const { id, message_id, had_opened } of ended) {
    await record(context, { messageId: message_id, grantId: id, kind: end.state, data: { hadOpened: had_opened } }, transaction);
  }
  return ended.map((row) => ({ id: row.id, messageId: row.message_id, hadOpened: row.had_opened }));
}

/** Closes what is past its date, in small lots that several processes can share. */
export async function closeDue(context: Context): Promise<void> {
  for (;;) {
    const count = await context.db.transaction(async (transaction) => {
      const due = await rows<{ id: string }>(
        context.db,
        `SELECT id FROM grants WHERE state = 'held' AND closes_at <= $1 ORDER BY closes_at LIMIT 100 FOR UPDATE SKIP LOCKED`,
        [context.clock()],
        transaction,
      );
      if (due.length > 0) await endGrants(context, due, { state: 'closed', at: context.clock() }, transaction);
      return due.length;
    });
    if (count < 100) return;
  }
}

/** Purges the content of messages whose last access ended longer ago than the office keeps it, unsent uploads a month old, and what has expired. */
export async function purge(context: Context): Promise<void> {
  const now = context.clock();
  const before = new Date(now.getTime() - context.config.office.purgeAfterDays * 86_400_000);
  await context.db.transaction(async (transaction) => {
    const due = await rows<{ id: string; content_blob_id: string }>(
      context.db,
      `SELECT id, content_blob_id FROM messages m WHERE content_blob_id IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM grants g WHERE g.message_id = m.id AND (g.state = 'held' OR g.ended_at > $1)) LIMIT 500 FOR UPDATE SKIP LOCKED`,
      [before],
      transaction,
    );
    for (const { id, content_blob_id } of due) {
      await run(context.db, 'DELETE FROM blobs WHERE id = $1', [content_blob_id], transaction);
      await record(context, { messageId: id, kind: 'purged' }, transaction);
    }
  });
  await run(context.db, 'DELETE FROM reader_sessions WHERE expires_at < $1', [now]);
  await run(context.db, 'DELETE FROM throttles WHERE blocked_until < $1', [new Date(now.getTime() - 86_400_000)]);
}
