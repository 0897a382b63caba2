/**
 * Replies: messages whose sender is an access. The reader's browser seals, the server fixes the recipients: the
 * sender's account, and for a
 * reply to all everybody whose access is held, each known in the way they are known already and for no longer than
 * they could read.
 */
import { builtLimit } from '@under-lock/core/message/built-size';
import { defined } from '@under-lock/core/defined';
import { createHash } from 'node:crypto';
import { type CreationAttributes } from 'sequelize';
import { forAnybody, isIdentityCheck } from '@under-lock/core/handling/handling';
import { partCount } from '@under-lock/contract/blob';
import { type ReplyGrant, type ReplyTarget } from '@under-lock/contract/writing';
import { type Bytes } from '@under-lock/core/bytes';
import { latestClosing } from '@under-lock/core/handling/closing';
import { type Context } from '../context';
import { AccountRow, GrantRow, MessageRow, ReaderRow } from '../data/models';
import { readersBlob, readPart, contentCompleteAndFrozen, startReadersBlob } from '../blob/blob';
import { type AccessReader, makeAccess } from '../access/make';
import { floorOf } from '../handling/version';
import { channelContext, record } from '../access/grants';
import { type MadeBefore, once } from '../outgoing/once';
import { heldFor } from '../access/release';
import { invalid, notFound, Problem } from '../problem';

const MAX_REPLIES = 100;
const room = { kind: 'room' } as const;

/** The access and its message, if a reply may be written from it now. @throws Problem `right-not-given` */
async function replying(
  context: Context,
  grantId: string,
): Promise<{ grant: GrantRow; message: MessageRow; sender: AccountRow }> {
  const { handling } = await heldFor(context, room, grantId);
  if (!handling.rights.reply && !handling.rights.replyAll)
    throw new Problem('right-not-given', 403, 'The sender has switched replies off');
  const grant = (await GrantRow.findByPk(grantId))!;
  const [message, sender] = await Promise.all([
    MessageRow.findByPk(grant.messageId),
    AccountRow.findByPk(grant.accountId),
  ]);
  if (sender?.publicKey == null || sender.endedAt != null)
    throw new Problem('not-found', 404, 'The sender can’t receive replies here yet');
  return { grant, message: message!, sender };
}

const targetOf = (account: AccountRow): Pick<ReplyTarget, 'account'> => ({
  account: { id: account.id, key: { suite: account.keySuite!, publicKey: new Uint8Array(account.publicKey!) } },
});

/** Beside whose access a reply is made: a colleague, a registered reader, or whoever reads by a link. */
interface Participant {
  row: GrantRow;
  account?: AccountRow;
  registered?: ReaderRow;
}

/**
 * Everybody else whose access to the same message is held, and whom the reader may know of. Whoever is asked a question
 * can't be reached: it is sealed under their own link's share, and nobody else can ask it anew.
 */
async function participants(
  context: Context,
  { grant, message }: { grant: GrantRow; message: MessageRow },
): Promise<{ reachable: Participant[]; unreachable: GrantRow[] }> {
  if (!message.handling.rights.replyAll) return { reachable: [], unreachable: [] };
  const others = (
    await GrantRow.findAll({ where: { messageId: message.id, state: 'held', replacedBy: null }, order: ['position'] })
  ).filter((row) => row.id !== grant.id && row.role !== 'bcc' && row.closesAt > context.clock());
  const accounts = new Map(
    (await AccountRow.findAll({ where: { id: others.flatMap((row) => row.readerAccountId ?? []) } })).map((account) => [
      account.id,
      account,
    ]),
  );
  const readers = new Map(
    (
      await ReaderRow.findAll({
        where: { id: others.flatMap((row) => (row.readerKind === 'registered' ? (row.readerId ?? []) : [])) },
      })
    ).map((reader) => [reader.id, reader]),
  );
  const reachable: Participant[] = [];
  const unreachable: GrantRow[] = [];
  for (const row of others) {
    const account = row.readerAccountId == null ? undefined : accounts.get(row.readerAccountId);
    const registered = row.readerKind !== 'registered' || row.readerId == null ? undefined : readers.get(row.readerId);
    const isReachable =
      row.readerKind === 'account'
        ? account?.publicKey != null && account.endedAt == null
        : row.readerKind === 'registered'
          ? registered !== undefined && row.lostAt == null
          : row.channel !== null && row.question === null;
    if (isReachable)
      reachable.push({
        row,
        ...defined({ account, registered }),
      });
    else unreachable.push(row);
  }
  return { reachable, unreachable };
}

