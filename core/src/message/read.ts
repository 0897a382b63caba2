/** Reads a message back with postal-mime, under limits: what a reader opens comes from somebody else. */
import PostalMime, { addressParser, type Address } from 'postal-mime';
import { type Bytes } from '../bytes';
import { type Correspondent } from '../people/address';
import { type MessageContent } from './content';
import { distinctNames, safeFileName } from './file-name';

export const MAX_NESTING = 20;
const MAX_ANSWERS = 50;
export const MAX_HEADERS_BYTES = 256 * 1024;

export class MessageReadError extends Error {
  constructor() {
    super('The message could not be read');
    this.name = 'MessageReadError';
  }
}

const correspondents = (list: Address[] | undefined): Correspondent[] =>
  (list ?? []).flatMap((entry) => entry.group ?? [entry]).map((entry) => ({ name: entry.name, address: entry.address ?? '' }));

/** Message-IDs in the values of References or In-Reply-To, without angle brackets, each once. */
export const messageIdsIn = (value: string): string[] => [...new Set([...value.matchAll(/<([^<>\s]{3,300})>/g)].map(([, id]) => id!))].slice(-MAX_ANSWERS);

/** Every address in the value of a header field such as From or To. */
export const addressesInHeader = (value: string): string[] => addressParser(value, { flatten: true }).flatMap(({ address }) => (address === undefined ? [] : [address]));

/** @throws MessageReadError on bytes that are no mail within the limits. */
export async function readMessage(bytes: Bytes): Promise<MessageContent> {
  try {
    const mail = await PostalMime.parse(bytes, { maxNestingDepth: MAX_NESTING, maxHeadersSize: MAX_HEADERS_BYTES, attachmentEncoding: 'arraybuffer' });
    const answers = messageIdsIn(`${mail.references ?? ''} ${mail.inReplyTo ?? ''}`);
    const names = distinctNames(mail.attachments.map((file) => safeFileName(file.filename ?? 'file')));
    return {
      messageId: (mail.messageId ?? '').replace(/^<|>$/g, ''),
      from: correspondents(mail.from === undefined ? undefined : [mail.from])[0] ?? { name: '', address: '' },
      to: correspondents(mail.to),
      cc: correspondents(mail.cc),
      subject: mail.subject ?? '',
      ...(answers.length === 0 ? {} : { answers }),
      date: new Date(mail.date ?? 0),
      reference: mail.headers.find(({ key }) => key === 'under-lock-reference')?.value ?? '',
      text: mail.text ?? '',
      html: mail.html ?? '',
      files: mail.attachments.map((file, index) => ({
        name: names[index]!,
        type: file.mimeType,
        bytes: new Uint8Array(file.content as ArrayBuffer),
      })),
    };
  } catch (cause) {
    throw Object.assign(new MessageReadError(), { cause });
  }
}
