/** Reads a message back with postal-mime, under limits: what a reader opens comes from somebody else. */
import PostalMime, { addressParser, type Address } from 'postal-mime';
import { type Bytes, concat, randomBytes, toBase64, utf8 } from '../bytes';
import { type Correspondent } from '../people/address';
import { fromBase64Lines } from './base64';
import { type MessageContent } from './content';
import { EntityError, fieldNamed, partsOf, readEntity } from './entity';
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

/** From here on a file is decoded by ourselves: the parser goes through strings, and takes ten times as long. */
const LARGE_BYTES = 64 * 1024;

interface Lightened { bytes: Bytes; /** By what stands in their place. */ files: ReadonlyMap<string, Bytes> }

/** The mail with its large files taken out, each for a short text that nobody else can have written. */
function lightened(bytes: Bytes): Lightened {
  const mail = readEntity(bytes);
  const files = new Map<string, Bytes>();
  const pieces: Uint8Array[] = [];
  let at = 0;
  for (const part of mail.contentType.type === 'multipart/mixed' ? partsOf(mail) : []) {
    const { body, fields } = readEntity(part);
    const isFile = body.length >= LARGE_BYTES && /^attachment\b/i.test(fieldNamed({ fields }, 'content-disposition') ?? '') && fieldNamed({ fields }, 'content-transfer-encoding')?.toLowerCase() === 'base64';
    if (!isFile) continue;
    const mark = toBase64(randomBytes(24));
    files.set(mark, fromBase64Lines(body));
    const from = body.byteOffset - bytes.byteOffset;
    // In base64 like the file, so that its transfer encoding stays true.
    pieces.push(bytes.subarray(at, from), utf8(toBase64(utf8(mark))));
    at = from + body.length;
  }
  return files.size === 0 ? { bytes, files } : { bytes: concat(...pieces, bytes.subarray(at)), files };
}

/** The parser is more patient with what is malformed than we are: it gets that as it came. */
function lightenedIfSound(bytes: Bytes): Lightened {
  try {
    return lightened(bytes);
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return { bytes, files: new Map() };
  }
}

const MARK_BYTES = 32;
function fileBytes(content: ArrayBuffer, files: Lightened['files']): Bytes {
  const bytes = new Uint8Array(content);
  return (bytes.length === MARK_BYTES ? files.get(new TextDecoder().decode(bytes)) : undefined) ?? bytes;
}

/** @throws MessageReadError on bytes that are no mail within the limits. */
export async function readMessage(bytes: Bytes): Promise<MessageContent> {
  try {
    const { bytes: light, files } = bytes.length < LARGE_BYTES ? { bytes, files: new Map<string, Bytes>() } : lightenedIfSound(bytes);
    const mail = await PostalMime.parse(light, { maxNestingDepth: MAX_NESTING, maxHeadersSize: MAX_HEADERS_BYTES, attachmentEncoding: 'arraybuffer' });
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
        bytes: fileBytes(file.content as ArrayBuffer, files),
      })),
    };
  } catch (cause) {
    throw Object.assign(new MessageReadError(), { cause });
  }
}