export async function replyTargets(context: Context, grantId: string) {
  const found = await replying(context, grantId);
  const { reachable, unreachable } = await participants(context, found);
  return {
    sender: { name: found.sender.name, address: found.sender.address, ...targetOf(found.sender) },
    others: reachable.map(({ row, account, registered }): ReplyTarget => ({
      grantId: row.id,
      name: row.name,
      address: row.address,
      ...(account === undefined ? {} : targetOf(account)),
      ...(registered === undefined
        ? {}
        : {
            registered: {
              id: registered.id,
              key: { suite: registered.keySuite, publicKey: new Uint8Array(registered.publicKey) },
            },
          }),
    })),
    unreachable: unreachable.map(({ name, address }) => ({ name, address })),
    maxBytes: context.config.office.limits.maxBytes,
  };
}

export async function startReplyBlob(context: Context, grantId: string, id: string, size: number): Promise<number[]> {
  const { grant } = await replying(context, grantId);
  if (size > builtLimit(context.config.office.limits.maxBytes))
    throw new Problem('too-large', 413, 'The reply is larger than the office allows');
  return startReadersBlob(context, grant, id, size);
}

export interface Reply {
  id: string;
  contentBlobId: string;
  toAll: boolean;
  grants: ReplyGrant[];
  ownKey: Uint8Array;
}

/** What makes two tries the same reply. */
function digestOf(grantId: string, { contentBlobId, toAll, grants }: Reply): Buffer {
  const hash = createHash('sha256').update(
    JSON.stringify([grantId, contentBlobId, toAll, grants.map(({ id, besideGrantId }) => [id, besideGrantId])]),
  );
  for (const grant of grants) hash.update(grant.wrappedKey);
  return hash.digest();
}

async function already(grantId: string, reply: Reply): Promise<MadeBefore | undefined> {
  const existing = await MessageRow.findByPk(reply.id);
  if (existing === null) return undefined;
  if (existing.senderGrantId !== grantId || !existing.requestDigest.equals(digestOf(grantId, reply)))
    throw new Problem('conflict', 409, 'A different message has been sent under this number');
  return { sentAt: existing.sentAt, already: true };
}

/**
 * Whose access of the reply it is, and how they are known: as beside whose access it is made. @throws Problem
 * `invalid-input`
 */
async function replyReader(
  context: Context,
  grant: ReplyGrant,
  { row: beside, account, registered }: Partial<Participant>,
): Promise<AccessReader> {
  const { reader } = grant;
  if (reader.kind === 'account') {
    if (account === undefined || account.id !== reader.accountId)
      throw invalid('The reply is sealed to another account than its recipient’s.');
    return { ...reader, account };
  }
  if (beside === undefined) throw invalid('The reply to the sender must be sealed to their account.');
  const language = beside.language ?? 'en';
  if (reader.kind === 'registered') {
    if (registered === undefined || registered.id !== reader.readerId)
      throw invalid('The reply is sealed to another reader than its recipient.');
    return { ...reader, reader: registered, language };
  }
  if (beside.channel === null || !isIdentityCheck(beside.checkKind))
    throw invalid('The reply names a reader who can’t be reached by a link.');
  const target = await context.secrets.openText(beside.channel, channelContext(beside.id));
  const way = {
    checkKind: beside.checkKind,
    checkHint: beside.checkHint,
    channel: await context.secrets.sealText(target, channelContext(grant.id)),
    question: null,
    answerHash: null,
    toldHash: null,
  };
  return { kind: 'link', readerShare: reader.readerShare, way, language, registeredId: beside.readerId ?? null };
}

type Replied = Awaited<ReturnType<typeof replying>>;

/** @throws Problem `right-not-given`, `upload-incomplete`, `invalid-input`, `conflict` */
export const sendReply = (
  context: Context,
  grantId: string,
  reply: Reply,
): Promise<{ sentAt: Date; already: boolean }> =>
  once(
    () => already(grantId, reply),
    () => makeReply(context, grantId, reply),
    'reply',
  );

/**
 * Whom the reply names, each by the access beside theirs; the sender, who has none, by nothing. @throws Problem
 * `right-not-given`, `conflict` when it names others than can be written to
 */
