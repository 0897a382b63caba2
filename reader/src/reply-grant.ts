/**
 * One recipient's access to a reply: its key split for them, their share sealed to their account where they have one.
 */
import { type ReplyGrant, type ReplyTarget } from '@under-lock/contract/writing';
import { type PublicKey, sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes } from '@under-lock/core/bytes';
import { splitKey } from '@under-lock/core/locks/room/grant';

export async function replyGrant(
  target: ReplyTarget,
  contentKey: Bytes,
  messageId: string,
  subject: string,
): Promise<ReplyGrant> {
  const id = crypto.randomUUID();
  const { readerShare, house } = await splitKey(contentKey, { grantId: id, messageId });
  const common = { id, ...(target.grantId === undefined ? {} : { besideGrantId: target.grantId }), ...house };
  const sealedFor = async (key: PublicKey) => ({
    sealedShare: await sealTo(key, readerShare, shareContext(id)),
    sealedSummary: await sealSummary({ subject }, readerShare, id),
  });
  if (target.account !== undefined)
    return {
      ...common,
      reader: { kind: 'account', accountId: target.account.id, ...(await sealedFor(target.account.key)) },
    };
  if (target.registered !== undefined)
    return {
      ...common,
      reader: { kind: 'registered', readerId: target.registered.id, ...(await sealedFor(target.registered.key)) },
    };
  return { ...common, reader: { kind: 'link', readerShare } };
}
