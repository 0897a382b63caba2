/**
 * Delivering one notice: leased, so that two processes never send it both; its Message-ID stays the same on every try.
 */
import { createHash } from 'node:crypto';
import { type Bytes } from '@under-lock/core/bytes';
import { wayFor } from '@under-lock/core/locks/file/rules';
import { noticeLink } from '@under-lock/core/locks/room/grant';
import { type WayKnown } from '@under-lock/core/handling/handling';
import { buildNotice } from '@under-lock/core/locks/carried/notice';
import { type Notice } from '@under-lock/core/notice/notice';
import { type Context } from '../context';
import { wholeBlob } from '../blob/blob';
import { currentFileRules } from '../office/file-rules';
import { currentLook } from '../office/look';
import { rows, run } from '../data/database';
import { readingRoom } from '../mail/office-mail';
import { nextTry } from '../mail/retry';
import { REPORTED_WITHIN_DAYS, returnPath } from '../mail/return-path';
import { record, readerShareContext } from '../access/grants';

const LEASE_MS = 50_000;
/** A carried page is as large as its files, and mail hosts are slow. */
const LARGE_LEASE_MS = 180_000;

interface Leased {
  id: string;
  grant_id: string;
  message_id: string;
  sealed_share: Buffer;
  attempts: number;
  message_id_header: string;
  created_at: Date;
  address: string;
  name: string;
  closes_at: Date;
  check_kind: Exclude<WayKnown, 'account'>;
  check_hint: string;
  asks_question: boolean;
  language: string;
  carried: boolean;
  content_blob_id: string | null;
  content_size: string;
  answer_there: boolean;
  sender_name: string;
  sender_address: string;
  from_reader: boolean;
  parent_name: string | null;
  parent_address: string | null;
}

const lease = async (context: Context, outboxId: string): Promise<Leased | undefined> =>
  (
    await rows<Leased>(
      context.db,
      `UPDATE outbox o SET leased_until = CASE WHEN g.carried THEN $4::timestamptz ELSE $2::timestamptz END, attempts = attempts + 1
       FROM grants g JOIN accounts a ON a.id = g.account_id JOIN messages m ON m.id = g.message_id LEFT JOIN grants s ON s.id = m.sender_grant_id
       WHERE o.id = $1 AND o.state = 'waiting' AND (o.leased_until IS NULL OR o.leased_until <= $3) AND g.id = o.grant_id AND g.state = 'held'
       RETURNING o.id, o.grant_id, o.sealed_share, o.attempts, o.message_id_header, o.created_at, g.message_id, g.address, g.name, g.closes_at, g.check_kind, g.check_hint, g.question IS NOT NULL AS asks_question, g.language, g.carried, m.content_blob_id, m.size AS content_size,
         NOT g.carried AND (m.handling->'rights'->>'reply')::boolean AS answer_there,
         -- Names that readers gave others say nothing here: whoever is passed something on is told by whom, and not what they are to be called.
         CASE WHEN s.id IS NULL THEN a.name WHEN s.parent_id IS NULL THEN s.name ELSE '' END AS sender_name, coalesce(s.address, m.sender_address, a.address) AS sender_address, s.id IS NOT NULL AS from_reader,
         (SELECT CASE WHEN p.parent_id IS NULL THEN p.name ELSE '' END FROM grants p WHERE p.id = g.parent_id) AS parent_name, (SELECT p.address FROM grants p WHERE p.id = g.parent_id) AS parent_address`,
      [
        outboxId,
        new Date(context.clock().getTime() + LEASE_MS),
        context.clock(),
        new Date(context.clock().getTime() + LARGE_LEASE_MS),
      ],
    )
  )[0];

/**
 * What a notice brings along as a file: the content as it is held, under the ending that the recipient's gateway lets
 * through.
 */
async function carriedBy(
  context: Context,
  { address, content_blob_id, content_size }: Leased,
): Promise<{ page: NonNullable<Notice['carried']>; sealed: Buffer }> {
  if (content_blob_id === null) throw new Error('The content of an access that is held has been deleted');
  const { extension } = wayFor(await currentFileRules(context), address, undefined);
  return {
    page: extension === undefined ? {} : { extension },
    sealed: await wholeBlob(context, content_blob_id, Number(content_size)),
  };
}

interface Made {
  raw: Bytes;
  lookId: string | null;
  /** The ending its carried page has, where that is another one. */
  extension: string | null;
}