async function namedIn(
  context: Context,
  { grant, message, sender }: Replied,
  { toAll, grants }: Reply,
): Promise<Map<string | undefined, Partial<Participant>>> {
  const { rights } = message.handling;
  if (!toAll && !rights.reply) throw new Problem('right-not-given', 403, 'Only a reply to all is allowed');
  if (toAll && !rights.replyAll) throw new Problem('right-not-given', 403, 'A reply to all is not allowed');
  const { reachable } = toAll ? await participants(context, { grant, message }) : { reachable: [] };
  const wanted = new Map<string | undefined, Partial<Participant>>([
    [undefined, { account: sender }],
    ...reachable.map((one): [string, Participant] => [one.row.id, one]),
  ]);
  const named = new Set(grants.map(({ besideGrantId }) => besideGrantId));
  if (grants.length !== wanted.size || named.size !== wanted.size || ![...named].every((one) => wanted.has(one)))
    throw new Problem('conflict', 409, 'Who can be written to has changed in the meantime; look at the reply again');
  return wanted;
}

const messageRowOf = (
  { grant, message }: Replied,
  reply: Reply,
  { size, sentAt }: { size: number; sentAt: Date },
): CreationAttributes<MessageRow> => ({
  id: reply.id,
  accountId: grant.accountId,
  contentBlobId: reply.contentBlobId,
  reference: message.reference,
  size,
  sentAt,
  handling: message.handling,
  requestDigest: digestOf(grant.id, reply),
  presetName: message.presetName,
  conversationId: message.conversationId,
  inReplyTo: message.id,
  senderGrantId: grant.id,
  ownKey: Buffer.from(reply.ownKey),
  toAll: reply.toAll,
});

/** What the reply's access for one of those it goes to is made of. */
async function accessOf(
  context: Context,
  { sender }: Replied,
  grant: ReplyGrant,
  participant: Partial<Participant>,
  sentAt: Date,
) {
  const { row: beside, account } = participant;
  const { id, houseShare, wrappedKey } = grant;
  return {
    id,
    houseShare,
    wrappedKey,
    owner: sender,
    arrivesAt: sentAt,
    // The office keeps what was written to it as long as it keeps anything; the others read it no longer than what it
    // answers.
    closesAt: beside?.closesAt ?? latestClosing(sentAt, context.config.office.calendar),
    role: beside?.role ?? ('to' as const),
    name: beside?.name ?? sender.name,
    address: account?.address ?? beside!.address,
    reader: await replyReader(context, grant, participant),
  };
}

async function makeReply(context: Context, grantId: string, reply: Reply): Promise<Date> {
  const replied = await replying(context, grantId);
  const { message } = replied;
  if ((await MessageRow.count({ where: { senderGrantId: grantId } })) >= MAX_REPLIES)
    throw invalid(`At most ${MAX_REPLIES} replies to one message.`);
  const wanted = await namedIn(context, replied, reply);
  const blob = await readersBlob(grantId, reply.contentBlobId);
  await contentCompleteAndFrozen(context, blob);
  const sentAt = context.clock();
  // Whom it goes to the server has fixed; how well they prove who they are is as for what it answers.
  const handling = forAnybody(message.handling);
  const floor = forAnybody(await floorOf(context, message.presetVersion));
  await context.db.transaction(async (transaction) => {
    // Locked, so that withdrawing waits or wins: nothing is written from an access that has ended.
    await heldFor(context, room, grantId, transaction);
    await MessageRow.create(messageRowOf(replied, reply, { size: Number(blob.size), sentAt }), { transaction });
    for (const [position, one] of reply.grants.entries()) {
      const access = await accessOf(context, replied, one, wanted.get(one.besideGrantId)!, sentAt);
      await makeAccess(context, { ...access, messageId: reply.id, handling, floor, position }, transaction);
    }
    await record(context, { messageId: message.id, grantId, kind: 'replied' }, transaction);
  });
  return sentAt;
}

export async function listReplies(context: Context, grantId: string) {
  await heldFor(context, room, grantId);
  const replies = await MessageRow.findAll({
    where: { senderGrantId: grantId },
    order: ['sentAt'],
    limit: MAX_REPLIES,
  });
  return replies.flatMap(({ id, sentAt, toAll, size, ownKey, contentBlobId }) =>
    ownKey == null || contentBlobId === null
      ? []
      : [{ id, sentAt, toAll: toAll ?? false, size: Number(size), ownKey: new Uint8Array(ownKey) }],
  );
}

export async function readReplyPart(context: Context, grantId: string, replyId: string, index: number): Promise<Bytes> {
  await heldFor(context, room, grantId);
  const reply = await MessageRow.findOne({
    where: { id: replyId, senderGrantId: grantId },
    attributes: ['contentBlobId', 'size'],
  });
  if (reply?.contentBlobId == null || index >= partCount(Number(reply.size))) throw notFound('This reply');
  return readPart(context, reply.contentBlobId, index);
}
