/** The reader's door to core: joins the halves of the key and opens the content away from the page. */
import { concat, type Bytes } from '@under-lock/core/bytes';
import { joinKey, type GrantIdentity, type HouseHalf } from '@under-lock/core/locks/room/grant';
import { openOwnCopy } from '@under-lock/core/locks/room/own-copy';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { type MessageContent } from '@under-lock/core/message/content';
import { expose } from 'comlink';

const door = {
  /** What the reader wrote themselves. */
  async openOwn(parts: Bytes[], share: Bytes, ownKey: Bytes, messageId: string): Promise<MessageContent> {
    return openFromRoom({ content: concat(...parts), key: await openOwnCopy(ownKey, share, messageId) });
  },
  async open(parts: Bytes[], share: Bytes, house: HouseHalf, identity: GrantIdentity): Promise<MessageContent> {
    return openFromRoom({ content: concat(...parts), key: await joinKey(share, house, identity) });
  },
};
export type ReaderDoor = typeof door;

expose(door);
