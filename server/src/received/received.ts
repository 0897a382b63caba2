/** Mail › Received: what is held for an account, released to its own sign-in. */
import { Op } from 'sequelize';
import { type Reply } from '@under-lock/contract/client';
import { type getNews, type IncomingMail, type Received, receivedId } from '@under-lock/contract/received';
import { type Bytes } from '@under-lock/core/bytes';
import { type Context } from '../context';
import { askedOften, type NamedStatement, rows, run } from '../data/database';
import { GrantRow, MessageRow } from '../data/models';
import {
  confirmReading,
  countOpening,
  handlingFor,
  heldFor,
  type HeldGrant,
  readHeldPart,
  released,
  type Use,
  recordUse,
} from '../access/release';
import { notFound } from '../problem';
import { cursorAfter, readCursor } from '../data/cursor';
import { listed, type ListedRow } from '../access/listed';
import { countUnreadIncoming, incomingOfIds, listIncoming } from '../incoming/incoming';

const PAGE = 30;
/** Looking again within this time is the same opening. */
const SAME_OPENING_MS = 30 * 60_000;

interface ReceivedRow extends ListedRow {
  message_id: string;
  conversation_id: string;
}

// Whoever wrote it: the account, or the reader whose access a reply came from.
const SELECT = `SELECT g.id, g.message_id, m.conversation_id, coalesce(nullif(s.name, ''), s.address, a.name) AS sender_name, coalesce(s.address, m.sender_address, a.address) AS sender_address,
  g.arrived_at, g.closes_at, g.ended_at, g.state, m.size, g.unread, m.reference, g.sealed_share, g.sealed_summary
  FROM grants g JOIN messages m ON m.id = g.message_id JOIN accounts a ON a.id = m.account_id LEFT JOIN grants s ON s.id = m.sender_grant_id`;

const receivedOf = (row: ReceivedRow, now: Date): Received => ({
  kind: 'held',
  messageId: row.message_id,
  conversationId: row.conversation_id,
  ...listed(row, now),
});

const newestFirst = (a: Received | IncomingMail, b: Received | IncomingMail): number =>
  b.arrivedAt.getTime() - a.arrivedAt.getTime() || (receivedId(a) < receivedId(b) ? 1 : -1);

/** Those of these numbers that are there, newest first. */
async function receivedOfIds(
  context: Context,
  accountId: string,
  ids: string[],
): Promise<{ messages: (Received | IncomingMail)[]; unread: number }> {
  const [held, mails, unread] = await Promise.all([
    rows<ReceivedRow>(
      context.db,
      `${SELECT} WHERE g.reader_account_id = $1 AND g.reader_kind = 'account' AND g.arrived_at <= $3 AND g.id = ANY($2)`,
      [accountId, ids, context.clock()],
    ),
    incomingOfIds(context, accountId, ids),
    countUnread(context, accountId),
  ]);
  const messages = [...held.map((row) => receivedOf(row, context.clock())), ...mails].sort(newestFirst);
  return { messages, unread };
}

const PAGE_OF: NamedStatement = {
  name: 'received-page',
  sql: `${SELECT} WHERE g.reader_account_id = $1 AND g.reader_kind = 'account' AND g.arrived_at <= $3
    AND ($4::timestamptz IS NULL OR (g.arrived_at, g.id) < ($4, $5::uuid)) ORDER BY g.arrived_at DESC, g.id DESC LIMIT $2`,
};

/** What is held and what came in as mail, newest first, by one cursor over both; or those of these numbers alone. */
export async function listReceived(
  context: Context,
  accountId: string,
  { before, ids }: { before?: string | undefined; ids?: string[] | undefined },
): Promise<{ messages: (Received | IncomingMail)[]; unread: number; next?: string }> {
  if (ids !== undefined) return receivedOfIds(context, accountId, ids);
  const cursor = before === undefined ? undefined : readCursor(before);
  const [held, mails, unread] = await Promise.all([
    askedOften<ReceivedRow>(context.db, PAGE_OF, [accountId, PAGE + 1, context.clock(), ...(cursor ?? [null, null])]),
    listIncoming(context, accountId, cursor, PAGE + 1),
    countUnread(context, accountId),
  ]);
  const found = [...held.map((row) => receivedOf(row, context.clock())), ...mails].sort(newestFirst);
  const page = found.slice(0, PAGE);
  const last = page.at(-1);
  return {
    messages: page,
    unread,
    ...(found.length > PAGE && last !== undefined ? { next: cursorAfter(last.arrivedAt, receivedId(last)) } : {}),
  };
}

