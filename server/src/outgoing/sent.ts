/** What a sender sees of what was sent, and what they may still change. */
import { defined } from '@under-lock/core/defined';
import {
  type Channel,
  type Grant,
  type MessageEvent,
  type NewGrant,
  type SentMessage,
} from '@under-lock/contract/outgoing';
import { Op, type Transaction } from 'sequelize';
import { type Context } from '../context';
import { askedOften, columnsOf, named, rows, run } from '../data/database';
import { type AccountRow, EventRow, GrantRow, MessageRow, type MessageRuled, VaultItemRow } from '../data/models';
import { looksOf } from '../office/look';
import { floorOf, type PresetVersion, requireClosingUnderPreset, termsHeldTo } from '../handling/version';
import { forAnybody, LOOSEST_TERMS } from '@under-lock/core/handling/handling';
import { addressKey } from '@under-lock/core/people/address';
import { createHash } from 'node:crypto';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { type Bytes } from '@under-lock/core/bytes';
import { invalid, notFound, Problem } from '../problem';
import { putItem, sentSummaries } from '../vault/vault';
import { keptChannel } from '../access/channel';
import { copiesOf, copyMailsOf } from './copies';
import { cursorAfter, readCursor } from '../data/cursor';
import { addNotice, NO_SHARE, requireHeld } from '../access/make';
import { addGrant, requireClosing } from './dispatch';
import { noteTells } from '../rules/tell';
import { heldForReader } from './ruled';
import { endGrants, grantOf, grantsOf, record, seenIn, type ShownGrant } from '../access/grants';

const PAGE = 30;

const LISTED = [
  'id',
  'accountId',
  'reference',
  'sentAt',
  'size',
  'handling',
  'senderAddress',
  'byProgram',
  'purpose',
  'presetName',
  'presetVersion',
  'openReason',
  'ruled',
  'conversationId',
] as const;
type ListedMessage = Pick<MessageRow, (typeof LISTED)[number]>;

const SENT_PAGE = named(
  'sent-page',
  () => `SELECT ${columnsOf(MessageRow, 'm', LISTED)} FROM messages m
    WHERE m.account_id = $1 AND m.sender_grant_id IS NULL AND ($3::uuid[] IS NULL OR m.id = ANY($3))
      AND ($4::timestamptz IS NULL OR (m.sent_at, m.id) < ($4, $5::uuid))
    ORDER BY m.sent_at DESC, m.id DESC LIMIT $2`,
);

async function withGrants(context: Context, messages: ListedMessage[]): Promise<SentMessage[]> {
  const ids = messages.map(({ id }) => id);
  const accountId = messages[0]?.accountId;
  if (accountId === undefined) return [];
  const [grants, summaryOf, copies, heldTo] = await Promise.all([
    grantsOf(context, ids),
    sentSummaries(context, accountId, ids),
    copiesOf(context, ids),
    termsHeldTo(
      context,
      messages.flatMap(({ presetVersion }) => presetVersion ?? []),
    ),
  ]);
  const now = context.clock();
  const seen = seenIn(grants);
  const byMessage = groupByMessage(grants.filter(({ replacedBy }) => replacedBy === null));
  const byId = new Map(grants.map((grant) => [grant.id, grant]));
  return messages.map((message) => ({
    id: message.id,
    reference: message.reference,
    sentAt: message.sentAt,
    size: Number(message.size),
    handling: { ...message.handling, closesAt: new Date(message.handling.closesAt) },
    ...(message.senderAddress == null ? {} : { from: message.senderAddress }),
    ...(message.byProgram == null ? {} : { byProgram: message.byProgram }),
    purpose: message.purpose,
    presetName: message.presetName,
    ...presetTermsOf(heldTo, message),
    ...(message.openReason == null ? {} : { openReason: message.openReason }),
    ...(message.ruled == null ? {} : { rules: rulesOf(message.ruled) }),
    conversationId: message.conversationId,
    summary: summaryOf(message.id),
    grants: (byMessage.get(message.id) ?? []).map((grant): Grant => grantOf(grant, now, seen(grant), byId)),
    copies: copies.get(message.id) ?? [],
  }));
}

