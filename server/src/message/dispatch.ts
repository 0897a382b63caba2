/** Dispatch: one transaction that makes the message, its grants, the sender's record and an outbox row per notice; the message's id makes it happen once. */
import { createHash, randomUUID } from 'node:crypto';
import { type NewGrant } from '@under-lock/contract/message';
import { type Handling } from '@under-lock/core/handling/handling';
import { latestClosing } from '@under-lock/core/handling/closing';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { type Bytes } from '@under-lock/core/bytes';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { type Context } from '../context';
import { ownBlob, requireComplete } from '../blob/blob';
import { AccountRow, GrantRow, MessageRow, OutboxRow } from '../data/models';
import { invalid, notFound, Problem } from '../problem';
import { putItem } from '../vault/vault';
import { requirePreset } from '../preset/preset';
import { leavingTime } from './leaving';
import { keptChannel } from './channel';
import { houseShareContext, readerShareContext, record } from './grants';

export interface Dispatch {
  id: string;
  contentBlobId: string;
  reference: string;
  handling: Handling;
  presetId?: string | undefined;
  inReplyTo?: string | undefined;
  leavesAt?: Date | undefined;
  summary: Uint8Array;
  grants: NewGrant[];
}

/** `from` is when the message leaves. */
export function requireClosing(context: Context, closesAt: Date, from = context.clock()): void {
  const now = from;
  if (closesAt <= now || closesAt > latestClosing(now, context.config.office.calendar)) {
    throw new Problem('closing-out-of-range', 400, 'The closing date is past or later than the office allows');
  }
}

async function requireColleague(accountId: string, grantAddress: string): Promise<AccountRow> {
  const account = await AccountRow.findByPk(accountId);
  if (account?.publicKey == null || addressKey(account.address) !== addressKey(grantAddress)) throw invalid(`There is no colleague at ${grantAddress} who can be written to.`);
  return account;
}

async function keptReader(context: Context, grant: NewGrant, sender: AccountRow, leavesAt: Date) {
  const { reader } = grant;
  if (reader.kind === 'account') {
    const account = await requireColleague(reader.accountId, grant.address);
    return { readerKind: reader.kind, readerAccountId: account.id, sealedShare: Buffer.from(reader.sealedShare), sealedSummary: Buffer.from(reader.sealedSummary), checkKind: 'account' as const, checkHint: '', noticeState: 'accepted' as const, noticeAt: leavesAt };
  }
  return { readerKind: reader.kind, language: reader.language ?? 'en', proofHash: createHash('sha256').update(await shareProof(reader.readerShare as Bytes)).digest(), ...(await keptChannel(context, grant.id, grant.address, reader.channel, sender)) };
}

/** Adds one grant; for who reads by a link also the outbox row of the notice. A colleague finds it in Received at once. */
export async function addGrant(
  context: Context,
  input: { sender: AccountRow; messageId: string; position: number; grant: NewGrant; closesAt: Date; leavesAt?: Date },
  transaction: Transaction,
): Promise<void> {
  const { sender, messageId, position, grant, closesAt, leavesAt = context.clock() } = input;
  const checked = checkAddress(grant.address);
  if (!checked.ok) throw invalid(`“${grant.address}” is not a mail address.`);
  await GrantRow.create(
    {
      id: grant.id, messageId, accountId: sender.id, position, address: checked.address, name: grant.name, role: grant.role, state: 'held', closesAt, arrivedAt: leavesAt,
      houseShare: await context.secrets.sealBytes(grant.houseShare, houseShareContext(grant.id)),
      wrappedKey: Buffer.from(grant.wrappedKey),
      ...(await keptReader(context, grant, sender, leavesAt)),
    },
    { transaction },
  );
  if (grant.reader.kind === 'link') await addNotice(context, { grantId: grant.id, readerShare: grant.reader.readerShare, leavesAt }, transaction);
}

export async function addNotice(context: Context, { grantId, readerShare, leavesAt = context.clock() }: { grantId: string; readerShare: Uint8Array; leavesAt?: Date }, transaction: Transaction): Promise<void> {
  const outboxId = randomUUID();
  await OutboxRow.create(
    {
      id: outboxId, grantId, createdAt: leavesAt, state: 'waiting', messageIdHeader: `${outboxId}@${context.config.office.mailDomain}`,
      sealedShare: await context.secrets.sealBytes(readerShare, readerShareContext(outboxId)),
    },
    { transaction },
  );
  await context.jobs.deliverNotice(outboxId, transaction, leavesAt);
}

/** What makes two dispatches the same: everything but the sealed summary, whose nonce differs each time. */
function digestOf({ contentBlobId, reference, handling, presetId, inReplyTo, leavesAt, grants }: Dispatch): Buffer {
  const hash = createHash('sha256').update(JSON.stringify({ contentBlobId, reference, handling, presetId, inReplyTo, leavesAt }));
  for (const grant of grants) hash.update(JSON.stringify([grant.id, grant.address, grant.role, grant.reader.kind === 'link' ? [grant.reader.channel.kind, 'target' in grant.reader.channel ? grant.reader.channel.target : ''] : grant.reader.accountId])).update(grant.wrappedKey);
  return hash.digest();
}

