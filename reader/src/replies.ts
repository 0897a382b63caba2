/** Writing back and passing on from an access, and reading again what was written: without any screen. */
import { defined } from '@under-lock/core/defined';
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { overHiccups } from '@under-lock/contract/over-hiccups';
import { ApiProblem } from '@under-lock/contract/problem';
import * as api from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { type Channel } from '@under-lock/contract/outgoing';
import { type Bytes } from '@under-lock/core/bytes';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import {
  type ForwardToSeal,
  type ReplyDoor,
  type ReplyToSeal,
  type SealedForward,
  type SealedReply,
} from './threads/reply';
import { type Visit } from './address';
import { client, DamagedError, startThread } from './visit';
import { type ReaderDoor } from './threads/reading';

const replyTargets = ({ id }: Visit) => client(writingApi.listReplyTargets, { params: { id } });
const listReplies = async ({ id }: Visit) => (await client(writingApi.listReplies, { params: { id } })).replies;

async function sealReply(reply: ReplyToSeal): Promise<SealedReply> {
  const { door, failed, end } = startThread<ReplyDoor>('reply');
  try {
    return await Promise.race([failed, door.seal(reply)]);
  } finally {
    end();
  }
}

const putPart = (id: string, blobId: string, index: number, body: Bytes): Promise<unknown> =>
  overHiccups(() => client(writingApi.putReplyPart, { params: { id, blobId, index }, body }));

/**
 * Uploads what is missing and sends; the same sealed reply may be sent again until it has gone, and goes once. @throws
 * ApiProblem
 */
async function sendSealed(
  { id }: Visit,
  { id: replyId, contentBlobId, content, grants, ownKey }: SealedReply,
  toAll: boolean,
  progress: (done: number) => void,
): Promise<void> {
  const { received } = await client(writingApi.startReplyBlob, {
    params: { id },
    body: { id: contentBlobId, size: content.length },
  });
  const there = new Set(received);
  const count = partCount(content.length);
  for (let index = 0; index < count; index++) {
    if (!there.has(index))
      await putPart(id, contentBlobId, index, content.slice(index * PART_BYTES, (index + 1) * PART_BYTES));
    progress((index + 1) / count);
  }
  await client(writingApi.sendReply, { params: { id }, body: { id: replyId, contentBlobId, toAll, grants, ownKey } });
}

/** @throws ApiProblem, DamagedError */
async function openReply(
  { id, share }: Visit,
  reply: { id: string; size: number; ownKey: Uint8Array },
): Promise<MessageContent> {
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(reply.size); index++)
    parts.push(await client(writingApi.getReplyPart, { params: { id, replyId: reply.id, index } }));
  const { door, failed, end } = startThread<ReaderDoor>('reading');
  try {
    return await Promise.race([failed, door.openOwn(parts, share, reply.ownKey as Bytes, reply.id)]);
  } catch (error) {
    throw error instanceof ApiProblem ? error : new DamagedError('The reply does not open');
  } finally {
    end();
  }
}

const listForwards = async ({ id }: Visit) => (await client(writingApi.listForwards, { params: { id } })).forwards;

/** The message's key, split for one more person; the house's half is released anew for it. @throws ApiProblem */
async function sealForward({ id, share }: Visit, question: ForwardToSeal['question']): Promise<SealedForward> {
  const { messageId, houseShare, wrappedKey } = await client(api.openRoom, { params: { id } });
  const { door, failed, end } = startThread<ReplyDoor>('reply');
  try {
    return await Promise.race([
      failed,
      door.forward({
        share,
        house: { houseShare, wrappedKey },
        identity: { grantId: id, messageId },
        ...defined({ question }),
      }),
    ]);
  } finally {
    end();
  }
}

/** A one-time password is told by the office's own sender only. */
export type PassOnCheck = Exclude<IdentityCheck, 'told'>;

/** @throws ApiProblem `reads-already`, `below-preset`, `own-number`, `invalid-input` */
async function passOn(
  { id }: Visit,
  { question, ...halves }: SealedForward,
  to: { address: string; name: string; check: PassOnCheck; target: string },
): Promise<void> {
  const { address, name, check, target } = to;
  const channel: Channel =
    check === 'question' ? { kind: check, question: question! } : { kind: check, target, ...defined({ question }) };
  await client(writingApi.forwardRoom, { params: { id }, body: { ...halves, address, name, channel } });
}

export type ReplyTargets = Awaited<ReturnType<typeof replyTargets>>;
export type SentReply = Awaited<ReturnType<typeof listReplies>>[number];
export type Forwarded = Awaited<ReturnType<typeof listForwards>>[number];
export interface ForwardTo {
  address: string;
  name: string;
  check: PassOnCheck;
  target: string;
}

/** What the reading page can write; the sender's view of it lets nothing leave. */
export interface WritingDoor {
  replyTargets(): Promise<ReplyTargets>;
  listReplies(): Promise<SentReply[]>;
  openReply(reply: SentReply): Promise<MessageContent>;
  sealReply(reply: Omit<ReplyToSeal, 'share'>): Promise<SealedReply>;
  /** Sealed once, sent again as it is until it has gone. @throws ApiProblem */
  sendReply(sealed: SealedReply, toAll: boolean, progress: (done: number) => void): Promise<void>;
  listForwards(): Promise<Forwarded[]>;
  /** @throws ApiProblem `reads-already`, `below-preset`, `own-number`, `invalid-input` */
  passOn(to: ForwardTo, question: ForwardToSeal['question']): Promise<void>;
}
export const writingDoor = (visit: Visit): WritingDoor => ({
  replyTargets: () => replyTargets(visit),
  listReplies: () => listReplies(visit),
  openReply: (reply) => openReply(visit, reply),
  sealReply: (reply) => sealReply({ ...reply, share: visit.share }),
  sendReply: (sealed, toAll, progress) => sendSealed(visit, sealed, toAll, progress),
  listForwards: () => listForwards(visit),
  passOn: async (to, question) => passOn(visit, await sealForward(visit, question), to),
});