const rulesOf = ({ acted, reason }: MessageRuled): { acted: string[]; reason?: string } => ({
  acted: acted.map(({ name }) => name),
  ...defined({ reason }),
});

function presetTermsOf(
  heldTo: ReadonlyMap<string, PresetVersion>,
  { presetVersion }: ListedMessage,
): Pick<SentMessage, 'presetTerms'> {
  const held = presetVersion === null ? undefined : heldTo.get(presetVersion);
  return held === undefined ? {} : { presetTerms: held.terms };
}

function groupByMessage(grants: ShownGrant[]): Map<string, ShownGrant[]> {
  const groups = new Map<string, ShownGrant[]>();
  for (const grant of grants) groups.set(grant.messageId, [...(groups.get(grant.messageId) ?? []), grant]);
  return groups;
}

/** Newest first, by cursor; or those of these numbers alone. */
export async function listSent(
  context: Context,
  accountId: string,
  {
    before,
    ids,
    limit = PAGE,
  }: { before?: string | undefined; ids?: string[] | undefined; limit?: number | undefined },
): Promise<{ messages: SentMessage[]; next?: string }> {
  const most = ids?.length ?? limit;
  const cursor = before === undefined ? [null, null] : readCursor(before);
  const found = await askedOften<ListedMessage>(context.db, SENT_PAGE(), [accountId, most + 1, ids ?? null, ...cursor]);
  const page = found.slice(0, most);
  const last = page.at(-1);
  return {
    messages: await withGrants(context, page),
    ...(found.length > most && last !== undefined ? { next: cursorAfter(last.sentAt, last.id) } : {}),
  };
}

/** So many of the latest messages say whom somebody writes to. */
const LATEST = 200;

/** Of these, by their keys, who was in one message of the account's with another of them. */
export async function writtenTogether(
  context: Context,
  accountId: string,
  addresses: readonly string[],
): Promise<string[]> {
  const found = await rows<{ who: string }>(
    context.db,
    `WITH met AS (
       SELECT message_id, lower(address) AS who FROM grants
         WHERE account_id = $1 AND parent_id IS NULL AND lower(address) = ANY($2)
       UNION
       SELECT c.message_id, lower(r.address) FROM copies c JOIN copy_recipients r ON r.copy_id = c.id
         WHERE c.account_id = $1 AND lower(r.address) = ANY($2)
     )
     SELECT DISTINCT who FROM met
       WHERE message_id IN (SELECT message_id FROM met GROUP BY message_id HAVING count(*) > 1)`,
    [accountId, [...new Set(addresses.map(addressKey))]],
  );
  return found.map(({ who }) => who);
}

/** By address as it is compared, the latest first: accesses, and copies of their own. */
export const listWrittenTo = async (context: Context, accountId: string): Promise<{ address: string; at: Date }[]> =>
  rows<{ address: string; at: Date }>(
    context.db,
    `WITH latest AS (
       SELECT id, sent_at FROM messages WHERE account_id = $1 AND sender_grant_id IS NULL
       ORDER BY sent_at DESC, id DESC LIMIT $2
     ), written AS (
       SELECT g.address, m.sent_at FROM latest m JOIN grants g ON g.message_id = m.id AND g.parent_id IS NULL
       UNION ALL
       SELECT r.address, m.sent_at FROM latest m JOIN copies c ON c.message_id = m.id JOIN copy_recipients r ON r.copy_id = c.id
     )
     SELECT lower(address) AS address, max(sent_at) AS at FROM written GROUP BY 1 ORDER BY 2 DESC, 1`,
    [accountId, LATEST],
  );

async function ownMessage(accountId: string, id: string): Promise<MessageRow> {
  const message = await MessageRow.findOne({ where: { id, accountId } });
  if (message === null) throw notFound('This message');
  return message;
}

const EVENTS = 100;

