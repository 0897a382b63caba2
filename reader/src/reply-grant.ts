/**
 * One recipient's access to a reply: its key split for them, their share sealed to their account where they have one.
 */
import { defined } from '@under-lock/core/defined';
import { type ReplyGrant, type ReplyTarget } from '@under-lock/contract/writing';
import { type Bytes } from '@under-lock/core/bytes';
import { accessTo, sealedToAccount } from '@under-lock/core/outgoing/access';

export async function replyGrant(
  { grantId, account, registered }: ReplyTarget,
  contentKey: Bytes,
  messageId: string,
  subject: string,
): Promise<ReplyGrant> {
  const { id, readerShare, halves } = await accessTo(contentKey, messageId, crypto.randomUUID());
  const common = { id, ...defined({ besideGrantId: grantId }), ...halves };
  const about = { grantId: id, subject };
  if (account !== undefined) {
    const sealed = await sealedToAccount(account.key, readerShare, about);
    return { ...common, reader: { kind: 'account', accountId: account.id, ...sealed } };
  }
  if (registered !== undefined) {
    const sealed = await sealedToAccount(registered.key, readerShare, about);
    return { ...common, reader: { kind: 'registered', readerId: registered.id, ...sealed } };
  }
  return { ...common, reader: { kind: 'link', readerShare } };
}
