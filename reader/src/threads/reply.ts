/**
 * Seals a reply, or passes on, away from the page: builds the message, splits its key for everybody it goes to, keeps a
 * copy for its writer. Loaded only when something is written.
 */
import { type ReplyGrant, type ReplyTarget } from '@under-lock/contract/writing';
import { type Bytes } from '@under-lock/core/bytes';
import { type GrantIdentity, type HouseHalf, joinKey } from '@under-lock/core/locks/room/grant';
import { sealOwnCopy } from '@under-lock/core/locks/room/own-copy';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Asked } from '@under-lock/core/locks/wanted';
import { accessTo, askedOf, type SealedQuestion, sealWritten } from '@under-lock/core/outgoing/access';
import { expose } from 'comlink';
import { attached } from '../attached';
import { replyGrant } from '../reply-grant';

export interface ReplyToSeal {
  message: Omit<MessageContent, 'files'>;
  files: File[];
  targets: ReplyTarget[];
  /** The writer's own share. */
  share: Bytes;
}

export interface SealedReply {
  id: string;
  contentBlobId: string;
  content: Bytes;
  grants: ReplyGrant[];
  ownKey: Bytes;
}

export interface ForwardToSeal {
  share: Bytes;
  house: HouseHalf;
  identity: GrantIdentity;
  question?: Asked;
}

export interface SealedForward {
  id: string;
  houseShare: Bytes;
  wrappedKey: Bytes;
  readerShare: Bytes;
  question?: SealedQuestion;
}

const door = {
  /** The message's key split anew for one more person. */
  async forward({ share, house, identity, question }: ForwardToSeal): Promise<SealedForward> {
    const key = await joinKey(share, house, identity);
    const { id, readerShare, halves } = await accessTo(key, identity.messageId, crypto.randomUUID());
    const asked = question === undefined ? {} : { question: await askedOf(question, readerShare, id) };
    return { id, ...halves, readerShare, ...asked };
  },
  async seal({ message, files, targets, share }: ReplyToSeal): Promise<SealedReply> {
    const id = crypto.randomUUID();
    const { key, content } = await sealWritten({ ...message, files: await attached(files) });
    return {
      id,
      contentBlobId: crypto.randomUUID(),
      content,
      grants: await Promise.all(targets.map((target) => replyGrant(target, key, id, message.subject))),
      ownKey: await sealOwnCopy(key, share, id),
    };
  },
};
export type ReplyDoor = typeof door;

expose(door);