const eventOf = ({
  id,
  at,
  kind,
  grantId,
  data: { hadOpened, closesAt, address, times, from },
}: EventRow): MessageEvent => ({
  id,
  at,
  kind,
  ...(grantId === null ? {} : { grantId }),
  ...defined({ hadOpened }),
  ...(closesAt === undefined ? {} : { closesAt: new Date(closesAt) }),
  ...defined({ address, times }),
  ...(from === undefined ? {} : { from: new Date(from) }),
});

/** A page of what happened, the newest first. */
async function eventsBefore(
  messageId: string,
  before: string | undefined,
): Promise<{ events: MessageEvent[]; earlier?: string }> {
  const [at, id] = before === undefined ? [] : readCursor(before);
  const found = await EventRow.findAll({
    where: {
      messageId,
      ...(at === undefined ? {} : { [Op.or]: [{ at: { [Op.lt]: at } }, { at, id: { [Op.lt]: id } }] }),
    } as never,
    order: [
      ['at', 'DESC'],
      ['id', 'DESC'],
    ],
    limit: EVENTS + 1,
  });
  const page = found.slice(0, EVENTS);
  const last = page.at(-1);
  return {
    events: page.map(eventOf),
    ...(found.length > EVENTS && last !== undefined ? { earlier: cursorAfter(last.at, last.id) } : {}),
  };
}

export async function listEvents(
  accountId: string,
  id: string,
  before: string | undefined,
): Promise<{ events: MessageEvent[]; earlier?: string }> {
  await ownMessage(accountId, id);
  return eventsBefore(id, before);
}

export async function getSent(context: Context, accountId: string, id: string) {
  const message = await ownMessage(accountId, id);
  const [sent] = await withGrants(context, [message]);
  // Read afterwards: what is told as done is then among what happened.
  const [events, notices, copyMails] = await Promise.all([
    eventsBefore(id, undefined),
    rows<{
      grant_id: string;
      created_at: Date;
      message_id_header: string;
      sha256: Buffer;
      look_id: string | null;
      extension: string | null;
      answer_there: boolean;
    }>(
      context.db,
      `SELECT o.grant_id, o.created_at, o.message_id_header, o.sha256, o.look_id, o.extension, o.answer_there FROM outbox o JOIN grants g ON g.id = o.grant_id WHERE g.message_id = $1 AND o.state = 'delivered' ORDER BY o.created_at`,
      [id],
    ),
    copyMailsOf(context, id),
  ]);
  return {
    ...sent!,
    events: events.events,
    ...defined({ earlierEvents: events.earlier }),
    ...(message.contentBlobId === null ? {} : { contentBlobId: message.contentBlobId }),
    notices: notices.map((row) => ({
      grantId: row.grant_id,
      sentAt: row.created_at,
      messageId: row.message_id_header,
      sha256: new Uint8Array(row.sha256),
      ...(row.look_id === null ? {} : { lookId: row.look_id }),
      ...(row.extension === null ? {} : { extension: row.extension }),
      answerThere: row.answer_there,
    })),
    copyMails,
    looks: await looksOf(context, [...new Set(notices.flatMap(({ look_id }) => look_id ?? []))]),
  };
}

/** Moves the closing date of accesses that are still held. @throws Problem `closing-out-of-range` */
export async function moveClosing(
  context: Context,
  accountId: string,
  id: string,
  grantIds: string[],
  closesAt: Date,
): Promise<number> {
  const { presetVersion } = await ownMessage(accountId, id);
  requireClosing(context, closesAt);
  await requireClosingUnderPreset(context, presetVersion, closesAt);
  return context.db.transaction(async (transaction) => {
    const moved = await rows<{ id: string }>(
      context.db,
      `UPDATE grants SET closes_at = $3 WHERE message_id = $1 AND id = ANY($2) AND state = 'held' AND closes_at > $4 RETURNING id`,
      [id, grantIds, closesAt, context.clock()],
      transaction,
    );
    await capBranches(context, grantIds, transaction);
    for (const grant of moved)
      await record(
        context,
        { messageId: id, grantId: grant.id, kind: 'closing-moved', data: { closesAt: closesAt.toISOString() } },
        transaction,
      );
    return moved.length;
  });
}

