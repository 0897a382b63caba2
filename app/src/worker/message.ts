/** Files of drafts, sealing a message for its recipients, and opening what was sent: all in the worker thread. */
import { type RecipientRole } from '@under-lock/core/people/role';
import { type Channel } from '@under-lock/contract/message';
import { sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes, fromBase64Url, randomBytes, sha256, toBase64Url } from '@under-lock/core/bytes';
import { type ContentKey, openContent, sealContent } from '@under-lock/core/locks/room/content';
import { answerProof, sealQuestion } from '@under-lock/core/identity/answer';
import { type Language } from '@under-lock/core/people/language';
import { type IdentityCheck } from '@under-lock/core/handling/handling';
import { splitKey } from '@under-lock/core/locks/room/grant';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { buildMessage } from '@under-lock/core/message/build';
import { buildNotice, type Notice } from '@under-lock/core/notice/notice';
import { type MessageContent } from '@under-lock/core/message/content';
import { type KeptGrant } from '@under-lock/core/outgoing/draft';
import { allowTransfers, cancelTransfer, discard, download, upload } from './transfer';

/** A content key as it is kept in the vault. */
export interface KeptKey {
  key: string;
  salt: string;
}
export const makeKey = (): KeptKey => ({ key: toBase64Url(randomBytes(32)), salt: toBase64Url(randomBytes(32)) });
const contentKey = ({ key, salt }: KeptKey): ContentKey => ({ key: fromBase64Url(key), salt: fromBase64Url(salt) });

export interface DraftFile {
  blobId: string;
  name: string;
  type: string;
  size: number;
  key: KeptKey;
}

export interface Asked {
  text: string;
  answer: string;
}

/** How one recipient is to be known, before anything is sealed for them. */
export type WantedReader =
  | { kind: 'link'; language?: Language; check: IdentityCheck; target?: string; question?: Asked }
  | { kind: 'account'; accountId: string; suite: number; publicKey: Bytes }
  | { kind: 'registered'; readerId: string; language?: Language; suite: number; publicKey: Bytes };

export interface WantedGrant {
  address: string;
  name: string;
  role: RecipientRole;
  /** The content travels as a file. */
  carried?: boolean;
  reader: WantedReader;
}

async function sealedQuestion(
  { text, answer }: Asked,
  readerShare: Bytes,
  grantId: string,
): Promise<{ sealed: string; answerProof: string }> {
  return {
    sealed: toBase64Url(await sealQuestion(text, readerShare, grantId)),
    answerProof: toBase64Url(await answerProof(answer, readerShare)),
  };
}

async function keptReader(
  reader: WantedReader,
  readerShare: Bytes,
  grantId: string,
  subject: string,
): Promise<KeptGrant['reader']> {
  if (reader.kind !== 'link') {
    const sealed = {
      sealedShare: toBase64Url(await sealTo(reader, readerShare, shareContext(grantId))),
      sealedSummary: toBase64Url(await sealSummary({ subject }, readerShare, grantId)),
    };
    if (reader.kind === 'account') return { kind: 'account', accountId: reader.accountId, ...sealed };
    return {
      kind: 'registered',
      readerId: reader.readerId,
      ...(reader.language === undefined ? {} : { language: reader.language }),
      ...sealed,
    };
  }
  const { language, check, target, question } = reader;
  return {
    kind: 'link',
    ...(language === undefined ? {} : { language }),
    check,
    ...(target === undefined ? {} : { target }),
    ...(question === undefined ? {} : { question: await sealedQuestion(question, readerShare, grantId) }),
  };
}

export interface MessageToSeal extends Omit<MessageContent, 'files'> {
  files: DraftFile[];
}

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
  makeKey,
  /** Seals a chosen file and keeps it with the draft. */
  async addFile(file: File, blobId: string, key: KeptKey, progress: (done: number) => void): Promise<void> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    keepAtHand(blobId, bytes);
    await upload(blobId, await sealContent(bytes, contentKey(key)), progress);
  },
  async removeFile(blobId: string): Promise<void> {
    cancelTransfer(blobId);
    atHand.delete(blobId);
    await discard(blobId);
  },
  cancel: cancelTransfer,
  allow: allowTransfers,
  discard,
  /** What a message says, as 32 bytes: tells whether a draft is still the one an earlier try sealed. */
  fingerprint: async (content: MessageToSeal): Promise<string> =>
    toBase64Url(
      await sha256(
        new TextEncoder().encode(
          JSON.stringify([
            content.subject,
            content.html,
            content.text,
            content.reference,
            content.files,
            content.to,
            content.cc,
          ]),
        ),
      ),
    ),
  /** One grant per recipient for a content key. The subject is for colleagues' lists, sealed to them. */
  async split(
    { messageId, subject }: { messageId: string; subject: string },
    key: KeptKey,
    recipients: WantedGrant[],
  ): Promise<KeptGrant[]> {
    return Promise.all(
      recipients.map(async ({ address, name, role, carried, reader }) => {
        const id = crypto.randomUUID();
        const { readerShare, house } = await splitKey(fromBase64Url(key.key), { grantId: id, messageId });
        return {
          id,
          address,
          name,
          role,
          ...(carried === undefined ? {} : { carried }),
          readerShare: toBase64Url(readerShare),
          houseShare: toBase64Url(house.houseShare),
          wrappedKey: toBase64Url(house.wrappedKey),
          reader: await keptReader(reader, readerShare, id, subject),
        };
      }),
    );
  },
  /** A question asked anew of somebody whose link is there already. */
  async ask(readerShare: string, grantId: string, question: Asked): Promise<NonNullable<Channel['question']>> {
    const { sealed, answerProof: proof } = await sealedQuestion(question, fromBase64Url(readerShare), grantId);
    return { sealed: fromBase64Url(sealed), answerProof: fromBase64Url(proof) };
  },
  /** Builds, seals and uploads the content of a message. */
  async sealAndUpload(
    content: MessageToSeal,
    blobId: string,
    key: KeptKey,
    progress: (done: number) => void,
  ): Promise<{ size: number }> {
    const sealed = await sealContent(buildMessage(await contentOf(content)), contentKey(key));
    await upload(blobId, sealed, progress);
    return { size: sealed.length };
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
  noticeHash: async (notice: Notice, blobId: string): Promise<Bytes> =>
    sha256(buildNotice(notice, await download(blobId))),
  /** The draft as its readers will find it. */
  preview: contentOf,
};