/** What this account received in one conversation, oldest first. */
export async function receivedInConversation(
  context: Context,
  accountId: string,
  conversationId: string,
  limit: number,
): Promise<Received[]> {
  const found = await rows<ReceivedRow>(
    context.db,
    `${SELECT} WHERE m.conversation_id = $2 AND g.reader_account_id = $1 AND g.reader_kind = 'account' AND g.arrived_at <= $4 ORDER BY g.arrived_at LIMIT $3`,
    [accountId, conversationId, limit, context.clock()],
  );
  return found.map((row) => receivedOf(row, context.clock()));
}

export async function countUnread(context: Context, accountId: string): Promise<number> {
  const [held, mails] = await Promise.all([
    countUnreadHeld(context, accountId),
    countUnreadIncoming(context, accountId),
  ]);
  return held + mails;
}

const FIRST_OPENED: NamedStatement = {
  name: 'news-first-opened',
  sql: `SELECT max(first_opened_at) AS at FROM grants WHERE account_id = $1 AND first_opened_at IS NOT NULL`,
};

export async function news(context: Context, accountId: string): Promise<Reply<typeof getNews>> {
  const [unread, [opened]] = await Promise.all([
    countUnread(context, accountId),
    askedOften<{ at: Date | null }>(context.db, FIRST_OPENED, [accountId]),
  ]);
  return { unread, ...(opened!.at === null ? {} : { openedAt: opened!.at }) };
}

const UNREAD_HELD: NamedStatement = {
  name: 'received-unread-held',
  sql: `SELECT count(*)::int AS unread FROM grants WHERE reader_account_id = $1 AND reader_kind = 'account' AND unread AND state = 'held' AND closes_at > $2 AND arrived_at <= $2`,
};

async function countUnreadHeld(context: Context, accountId: string): Promise<number> {
  const [counted] = await askedOften<{ unread: number }>(context.db, UNREAD_HELD, [accountId, context.clock()]);
  return counted!.unread;
}

async function ownGrant(context: Context, accountId: string, id: string): Promise<GrantRow> {
  const grant = await GrantRow.findOne({ where: { id, readerAccountId: accountId, readerKind: 'account' } });
  if (grant === null || (grant.arrivedAt != null && grant.arrivedAt > context.clock())) throw notFound('This message');
  return grant;
}

export async function getReceived(context: Context, accountId: string, id: string) {
  const grant = await ownGrant(context, accountId, id);
  const [[row], message, people] = await Promise.all([
    rows<ReceivedRow>(context.db, `${SELECT} WHERE g.id = $1`, [id]),
    MessageRow.findByPk(grant.messageId),
    // Whoever is written to unseen is seen by themselves.
    GrantRow.findAll({
      where: { messageId: grant.messageId, replacedBy: null, [Op.or]: [{ role: { [Op.ne]: 'bcc' } }, { id }] },
      order: ['position'],
      attributes: ['name', 'address', 'role'],
    }),
  ]);
  const fromReader = message!.senderGrantId != null;
  const keeps = message!.handling;
  return {
    ...receivedOf(row!, context.clock()),
    fromReader,
    keeps,
    handling: handlingFor({ ...keeps, closesAt: grant.closesAt }, 'account', fromReader),
    people: people.map(({ name, address, role }) => ({ name, address, role })),
  };
}

export async function openReceived(context: Context, accountId: string, id: string) {
  return context.db.transaction(async (transaction) => {
    const grant = await heldFor(context, { kind: 'account', accountId }, id, transaction);
    if (grant.last_opened_at === null || context.clock().getTime() - grant.last_opened_at.getTime() > SAME_OPENING_MS)
      await countOpening(context, grant, transaction);
    else if (grant.unread) await run(context.db, 'UPDATE grants SET unread = false WHERE id = $1', [id], transaction);
    return { ...(await released(context, grant)), sealedShare: new Uint8Array(grant.sealed_share!) };
  });
}

const heldForAccount = (context: Context, accountId: string, id: string): Promise<HeldGrant> =>
  heldFor(context, { kind: 'account', accountId }, id);
export const readReceivedPart = async (
  context: Context,
  accountId: string,
  id: string,
  index: number,
): Promise<Bytes> => readHeldPart(context, await heldForAccount(context, accountId, id), index);
export const recordReceivedUse = async (context: Context, accountId: string, id: string, what: Use): Promise<void> =>
  recordUse(context, await heldForAccount(context, accountId, id), what);
export const confirmReceived = (context: Context, accountId: string, id: string): Promise<{ at: Date }> =>
  confirmReading(context, { kind: 'account', accountId }, id);
export const markReceived = async (context: Context, accountId: string, id: string, unread: boolean): Promise<void> =>
  void (await (await ownGrant(context, accountId, id)).update({ unread }));