/** Nobody reads longer than whoever passed it on to them. */
async function capBranches(context: Context, ids: string[], transaction: Transaction): Promise<void> {
  await run(
    context.db,
    `WITH RECURSIVE branch AS (
       SELECT g.id, least(g.closes_at, p.closes_at) AS until FROM grants g JOIN grants p ON p.id = g.parent_id WHERE g.id = ANY($1) OR g.parent_id = ANY($1)
       UNION SELECT g.id, least(g.closes_at, b.until) FROM grants g JOIN branch b ON g.parent_id = b.id)
     UPDATE grants g SET closes_at = c.until FROM (SELECT id, min(until) AS until FROM branch GROUP BY id) c WHERE g.id = c.id AND g.state = 'held' AND g.closes_at > c.until`,
    [ids],
    transaction,
  );
}

export async function withdraw(
  context: Context,
  accountId: string,
  id: string,
  grantIds: string[],
): Promise<{ withdrawn: number; hadOpened: number }> {
  await ownMessage(accountId, id);
  return context.db.transaction(async (transaction) => {
    const grants = await GrantRow.findAll({
      where: { messageId: id, id: { [Op.in]: grantIds } },
      attributes: ['id'],
      transaction,
    });
    const ended = await endGrants(context, grants, { state: 'withdrawn', at: context.clock() }, transaction);
    return { withdrawn: ended.length, hadOpened: ended.filter(({ hadOpened }) => hadOpened).length };
  });
}

/**
 * Locked until the transaction ends: what is decided here is still so when it is written, and whoever delivers its
 * notice waits.
 */
async function heldGrant(
  context: Context,
  accountId: string,
  messageId: string,
  grantId: string,
  transaction: Transaction,
): Promise<GrantRow> {
  const grant = await GrantRow.findOne({
    where: { id: grantId, messageId, accountId },
    transaction,
    lock: transaction.LOCK.UPDATE,
  });
  if (grant === null) throw notFound('This access');
  if (grant.state === 'withdrawn') throw new Problem('grant-withdrawn', 409, 'This access has been withdrawn');
  if (grant.state === 'closed' || grant.closesAt <= context.clock())
    throw new Problem('grant-closed', 409, 'This access is closed');
  return grant;
}

async function requireItsLink({ proofHash }: GrantRow, readerShare: Uint8Array | undefined): Promise<void> {
  const proof =
    readerShare === undefined
      ? undefined
      : createHash('sha256')
          .update(await shareProof(readerShare as Bytes))
          .digest();
  if (proofHash === null || proof === undefined || !proof.equals(proofHash))
    throw new Problem('wrong-link', 400, 'This is not the link of this access');
}

/**
 * Sends the notice once more; the reader's share comes from the sender's vault, since nothing here has kept it. @throws
 * Problem `wrong-link` when it is not the grant's.
 */
export async function tellAgain(
  context: Context,
  accountId: string,
  messageId: string,
  grantId: string,
  readerShare: Uint8Array | undefined,
): Promise<void> {
  await context.db.transaction(async (transaction) => {
    // The access before its notice, as withdrawing locks them.
    const grant = await heldGrant(context, accountId, messageId, grantId, transaction);
    if (grant.readerKind === 'account') throw invalid('A colleague is told in Received; no notice is sent.');
    if (grant.readerKind === 'link') await requireItsLink(grant, readerShare);
    await grant.update({ noticeState: 'waiting', noticeAnswer: null }, { transaction });
    await run(
      context.db,
      `UPDATE outbox SET state = 'cancelled', sealed_share = NULL WHERE grant_id = $1 AND state = 'waiting'`,
      [grantId],
      transaction,
    );
    await addNotice(
      context,
      { grantId, readerShare: grant.readerKind === 'link' ? readerShare! : NO_SHARE },
      transaction,
    );
    await record(context, { messageId, grantId, kind: 'notice-again' }, transaction);
  });
}

