/** Grant rows as the sender sees them, and the sealing contexts of what a grant keeps at rest. */
import { defined } from '@under-lock/core/defined';
import { type Grant } from '@under-lock/contract/outgoing';
import { type EventKind } from '@under-lock/contract/outgoing';
import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, columnsOf, named, rows, run } from '../data/database';
import { type EventData, EventRow, GrantRow } from '../data/models';
import { carryOver, putDown } from './journal';
import { addressKey } from '@under-lock/core/people/address';
import { isStopped } from '@under-lock/core/identity/passcode';

export const houseShareContext = (grantId: string): string => `grant/${grantId}/house-share`;
export const channelContext = (grantId: string): string => `grant/${grantId}/channel`;
export const readerShareContext = (outboxId: string): string => `outbox/${outboxId}/reader-share`;

export const answerContext = (grantId: string): string => `grant/${grantId}/answer`;

const answerText = (grantId: string, proof: Uint8Array): string =>
  `${grantId}|${Buffer.from(proof).toString('base64url')}`;
const proofDigest = (of: 'answer' | 'told', grantId: string, proof: Uint8Array): Buffer =>
  createHash('sha256')
    .update(`${of}|${answerText(grantId, proof)}`)
    .digest();
const answerDigest = (grantId: string, proof: Uint8Array): Buffer => proofDigest('answer', grantId, proof);

/**
 * What is kept of the answer to a shared question: a hash of its proof, sealed, so that it can be brought under another
 * secret.
 */
export const keptAnswer = (context: Context, grantId: string, proof: Uint8Array): Promise<Buffer> =>
  context.secrets.sealBytes(answerDigest(grantId, proof), answerContext(grantId));

export const toldContext = (grantId: string): string => `under-lock/grant/told/${grantId}`;
const toldDigest = (grantId: string, proof: Uint8Array): Buffer => proofDigest('told', grantId, proof);
/** What is kept of a one-time password until it was used. */
export const keptTold = (context: Context, grantId: string, proof: Uint8Array): Promise<Buffer> =>
  context.secrets.sealBytes(toldDigest(grantId, proof), toldContext(grantId));
export const toldMatches = async (
  context: Context,
  grantId: string,
  kept: Buffer,
  proof: Uint8Array,
): Promise<boolean> =>
  timingSafeEqual(await context.secrets.openBytes(kept, toldContext(grantId)), toldDigest(grantId, proof));

/** Of the time before it was sealed: 32 octets, a keyed hash. */
const KEYED_BYTES = 32;
export async function answerMatches(
  context: Context,
  grantId: string,
  kept: Buffer,
  proof: Uint8Array,
): Promise<boolean> {
  if (kept.length === KEYED_BYTES) return context.secrets.matches(kept, 'answer', answerText(grantId, proof));
  return timingSafeEqual(await context.secrets.openBytes(kept, answerContext(grantId)), answerDigest(grantId, proof));
}

/** What somebody has seen of a message, over all accesses they had to it. */
export interface Seen {
  count: number;
  first: Date | null;
  last: Date | null;
  /** When they first said so. */
  confirmed: Date | null;
}

/** All that is asked of an access to know what its reader has seen. */
type Openings = Pick<
  GrantRow,
  'messageId' | 'address' | 'openCount' | 'firstOpenedAt' | 'lastOpenedAt' | 'confirmedAt'
>;

const personIn = ({ messageId, address }: Openings): string => `${messageId} ${addressKey(address)}`;
const earlier = (a: Date | null, b: Date | null): Date | null => (a === null || (b !== null && b < a) ? b : a);
const later = (a: Date | null, b: Date | null): Date | null => (a === null || (b !== null && b > a) ? b : a);

const seenBy = ({ openCount, firstOpenedAt, lastOpenedAt, confirmedAt }: Openings): Seen => ({
  count: openCount,
  first: firstOpenedAt,
  last: lastOpenedAt,
  confirmed: confirmedAt ?? null,
});
const together = (a: Seen, b: Seen): Seen => ({
  count: a.count + b.count,
  first: earlier(a.first, b.first),
  last: later(a.last, b.last),
  confirmed: earlier(a.confirmed, b.confirmed),
});

/** By person; `all` are all accesses to the messages in question, those given again included. */
export function seenIn(all: readonly Openings[]): (row: Openings) => Seen {
  const seen = new Map<string, Seen>();
  for (const row of all) {
    const [person, here] = [personIn(row), seenBy(row)];
    const before = seen.get(person);
    seen.set(person, before === undefined ? here : together(before, here));
  }
  return (row) => seen.get(personIn(row)) ?? seenBy(row);
}