/** The notice as it leaves. */
async function noticeOf(context: Context, row: Leased): Promise<Made> {
  const { office, roomOrigin } = context.config;
  const { id: lookId, look } = await currentLook(context);
  const share = await context.secrets.openBytes(row.sealed_share, readerShareContext(row.id));
  const carried = row.carried ? await carriedBy(context, row) : undefined;
  const raw = buildNotice(
    {
      messageId: row.message_id_header,
      date: row.created_at,
      officeName: office.name,
      sender: { name: row.sender_name, address: row.sender_address },
      ...(row.parent_address === null
        ? {}
        : { passedOnBy: { name: row.parent_name ?? '', address: row.parent_address } }),
      ...(row.from_reader || row.parent_address !== null ? { from: readingRoom(context) } : {}),
      recipient: { name: row.parent_address === null ? row.name : '', address: row.address },
      closesAt: row.closes_at,
      zone: office.calendar.zone,
      check: { kind: row.check_kind, hint: row.check_hint, question: row.asks_question },
      link: noticeLink(roomOrigin, row.grant_id, share.length === 0 ? undefined : share, row.carried),
      language: row.language,
      answerThere: row.answer_there,
      look,
      ...(carried === undefined ? {} : { carried: carried.page }),
    },
    carried?.sealed,
  );
  share.fill(0);
  return { raw, lookId, extension: carried?.page.extension ?? null };
}

async function tryLater(context: Context, row: Leased, answer: string): Promise<void> {
  await run(context.db, `UPDATE outbox SET leased_until = NULL WHERE id = $1 AND state = 'waiting'`, [row.id]);
  await run(context.db, `UPDATE grants SET notice_answer = $2 WHERE id = $1 AND notice_state = 'waiting'`, [
    row.grant_id,
    answer,
  ]);
}

async function settle(
  context: Context,
  row: Leased,
  { raw, lookId, extension }: Made,
  { state, answer }: { state: 'accepted' | 'junk' | 'refused'; answer: string },
): Promise<void> {
  const accepted = state !== 'refused';
  await context.db.transaction(async (transaction) => {
    // The access before its notice, as withdrawing locks them: the other way round the two could wait for one another.
    await run(context.db, 'SELECT 1 FROM grants WHERE id = $1 FOR UPDATE', [row.grant_id], transaction);
    const settled = await run(
      context.db,
      `UPDATE outbox SET state = $2, sealed_share = NULL, sha256 = $3, delivered_at = $4, look_id = $5, extension = $6, answer_there = $7, leased_until = NULL WHERE id = $1 AND state = 'waiting'`,
      [
        row.id,
        accepted ? 'delivered' : 'failed',
        accepted ? createHash('sha256').update(raw).digest() : null,
        accepted ? context.clock() : null,
        lookId,
        extension,
        row.answer_there,
      ],
      transaction,
    );
    if (settled === 0) return; // withdrawn while it was under way
    await run(
      context.db,
      'UPDATE grants SET notice_state = $2, notice_at = $3, notice_answer = $4 WHERE id = $1',
      [row.grant_id, state, context.clock(), answer],
      transaction,
    );
    await record(context, { messageId: row.message_id, grantId: row.grant_id, kind: `notice-${state}` }, transaction);
  });
}

/** Returns the seconds to wait before another try, or undefined when it is settled. */
export async function deliverNotice(context: Context, outboxId: string): Promise<number | undefined> {
  const [waiting] = await rows<{ created_at: Date }>(
    context.db,
    `SELECT created_at FROM outbox WHERE id = $1 AND state = 'waiting'`,
    [outboxId],
  );
  const early = waiting === undefined ? 0 : waiting.created_at.getTime() - context.clock().getTime();
  if (early > 0) return Math.ceil(early / 1000);
  const row = await lease(context, outboxId);
  if (row === undefined) return undefined;
  const made = await noticeOf(context, row);
  const result = await context.mail.send({ from: returnPath(context, outboxId), to: row.address }, made.raw);
  const wait = nextTry({ attempts: row.attempts, since: row.created_at }, context.clock());
  if (result.outcome === 'later' && wait !== undefined) {
    await tryLater(context, row, result.answer);
    return wait;
  }
  const state = result.outcome !== 'accepted' ? 'refused' : result.junk ? 'junk' : 'accepted';
  await settle(context, row, made, { state, answer: result.answer });
  context.log.info('notice', { outboxId, state });
  return undefined;
}

/** Reports about what left before are nobody's. */
export const reportedSince = (context: Context): Date =>
  new Date(context.clock().getTime() - REPORTED_WITHIN_DAYS * 86_400_000);

/**
 * A delivery report (RFC 3464) said that a notice did not arrive. Unknown numbers are ignored: anybody may write to
 * this door.
 */
export async function noticeBounced(context: Context, outboxId: string, answer: string): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const [row] = await rows<{ grant_id: string; message_id: string }>(
      context.db,
      `UPDATE grants g SET notice_state = 'bounced', notice_at = $2, notice_answer = $3 FROM outbox o
       WHERE o.id = $1 AND o.state = 'delivered' AND o.delivered_at > $4 AND g.id = o.grant_id AND g.notice_state <> 'bounced' RETURNING g.id AS grant_id, g.message_id`,
      [outboxId, context.clock(), answer.slice(0, 300), reportedSince(context)],
      transaction,
    );
    if (row !== undefined)
      await record(context, { messageId: row.message_id, grantId: row.grant_id, kind: 'notice-bounced' }, transaction);
  });
}