const freshTries = {
  passcodeHash: null,
  passcodeSentAt: null,
  passcodeWrong: 0,
  passcodePauses: 0,
  passcodePausedUntil: null,
  passcodeSpent: 0,
} as const;

/** The sender vouches for whoever used up the wrong tries, or lifts a pause. */
export async function renewTries(
  context: Context,
  accountId: string,
  messageId: string,
  grantId: string,
): Promise<void> {
  await context.db.transaction(async (transaction) => {
    const grant = await heldGrant(context, accountId, messageId, grantId, transaction);
    await grant.update(freshTries, { transaction });
    await record(context, { messageId, grantId, kind: 'tries-renewed' }, transaction);
  });
}

/**
 * Another phone or second address for the passcode; a passcode on its way to the old one is void, and a pause is
 * lifted: the sender has just vouched.
 */
export async function changeChannel(
  context: Context,
  sender: AccountRow,
  messageId: string,
  grantId: string,
  channel: Channel,
): Promise<void> {
  const { presetVersion } = await ownMessage(sender.id, messageId);
  await context.db.transaction(async (transaction) => {
    const grant = await heldGrant(context, sender.id, messageId, grantId, transaction);
    if (grant.readerKind !== 'link') throw invalid('They are known by their own password.');
    const asks = channel.question !== undefined || (grant.question !== null && channel.kind !== 'question');
    // Whom it is for was judged when the access was made.
    requireHeld(
      { handling: LOOSEST_TERMS, floor: forAnybody(await floorOf(context, presetVersion, transaction)) },
      { kind: 'link', check: channel.kind, question: asks },
      grant.address,
    );
    // A question asked besides stays as it is unless it is asked anew.
    const { question, answerHash, ...way } = await keptChannel(context, grantId, grant.address, channel, sender);
    await grant.update(
      {
        ...way,
        ...(question === null && channel.kind !== 'question' ? {} : { question, answerHash }),
        ...freshTries,
        notForMeAt: null,
        otherWayAt: null,
        otherWay: null,
      },
      { transaction },
    );
    await run(context.db, 'DELETE FROM reader_sessions WHERE grant_id = $1', [grantId], transaction);
    await record(context, { messageId, grantId, kind: 'channel-changed' }, transaction);
  });
}

/**
 * A new grant, split afresh in the sender's browser, for somebody whose access has ended. @throws Problem `conflict`
 * when it has not, or was given again already.
 */
/** What the sender's vault keeps of the message from now on. */
async function putSummary(
  context: Context,
  accountId: string,
  messageId: string,
  sealed: Uint8Array,
  transaction: Transaction,
): Promise<void> {
  const summary = await VaultItemRow.findOne({
    where: { accountId, kind: 'sent', id: messageId },
    attributes: ['revision'],
    transaction,
  });
  await putItem(
    context,
    { accountId, kind: 'sent', id: messageId, revision: summary?.revision ?? 0, sealed },
    transaction,
  );
}

const NOT_DELIVERED: readonly GrantRow['noticeState'][] = ['refused', 'bounced'];

/**
 * Somebody more may read it, as the message's handling and its preset have it for everybody. `corrects`: an access
 * whose notice could not be delivered ends with it.
 * @throws Problem `breaks-rule`, `reads-already`, `audience`, `below-preset`, `invalid-input`, `own-number`, `conflict`, `not-found`
 */