/** What a sender is shown of an access. No key's share is among it, sealed or not. */
const SHOWN = [
  'id',
  'messageId',
  'position',
  'address',
  'name',
  'role',
  'state',
  'closesAt',
  'endedAt',
  'replacedBy',
  'carried',
  'checkKind',
  'checkHint',
  'noticeState',
  'noticeAt',
  'noticeAnswer',
  'openCount',
  'firstOpenedAt',
  'lastOpenedAt',
  'confirmedAt',
  'wrongTries',
  'passcodePausedUntil',
  'passcodeSpent',
  'language',
  'parentId',
  'otherWayAt',
  'otherWay',
  'lostAt',
  'giveAgainAskedAt',
] as const;
export type ShownGrant = Pick<GrantRow, (typeof SHOWN)[number]> & { asksQuestion: boolean; isToldUsed: boolean };

const OF_MESSAGES = named(
  'grants-of-messages',
  () => `SELECT ${columnsOf(GrantRow, 'g', SHOWN)}, g.question IS NOT NULL AS "asksQuestion", g.told_hash IS NULL AS "isToldUsed"
    FROM grants g WHERE g.message_id = ANY($1) ORDER BY g.message_id, g.position`,
);

/** All accesses there are or were to these messages, those given again included; each message's in their order. */
export const grantsOf = ({ db }: Context, messageIds: readonly string[]): Promise<ShownGrant[]> =>
  askedOften<ShownGrant>(db, OF_MESSAGES(), [messageIds]);

/** `parents` holds the rows that accesses were passed on from, where they are known. */
export function grantOf(
  row: ShownGrant,
  now: Date,
  { count, first, last, confirmed }: Seen,
  parents: ReadonlyMap<string, Pick<GrantRow, 'name' | 'address'>> = new Map(),
): Grant {
  const parent = row.parentId == null ? undefined : parents.get(row.parentId);
  const paused =
    row.passcodePausedUntil !== null && row.passcodePausedUntil > now ? row.passcodePausedUntil : undefined;
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
    ...defined({ endedAt }),
    check: {
      kind: row.checkKind,
      hint: row.checkHint,
      question: row.asksQuestion,
      ...(row.checkKind === 'told' && row.state === 'held' ? { used: row.isToldUsed } : {}),
    },
    notice: {
      state: row.noticeState,
      ...(row.noticeAt === null ? {} : { at: row.noticeAt }),
      ...(row.noticeAnswer === null ? {} : { answer: row.noticeAnswer }),
    },
    opened: { count, here: row.openCount, ...(first === null ? {} : { first }), ...(last === null ? {} : { last }) },
    ...(confirmed === null ? {} : { confirmedAt: confirmed }),
    ...(row.parentId == null || parent === undefined
      ? {}
      : { passedOn: { parentId: row.parentId, name: parent.name, address: parent.address } }),
    carried: row.carried,
    language: row.language,
    wrongTries: row.wrongTries,
    ...defined({ pausedUntil: paused }),
    stopped: row.state === 'held' && isStopped({ spent: row.passcodeSpent }),
    ...(row.lostAt == null || row.state !== 'held'
      ? {}
      : { lost: row.giveAgainAskedAt == null ? {} : { askedAt: row.giveAgainAskedAt } }),
    ...(row.otherWayAt === null || row.otherWay === null
      ? {}
      : { otherWay: { at: row.otherWayAt, wish: row.otherWay } }),
  };
}

/** What a reader can bring about as often as they like: told with its number, and in few lines. */
const REPEATED: ReadonlySet<EventKind> = new Set([
  'saved',
  'printed',
  'passcode-sent',
  'passcode-failed',
  'passcode-wrong',
  'answer-wrong',
  'opened',
  'replied',
  'other-way-asked',
]);
/** The same again within this time is the same line; and of one access there are no more lines of a kind than these. */
const SAME_LINE_MS = 10 * 60_000;
const MOST_LINES = 20;

/** Adds to the latest line of its kind. False when there is none to add to. */
async function coalesced(
  { db, clock }: Context,
  { grantId, kind }: { grantId: string; kind: EventKind },
  transaction?: Transaction,
): Promise<boolean> {
  const changed = await run(
    db,
    `UPDATE events SET at = $3, data = data || jsonb_build_object('times', coalesce((data->>'times')::int, 1) + 1, 'from', coalesce(data->>'from', to_char(at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')))
     WHERE id = (SELECT id FROM events WHERE grant_id = $1 AND kind = $2 ORDER BY at DESC LIMIT 1)
       AND (at > $4 OR (SELECT count(*) FROM events WHERE grant_id = $1 AND kind = $2) >= ${MOST_LINES})`,
    [grantId, kind, clock(), new Date(clock().getTime() - SAME_LINE_MS)],
    transaction,
  );
  return changed > 0;
}

