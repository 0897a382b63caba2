/**
 * Seals a reply, or passes on, away from the page: builds the message, splits its key for everybody it goes to, keeps a
 * copy for its writer. Loaded only when something is written.
 */
import { type ReplyGrant, type ReplyTarget } from '@under-lock/contract/writing';
import { type Bytes, randomBytes } from '@under-lock/core/bytes';
import { sealContent } from '@under-lock/core/locks/room/content';
import { answerProof, sealQuestion } from '@under-lock/core/identity/answer';
import { type GrantIdentity, type HouseHalf, joinKey, splitKey } from '@under-lock/core/locks/room/grant';
import { sealOwnCopy } from '@under-lock/core/locks/room/own-copy';
import { buildMessage } from '@under-lock/core/message/build';
import { type MessageContent, type MessageFile } from '@under-lock/core/message/content';
import { expose } from 'comlink';
import { replyGrant } from './reply-grant';

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
  question?: { text: string; answer: string };
}

export interface SealedForward {
  id: string;
  houseShare: Bytes;
  wrappedKey: Bytes;
  readerShare: Bytes;
  question?: { sealed: Bytes; answerProof: Bytes };
}

const door = {
  /** The message's key split anew for one more person. */
  async forward({ share, house, identity, question }: ForwardToSeal): Promise<SealedForward> {
    const id = crypto.randomUUID();
    const split = await splitKey(await joinKey(share, house, identity), { grantId: id, messageId: identity.messageId });
    const asked =
      question === undefined
        ? {}
        : {
            question: {
              sealed: await sealQuestion(question.text, split.readerShare, id),
              answerProof: await answerProof(question.answer, split.readerShare),
            },
          };
    return { id, ...split.house, readerShare: split.readerShare, ...asked };
  },
  async seal({ message, files, targets, share }: ReplyToSeal): Promise<SealedReply> {
    const key = randomBytes(32);
    const id = crypto.randomUUID();
    const attached = await Promise.all(
      files.map(async (file): Promise<MessageFile> => ({
        name: file.name,
        type: file.type,
        bytes: new Uint8Array(await file.arrayBuffer()),
      })),
    );
    const content = await sealContent(buildMessage({ ...message, files: attached }), { key, salt: randomBytes(32) });
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
