/**
 * One access, made of a message's key where that may be: whoever gives one goes through here, at sending, in a reply,
 * when passing on, and to a colleague.
 */
import { type PublicKey, sealSummary, sealTo, shareContext } from '../account/key-pair';
import { type Bytes, randomBytes } from '../bytes';
import { answerProof, sealQuestion } from '../identity/answer';
import { sealForRoom } from '../locks/room/seal';
import { splitKey } from '../locks/room/split';
import { type Asked } from '../locks/wanted';
import { type MessageContent } from '../message/content';

/** A question sealed under the reader's share, and what proves the answer. */
export interface SealedQuestion {
  sealed: Bytes;
  answerProof: Bytes;
}

export async function askedOf({ text, answer }: Asked, readerShare: Bytes, grantId: string): Promise<SealedQuestion> {
  return {
    sealed: await sealQuestion(text, readerShare, grantId),
    answerProof: await answerProof(answer, readerShare),
  };
}

/** For somebody with an account: their share, and what their list may show. */
export interface SealedToAccount {
  sealedShare: Bytes;
  sealedSummary: Bytes;
}

export const sealedToAccount = async (
  key: PublicKey,
  readerShare: Bytes,
  { grantId, subject }: { grantId: string; subject: string },
): Promise<SealedToAccount> => ({
  sealedShare: await sealTo(key, readerShare, shareContext(grantId)),
  sealedSummary: await sealSummary({ subject }, readerShare, grantId),
});

export interface MadeAccess {
  id: string;
  readerShare: Bytes;
  /** What the house keeps. */
  halves: { houseShare: Bytes; wrappedKey: Bytes };
}

/** @param key Of the message's content. */
export async function accessTo(key: Bytes, messageId: string, id: string): Promise<MadeAccess> {
  const { readerShare, house } = await splitKey(key, { grantId: id, messageId });
  return { id, readerShare, halves: house };
}

/** What a reader writes, sealed as the room holds it, under a key that is made for it. */
export async function sealWritten(message: MessageContent): Promise<{ key: Bytes; content: Bytes }> {
  const key = randomBytes(32);
  return { key, content: await sealForRoom(message, { key, salt: randomBytes(32) }) };
}