export async function record(
  context: Context,
  event: { messageId: string; grantId?: string; kind: EventKind; data?: EventData },
  transaction?: Transaction,
): Promise<void> {
  const { grantId, kind } = event;
  if (grantId !== undefined && REPEATED.has(kind) && (await coalesced(context, { grantId, kind }, transaction))) return;
  await EventRow.create(
    {
      id: randomUUID(),
      messageId: event.messageId,
      grantId: event.grantId ?? null,
      at: context.clock(),
      kind: event.kind,
      data: event.data ?? {},
    },
    transaction === undefined ? {} : { transaction },
  );
}

/** These accesses and everything passed on from them, at any distance. */
export async function withBranches(context: Context, ids: string[], transaction?: Transaction): Promise<string[]> {
  const found = await rows<{ id: string }>(
    context.db,
    `WITH RECURSIVE branch AS (SELECT id FROM grants WHERE id = ANY($1) UNION SELECT g.id FROM grants g JOIN branch b ON g.parent_id = b.id) SELECT id FROM branch`,
    [ids],
    transaction,
  );
  return found.map(({ id }) => id);
}

/**
 * Ends accesses for good: share, wrapped key, channel, passcode, sessions and undelivered notices go in the
 * transaction that records it.
 * Returns those that really were held.
 */
export async function endGrants(
  context: Context,
  grants: { id: string }[],
  end: { state: 'closed' | 'withdrawn'; at: Date },
  transaction: Transaction,
): Promise<{ id: string; messageId: string; hadOpened: boolean }[]> {
  // Whoever was passed it on had it from these: the whole branch ends, whatever its own date.
  const ids = await withBranches(
    context,
    grants.map(({ id }) => id),
    transaction,
  );
  const ended = await rows<{ id: string; message_id: string; had_opened: boolean }>(
    context.db,
    `UPDATE grants SET state = $2, ended_at = $3, house_share = NULL, wrapped_key = NULL, channel = NULL, question = NULL, answer_hash = NULL, told_hash = NULL, sealed_share = NULL, sealed_summary = NULL, other_way_at = NULL, other_way = NULL, give_again_asked_at = NULL, passcode_hash = NULL, passcode_sent_at = NULL
     WHERE id = ANY($1) AND state = 'held'
     RETURNING id, message_id, EXISTS (SELECT 1 FROM grants o WHERE o.message_id = grants.message_id AND lower(o.address) = lower(grants.address) AND o.open_count > 0) AS had_opened`,
    [ids, end.state, end.at],
    transaction,
  );
  const endedIds = ended.map(({ id }) => id);
  await putDown(context, ended, end, transaction);
  await run(context.db, 'DELETE FROM reader_sessions WHERE grant_id = ANY($1)', [endedIds], transaction);
  await run(
    context.db,
    `UPDATE outbox SET state = 'cancelled', sealed_share = NULL WHERE grant_id = ANY($1) AND state = 'waiting'`,
    [endedIds],
    transaction,
  );
  for (const { id, message_id, had_opened } of ended) {
    await record(
      context,
      { messageId: message_id, grantId: id, kind: end.state, data: { hadOpened: had_opened } },
      transaction,
    );
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

/** Purges the content of messages whose last access ended longer ago than the office keeps it, and what has expired. */
export async function purge(context: Context): Promise<void> {
  const now = context.clock();
  const before = new Date(now.getTime() - context.config.office.purgeAfterDays * 86_400_000);
  await context.db.transaction(async (transaction) => {
    const due = await rows<{ id: string; content_blob_id: string }>(
      context.db,
      `SELECT id, content_blob_id FROM messages m WHERE content_blob_id IS NOT NULL AND sent_at <= $1
       AND NOT EXISTS (SELECT 1 FROM grants g WHERE g.message_id = m.id AND (g.state = 'held' OR g.ended_at > $1)) LIMIT 500 FOR UPDATE SKIP LOCKED`,
      [before],
      transaction,
    );
    for (const { id, content_blob_id } of due) {
      await run(context.db, 'DELETE FROM blobs WHERE id = $1', [content_blob_id], transaction);
      await record(context, { messageId: id, kind: 'purged' }, transaction);
    }
  });
  await carryOver(context);
  await run(context.db, 'DELETE FROM reader_sessions WHERE expires_at < $1', [now]);
  await run(context.db, 'DELETE FROM throttles WHERE blocked_until < $1', [new Date(now.getTime() - 86_400_000)]);
}
