import { buildMessage } from '../../message/build';
import { readMessage } from '../../message/read';
import { type LockKind } from '../lock';
import { assessRoom } from './assess';
import { openContent, sealContent } from './content';
import { splitKey } from './grant';

/** The hosted reading room: one sealed content, one grant per recipient. */
export const roomLock: LockKind = {
  lock: 'room',
  assess: assessRoom,
  async seal(message, recipients, { messageId, contentKey, newId }) {
    const content = await sealContent(buildMessage(message), contentKey);
    const grants = await Promise.all(
      recipients.map(async ({ address }) => {
        const grantId = newId();
        return { address, grantId, split: await splitKey(contentKey.key, { grantId, messageId }) };
      }),
    );
    return [{ lock: 'room', content, grants }];
  },
  open: async ({ content, key }) => readMessage(await openContent(content, key)),
};
