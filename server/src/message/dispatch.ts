/** Dispatch: one transaction that makes the message, its grants, the sender's record and an outbox row per notice; the message's id makes it happen once. */
import { createHash, randomUUID } from 'node:crypto';
import { type NewGrant } from '@under-lock/contract/message';
import { type Handling } from '@under-lock/core/handling/handling';
import { latestClosing } from '@under-lock/core/handling/closing';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { type Bytes } from '@under-lock/core/bytes';
import { addressHint } from '@under-lock/core/people/address-hint';
import { addressKey, checkAddress } from '@under-lock/core/people/address';
import { checkPhone } from '@under-lock/core/people/phone';
import { phoneHint } from '@under-lock/core/people/phone-hint';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { type Context } from '../context';
import { ownBlob, requireComplete } from '../blob/blob';
import { type AccountRow, GrantRow, MessageRow, OutboxRow } from '../data/models';
import { invalid, Problem } from '../problem';
import { putItem } from '../vault/vault';
import { channelContext, houseShareContext, readerShareContext, record } from './grants';

export interface Dispatch {
  id: string;
  contentBlobId: string;
  reference: string;
  handling: Handling;
  summary: Uint8Array;
  grants: NewGrant[];
}

export function requireClosing(context: Context, closesAt: Date): void {
  const now = context.clock();
  if (closesAt <= now || closesAt > latestClosing(now, context.config.office.calendar)) {
    throw new Problem('closing-out-of-range', 400, 'The closing date is past or later than the office allows');
  }
}

/** The channel, checked again where it can't be talked out of it. @throws Problem `invalid-input`, `own-number` */
export function requireChannel({ address }: { address: string }, channel: NewGrant['channel'], sender: AccountRow): { target: string; hint: string } {
  if (channel.kind === 'text') {
    const phone = checkPhone(channel.target, 'GB');
    if (!phone.ok || phone.e164 !== channel.target) throw invalid(`The phone number for ${address} is not an international number.`);
    if (phone.e164 === sender.phone) throw new Problem('own-number', 400, 'The passcode would go to the sender’s own phone');
    return { target: phone.e164, hint: phoneHint(phone.e164) };
  }
  const second = checkAddress(channel.target);
  if (!second.ok) throw invalid(`The second address for ${address} is not an address.`);
  if ([address, sender.address].some((one) => addressKey(one) === addressKey(second.address))) throw invalid(`The second address for ${address} must be another one than the first and not the sender’s.`);
  return { target: second.address, hint: addressHint(second.address) };
}

/** Adds one grant and the outbox row of its notice. */
export async function addGrant(
  context: Context,
  input: { sender: AccountRow; messageId: string; position: number; grant: NewGrant; closesAt: Date },
  transaction: Transaction,
): Promise<void> {
  const { sender, messageId, position, grant, closesAt } = input;
  const checked = checkAddress(grant.address);
  if (!checked.ok) throw invalid(`“${grant.address}” is not a mail address.`);
  const channel = requireChannel(grant, grant.channel, sender);
  await GrantRow.create(
    {
      id: grant.id, messageId, accountId: sender.id, position, address: checked.address, name: grant.name, role: grant.role, state: 'held', closesAt,
      houseShare: await context.secrets.sealBytes(grant.houseShare, houseShareContext(grant.id)),
      wrappedKey: Buffer.from(grant.wrappedKey),
      proofHash: createHash('sha256').update(await shareProof(grant.readerShare as Bytes)).digest(),
      checkKind: grant.channel.kind,
      checkHint: channel.hint,
      channel: await context.secrets.sealText(channel.target, channelContext(grant.id)),
    },
    { transaction },
  );
  await addNotice(context, { grantId: grant.id, readerShare: grant.readerShare }, transaction);
}

export async function addNotice(context: Context, { grantId, readerShare }: { grantId: string; readerShare: Uint8Array }, transaction: Transaction): Promise<void> {
  const outboxId = randomUUID();
  await OutboxRow.create(
    {
      id: outboxId, grantId, createdAt: context.clock(), state: 'waiting', messageIdHeader: `${outboxId}@${context.config.office.mailDomain}`,
      sealedShare: await context.secrets.sealBytes(readerShare, readerShareContext(outboxId)),
    },
    { transaction },
  );
  await context.jobs.deliverNotice(outboxId, transaction);
}

/** What makes two dispatches the same: everything but the sealed summary, whose nonce differs each time. */
function digestOf({ contentBlobId, reference, handling, grants }: Dispatch): Buffer {
  const hash = createHash('sha256').update(JSON.stringify({ contentBlobId, reference, handling }));
  for (const grant of grants) hash.update(JSON.stringify([grant.id, grant.address, grant.role, grant.channel])).update(grant.wrappedKey).update(grant.readerShare);
  return hash.digest();
}

async function alreadyDispatched(sender: AccountRow, dispatch: Dispatch): Promise<{ sentAt: Date; already: true } | undefined> {
  const existing = await MessageRow.findByPk(dispatch.id);
  if (existing === null) return undefined;
  if (existing.accountId !== sender.id || !existing.requestDigest.equals(digestOf(dispatch))) throw new Problem('conflict', 409, 'A different message has been sent under this number');
  return { sentAt: existing.sentAt, already: true };
}

/** @throws Problem `upload-incomplete`, `closing-out-of-range`, `own-number`, `invalid-input`, `too-large`, `conflict` */
export async function dispatchMessage(context: Context, sender: AccountRow, dispatch: Dispatch): Promise<{ sentAt: Date; already: boolean }> {
  const before = await alreadyDispatched(sender, dispatch);
  if (before !== undefined) return before;
  const { limits } = context.config.office;
  if (dispatch.grants.length > limits.maxRecipients) throw invalid(`At most ${limits.maxRecipients} recipients; this has ${dispatch.grants.length}.`);
  if (new Set(dispatch.grants.map((grant) => addressKey(grant.address))).size !== dispatch.grants.length) throw invalid('A recipient is named twice.');
  requireClosing(context, dispatch.handling.closesAt);
  const blob = await ownBlob(sender.id, dispatch.contentBlobId);
  // Base64 in lines makes four thirds and a little; the text and headers come on top.
  if (Number(blob.size) > limits.maxBytes * 1.38 + 4_000_000) throw new Problem('too-large', 413, 'The message is larger than the office allows');
  await requireComplete(context, blob);
  const sentAt = context.clock();
  try {
    await context.db.transaction(async (transaction) => {
      await MessageRow.create(
        {
          id: dispatch.id, accountId: sender.id, contentBlobId: dispatch.contentBlobId, reference: dispatch.reference, size: Number(blob.size), sentAt,
          handling: { ...dispatch.handling, closesAt: dispatch.handling.closesAt.toISOString() }, requestDigest: digestOf(dispatch),
        },
        { transaction },
      );
      await putItem(context, { accountId: sender.id, kind: 'sent', id: dispatch.id, revision: 0, sealed: dispatch.summary }, transaction);
      await record(context, { messageId: dispatch.id, kind: 'dispatched' }, transaction);
      for (const [position, grant] of dispatch.grants.entries()) {
        await addGrant(context, { sender, messageId: dispatch.id, position, grant, closesAt: dispatch.handling.closesAt }, transaction);
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