async function alreadyDispatched(sender: AccountRow, dispatch: Dispatch): Promise<{ sentAt: Date; already: true } | undefined> {
  const existing = await MessageRow.findByPk(dispatch.id);
  if (existing === null) return undefined;
  if (existing.accountId !== sender.id || !existing.requestDigest.equals(digestOf(dispatch))) throw new Problem('conflict', 409, 'A different message has been sent under this number');
  return { sentAt: existing.sentAt, already: true };
}

/** Who may be written to under this handling. Staff have an account here; whoever has none reads by a link. @throws Problem `audience` */
function requireAudience({ config }: Context, { handling: { audience }, grants }: Dispatch): void {
  const outsider = grants.find(({ reader, address }) => reader.kind !== 'account' && !addressKey(address).endsWith(`@${config.office.mailDomain}`));
  const colleague = grants.find(({ reader }) => reader.kind === 'account');
  if (audience === 'nobody' || (audience === 'staff' && grants.some(({ reader }) => reader.kind !== 'account'))) throw new Problem('audience', 400, `This handling is for staff only${outsider === undefined ? '' : `, and ${outsider.address} is an outsider`}`);
  if (audience === 'outsiders' && colleague !== undefined) throw new Problem('audience', 400, `This handling is for outsiders only, and ${colleague.address} is a colleague`);
}

/** The conversation a message belongs to: that of what it answers, when its sender wrote or received that, else one of its own. @throws Problem `not-found`, `right-not-given` */
async function threadOf(sender: AccountRow, { id, inReplyTo }: Dispatch): Promise<string> {
  if (inReplyTo === undefined) return id;
  const answered = await MessageRow.findByPk(inReplyTo);
  const isOwner = answered?.accountId === sender.id;
  const received = answered !== null && !isOwner && (await GrantRow.count({ where: { messageId: inReplyTo, readerAccountId: sender.id } })) > 0;
  if (answered === null || (!isOwner && !received)) throw notFound('The message this answers');
  const { reply, replyAll } = answered.handling.rights;
  if (received && answered.senderGrantId == null && !reply && !replyAll) throw new Problem('right-not-given', 403, 'The sender has switched replies off');
  return answered.threadId;
}

/** @throws Problem `below-preset`, `audience`, `upload-incomplete`, `closing-out-of-range`, `own-number`, `invalid-input`, `too-large`, `conflict` */
export async function dispatchMessage(context: Context, sender: AccountRow, dispatch: Dispatch): Promise<{ sentAt: Date; already: boolean }> {
  const before = await alreadyDispatched(sender, dispatch);
  if (before !== undefined) return before;
  const { limits } = context.config.office;
  if (dispatch.grants.length > limits.maxRecipients) throw invalid(`At most ${limits.maxRecipients} recipients; this has ${dispatch.grants.length}.`);
  if (new Set(dispatch.grants.map((grant) => addressKey(grant.address))).size !== dispatch.grants.length) throw invalid('A recipient is named twice.');
  const sentAt = leavingTime(context, dispatch.leavesAt);
  requireClosing(context, dispatch.handling.closesAt, sentAt);
  requireAudience(context, dispatch);
  const preset = await requirePreset(context, dispatch.presetId, dispatch.handling, sentAt);
  const threadId = await threadOf(sender, dispatch);
  const blob = await ownBlob(sender.id, dispatch.contentBlobId);
  // Base64 in lines makes four thirds and a little; the text and headers come on top.
  if (Number(blob.size) > limits.maxBytes * 1.38 + 4_000_000) throw new Problem('too-large', 413, 'The message is larger than the office allows');
  await requireComplete(context, blob);
  try {
    await context.db.transaction(async (transaction) => {
      await MessageRow.create(
        {
          id: dispatch.id, accountId: sender.id, contentBlobId: dispatch.contentBlobId, reference: dispatch.reference, size: Number(blob.size), sentAt,
          handling: { ...dispatch.handling, closesAt: dispatch.handling.closesAt.toISOString() }, requestDigest: digestOf(dispatch), threadId, inReplyTo: dispatch.inReplyTo ?? null,
          ...(preset === undefined ? {} : { presetId: preset.id, presetName: preset.name, receipt: preset.receipt, remindHours: preset.remindHours }),
        },
        { transaction },
      );
      await putItem(context, { accountId: sender.id, kind: 'sent', id: dispatch.id, revision: 0, sealed: dispatch.summary }, transaction);
      await record(context, { messageId: dispatch.id, kind: 'dispatched' }, transaction);
      for (const [position, grant] of dispatch.grants.entries()) {
        await addGrant(context, { sender, messageId: dispatch.id, position, grant, closesAt: dispatch.handling.closesAt, leavesAt: sentAt }, transaction);
      }
    });
  } catch (error) {
    // Two tries at once: the second waited for the first's key and now finds the message made.
    if (!(error instanceof UniqueConstraintError)) throw error;
    const other = await alreadyDispatched(sender, dispatch);
    if (other === undefined) throw new Problem('conflict', 409, 'One of the numbers in this message is taken');
    return other;
  }
  return { sentAt, already: false };
}
