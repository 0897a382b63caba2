/** Files of drafts, sealing a message for its recipients, and opening what was sent: all in the worker thread. */
import { type Channel } from '@under-lock/contract/outgoing';
import { type Bytes, fromBase64Url, lengthOf, sha256 } from '@under-lock/core/bytes';
import { openContent, sealInPieces } from '@under-lock/core/locks/room/content';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { sealForRoomInPieces } from '@under-lock/core/locks/room/seal';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Notice } from '@under-lock/core/notice/notice';
import { fingerprintOf, type MessageToSeal } from '@under-lock/core/outgoing/content';
import { type DraftFile, type KeptGrant, type KeptKey } from '@under-lock/core/outgoing/draft';
import { askedOf } from '@under-lock/core/outgoing/access';
import { contentKeyOf, makeKey, splitFor } from '@under-lock/core/outgoing/split';
import { type Asked, type WantedGrant } from '@under-lock/core/locks/wanted';
import { allowTransfers, cancelTransfer, discard, download, upload } from '../transfer';

// Files of the draft at hand, so that sending does not fetch back what was just sealed here.
const atHand = new Map<string, Bytes>();
const MAX_AT_HAND = 64 * 1024 * 1024;

function keepAtHand(blobId: string, bytes: Bytes): void {
  const held = [...atHand.values()].reduce((sum, { length }) => sum + length, 0);
  if (held + bytes.length <= MAX_AT_HAND) atHand.set(blobId, bytes);
}

async function fileBytes({ blobId, key }: DraftFile): Promise<Bytes> {
  return atHand.get(blobId) ?? openContent(await download(blobId), fromBase64Url(key.key));
}

const read = async (message: MessageToSeal): Promise<MessageContent> => ({
  ...message,
  files: await Promise.all(
    message.files.map(async (file) => ({ name: file.name, type: file.type, bytes: await fileBytes(file) })),
  ),
});

const underWay = new Map<string, Promise<MessageContent>>();

/** With its files, fetched once for all the copies that are being made of it. */
export function contentOf(message: MessageToSeal): Promise<MessageContent> {
  const id = JSON.stringify([message.messageId, message.text, message.html, message.files.map(({ blobId }) => blobId)]);
  let content = underWay.get(id);
  if (content === undefined) {
    content = read(message).finally(() => underWay.delete(id));
    underWay.set(id, content);
  }
  return content.then((found) => ({ ...message, files: found.files }));
}

export const message = {
  makeKey: async (): Promise<KeptKey> => makeKey(),
  /** Seals a chosen file and keeps it with the draft. */
  async addFile(file: File, blobId: string, key: KeptKey, progress: (done: number) => void): Promise<void> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    keepAtHand(blobId, bytes);
    await upload(blobId, await sealInPieces([bytes], contentKeyOf(key)), progress);
  },
  async removeFile(blobId: string): Promise<void> {
    cancelTransfer(blobId);
    atHand.delete(blobId);
    await discard(blobId);
  },
  cancel: cancelTransfer,
  allow: allowTransfers,
  discard,
  /** Whether a draft is still the one an earlier try sealed. */
  fingerprint: fingerprintOf,
  split: (
    of: { messageId: string; subject: string },
    key: KeptKey,
    wanted: readonly WantedGrant[],
  ): Promise<KeptGrant[]> => splitFor(of, key, wanted, () => crypto.randomUUID()),
  /** A question asked anew of somebody whose link is there already. */
  ask: (readerShare: string, grantId: string, question: Asked): Promise<NonNullable<Channel['question']>> =>
    askedOf(question, fromBase64Url(readerShare), grantId),
  /** Builds, seals and uploads the content of a message. */
  async sealAndUpload(
    content: MessageToSeal,
    blobId: string,
    key: KeptKey,
    progress: (done: number) => void,
  ): Promise<{ size: number }> {
    const sealed = await sealForRoomInPieces(await contentOf(content), contentKeyOf(key));
    await upload(blobId, sealed, progress);
    return { size: lengthOf(sealed) };
  },
  /** What was sent, opened again from what the server holds. */
  openSent: async (
    blobId: string,
    key: KeptKey,
  ): Promise<{ content: MessageContent; sealedSize: number; sha256: Bytes }> => {
    const sealed = await download(blobId);
    return {
      content: await openFromRoom({ content: sealed, key: fromBase64Url(key.key) }),
      sealedSize: sealed.length,
      sha256: await sha256(sealed),
    };
  },
  /** SHA-256 of a notice that brought the sealed content along, made again. */
  async noticeHash(notice: Notice, blobId: string): Promise<Bytes> {
    // It brings the notices’ words in every language: fetched when somebody looks at what left.
    const { buildNotice } = await import('@under-lock/core/locks/carried/notice');
    return sha256(buildNotice(notice, await download(blobId)));
  },
  /** The draft as its readers will find it. */
  preview: contentOf,
};