export async function addReader(
  context: Context,
  sender: AccountRow,
  messageId: string,
  {
    corrects,
    grant,
    closesAt,
    summary,
  }: { corrects?: string | undefined; grant: NewGrant; closesAt: Date; summary: Uint8Array },
): Promise<void> {
  const message = await ownMessage(sender.id, messageId);
  if (message.contentBlobId === null) throw new Problem('conflict', 409, 'The content has been purged');
  requireClosing(context, closesAt);
  await requireClosingUnderPreset(context, message.presetVersion, closesAt);
  const verdict = await heldForReader(context, sender, { message, grant, closesAt });
  const demanded = { handling: message.handling, floor: await floorOf(context, message.presetVersion) };
  await context.db.transaction(async (transaction) => {
    // Its row is locked: two additions at once neither name one person twice nor go beyond the limit.
    await MessageRow.findByPk(messageId, { transaction, lock: transaction.LOCK.NO_KEY_UPDATE, attributes: ['id'] });
    const others = await GrantRow.findAll({ where: { messageId }, transaction });
    const { maxRecipients } = context.config.office.limits;
    if (others.length >= maxRecipients) throw invalid(`At most ${maxRecipients} people may read one message.`);
    const wrong = corrects === undefined ? undefined : others.find(({ id }) => id === corrects);
    if (corrects !== undefined && wrong === undefined) throw notFound('This access');
    if (wrong !== undefined && !NOT_DELIVERED.includes(wrong.noticeState))
      throw new Problem('conflict', 409, 'Its notice was delivered: withdraw this access instead');
    if (
      others.some(
        (one) => one.state === 'held' && one !== wrong && addressKey(one.address) === addressKey(grant.address),
      )
    )
      throw new Problem('reads-already', 409, 'This person can read it already');
    if (wrong?.state === 'held')
      await endGrants(context, [wrong], { state: 'withdrawn', at: context.clock() }, transaction);
    const position = Math.max(0, ...others.map((one) => one.position)) + 1;
    await addGrant(context, { sender, messageId, position, grant, demanded, closesAt }, transaction);
    await noteTells(context, messageId, verdict, transaction);
    await putSummary(context, sender.id, messageId, summary, transaction);
    await record(
      context,
      { messageId, grantId: grant.id, kind: 'reader-added', data: { closesAt: closesAt.toISOString() } },
      transaction,
    );
  });
}

export async function giveAgain(
  context: Context,
  sender: AccountRow,
  messageId: string,
  input: { replaces: string; grant: NewGrant; closesAt: Date; summary: Uint8Array },
): Promise<void> {
  const message = await ownMessage(sender.id, messageId);
  if (message.contentBlobId === null) throw new Problem('conflict', 409, 'The content has been purged');
  requireClosing(context, input.closesAt);
  await requireClosingUnderPreset(context, message.presetVersion, input.closesAt);
  const verdict = await heldForReader(context, sender, { message, grant: input.grant, closesAt: input.closesAt });
  // Whom it is for, the message says; how well they prove who they are, the office.
  const demanded = {
    handling: { ...LOOSEST_TERMS, audience: message.handling.audience },
    floor: await floorOf(context, message.presetVersion),
  };
  await context.db.transaction(async (transaction) => {
    const old = await GrantRow.findOne({
      where: { id: input.replaces, messageId },
      lock: transaction.LOCK.UPDATE,
      transaction,
    });
    if (old === null) throw notFound('This access');
    if (addressKey(old.address) !== addressKey(input.grant.address))
      throw invalid(`It was ${old.address}’s, and is given again to them or to nobody.`);
    // Due but not yet swept: close it now, or its share would outlive its successor's birth.
    if (old.state === 'held' && old.closesAt <= context.clock())
      await endGrants(context, [old], { state: 'closed', at: context.clock() }, transaction);
    // Its reader has forgotten their password: nobody can open it any more.
    else if (old.state === 'held' && old.lostAt != null)
      await endGrants(context, [old], { state: 'withdrawn', at: context.clock() }, transaction);
    else if (old.state === 'held') throw new Problem('conflict', 409, 'This access is still open');
    if (old.replacedBy !== null) throw new Problem('conflict', 409, 'This access has been given again already');
    await addGrant(
      context,
      { sender, messageId, position: old.position, grant: input.grant, demanded, closesAt: input.closesAt },
      transaction,
    );
    await noteTells(context, messageId, verdict, transaction);
    await run(context.db, 'UPDATE grants SET replaced_by = $2 WHERE id = $1', [old.id, input.grant.id], transaction);
    await putSummary(context, sender.id, messageId, input.summary, transaction);
    await record(
      context,
      { messageId, grantId: input.grant.id, kind: 'given-again', data: { closesAt: input.closesAt.toISOString() } },
      transaction,
    );
  });
}
