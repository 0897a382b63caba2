import { buildMessage } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { type Parcel, type Recipient, type SealingMeans } from '../lock';
import { sealContent } from './content';
import { splitKey } from './grant';

/** One sealed content for all, and a grant of its key for each. */
export async function sealForRoom(
  message: MessageContent,
  recipients: readonly Recipient[],
  { messageId, contentKey, newId }: SealingMeans,
): Promise<Parcel[]> {
  const content = await sealContent(buildMessage(message), contentKey);
  const grants = await Promise.all(
    recipients.map(async ({ address }) => {
      const grantId = newId();
      return { address, grantId, split: await splitKey(contentKey.key, { grantId, messageId }) };
    }),
  );
  return [{ lock: 'room', content, grants }];
}
