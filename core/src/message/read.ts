/**
 * Reads a message (RFC 5322, MIME) under limits: what a reader opens comes from somebody else. Every part's octets
 * are those that stand there; each step is
 * one walk over its input. Other readers of mail judge it in the tests.
 */
import { type Bytes } from '../bytes';
import { type Correspondent } from '../people/address';
import { readAddressList } from './address-list';
import { decodeText } from './charset';
import { type MessageContent, type MessageFile } from './content';
import { readDate } from './date';
import { decodeWords } from './encoded-words';
import {
  decodedBody,
  type Entity,
  EntityError,
  fieldNamed,
  fieldsNamed,
  partsOf,
  readEntity,
  transferEncodingOf,
} from './entity';
import { distinctNames, safeFileName } from '../file-name';
import { oneLine } from '../one-line';
import { readParameters } from './parameters';
import { htmlOfText, textOfHtml, unflowed } from './text-forms';

export const MAX_NESTING = 20;
const MAX_ANSWERS = 50;
const MAX_ALL_PARTS = 1000;
const MAX_MESSAGE_ID = 300;

export class MessageReadError extends Error {
  constructor() {
    super('The message could not be read');
    this.name = 'MessageReadError';
  }
}

/** Message-IDs in the values of References or In-Reply-To, without angle brackets, each once: the last fifty. */
export function messageIdsIn(value: string): string[] {
  const found = new Set<string>();
  for (let at = value.indexOf('<'); at >= 0; at = value.indexOf('<', at + 1)) {
    const inside = value.slice(at + 1, at + 2 + MAX_MESSAGE_ID);
    const end = inside.indexOf('>');
    const id = inside.slice(0, Math.max(0, end));
    if (id.length >= 3 && !/[<\s]/.test(id)) found.add(id);
  }
  return [...found].slice(-MAX_ANSWERS);
}

/** Every address in the value of a header field such as From or To. */
export const addressesInHeader = (value: string): string[] =>
  readAddressList(value).flatMap(({ address }) => (address === '' ? [] : [address]));

interface Section {
  text?: string;
  html?: string;
}
interface Found {
  sections: Section[];
  files: { name: string; type: string; bytes: Uint8Array }[];
  parts: number;
}

const TEXTS = { 'text/plain': 'text', 'text/html': 'html' } as const;

/** The name a part's sender gave it; undefined without one. */
function givenName({ contentType, fields }: Entity): string | undefined {
  const { parameters } = readParameters(fieldNamed({ fields }, 'content-disposition'));
  return parameters.get('filename') ?? contentType.parameters.get('name');
}

/** A text that belongs to what is read, and not a file beside it. */
function textKind(entity: Entity, depth: number): 'text' | 'html' | undefined {
  const { type } = entity.contentType;
  if (type !== 'text/plain' && type !== 'text/html') return undefined;
  const isFile =
    readParameters(fieldNamed(entity, 'content-disposition')).value === 'attachment' ||
    (depth > 0 && givenName(entity) !== undefined);
  return isFile ? undefined : TEXTS[type];
}

function textOf(entity: Entity): string {
  const { parameters } = entity.contentType;
  const said = decodeText(decodedBody(entity), parameters.get('charset'));
  // In base64 the line ends are the writer's own, everywhere else the wire's.
  const text = transferEncodingOf(entity) === 'base64' ? said : said.replace(/\r\n/g, '\n');
  return parameters.get('format')?.toLowerCase() === 'flowed'
    ? unflowed(text, parameters.get('delsp')?.toLowerCase() === 'yes')
    : text;
}

const nameOfMail = (bytes: Uint8Array): string =>
  `${decodeWords(fieldNamed(readEntity(bytes), 'subject') ?? '').slice(0, 100) || 'message'}.eml`;

function fileOf(entity: Entity): Found['files'][number] {
  const { type } = entity.contentType;
  const bytes = decodedBody(entity);
  return {
    name: givenName(entity) ?? (type === 'message/rfc822' ? nameOfMail(bytes) : 'file'),
    type: type === '' ? 'application/octet-stream' : type,
    bytes,
  };
}

/** One boundary that nobody finds makes a part a text; it is shown as it stands. */
function partsIn(entity: Entity): Uint8Array[] | undefined {
  try {
    return partsOf(entity);
  } catch (error) {
    if (error instanceof EntityError && error.code === 'malformed') return undefined;
    throw error;
  }
}

function walk(entity: Entity, depth: number, found: Found, section: Section | undefined): void {
  if (depth > MAX_NESTING || ++found.parts > MAX_ALL_PARTS) throw new EntityError('too-large');
  const { type } = entity.contentType;
  const parts = type.startsWith('multipart/') ? partsIn(entity) : undefined;
  if (parts !== undefined) {
    // The alternatives are one section: the same in several forms.
    const shared = section ?? (type === 'multipart/alternative' ? {} : undefined);
    if (shared !== undefined && section === undefined) found.sections.push(shared);
    for (const part of parts) walk(readEntity(part), depth + 1, found, shared);
    return;
  }
  const kind = type.startsWith('multipart/') ? 'text' : textKind(entity, depth);
  if (kind === undefined) found.files.push(fileOf(entity));
  else if (section === undefined) found.sections.push({ [kind]: textOf(entity) });
  else section[kind] = section[kind] === undefined ? textOf(entity) : `${section[kind]}\n${textOf(entity)}`;
}

/** Sections one below another; where some are formatted, the others become so, and the other way round. */
function shown(sections: readonly Section[]): { text: string; html: string } {
  const has = (kind: keyof Section): boolean => sections.some((one) => one[kind] !== undefined);
  const text = has('text') ? sections.map(({ text: own, html }) => own ?? textOfHtml(html ?? '')).join('\n') : '';
  const html = has('html')
    ? sections.map(({ html: own, text: plain }) => own ?? htmlOfText(plain ?? '')).join('<br>\n')
    : '';
  return { text, html };
}

const people = (entity: Entity, field: string): Correspondent[] =>
  fieldsNamed(entity, field).flatMap(({ value }) => readAddressList(value));

function filesOf(found: Found): MessageFile[] {
  const names = distinctNames(found.files.map(({ name }) => safeFileName(name)));
  return found.files.map(({ type, bytes }, index) => ({ name: names[index]!, type, bytes: bytes.slice() as Bytes }));
}

/** What its head says, and no part of its body. @throws EntityError */
export function readHeadFields(entity: Entity): Omit<MessageContent, 'text' | 'html' | 'files'> {
  const answers = messageIdsIn(`${fieldNamed(entity, 'references') ?? ''} ${fieldNamed(entity, 'in-reply-to') ?? ''}`);
  return {
    messageId: messageIdsIn(fieldNamed(entity, 'message-id') ?? '')[0] ?? '',
    from: people(entity, 'from')[0] ?? { name: '', address: '' },
    to: people(entity, 'to'),
    cc: people(entity, 'cc'),
    subject: oneLine(decodeWords(fieldNamed(entity, 'subject') ?? '')),
    ...(answers.length === 0 ? {} : { answers }),
    // The epoch where there is no date, or none that can be read: whoever shows it says so.
    date: readDate(fieldNamed(entity, 'date')) ?? new Date(0),
    reference: oneLine(decodeWords(fieldNamed(entity, 'under-lock-reference') ?? '')),
  };
}

/** @throws MessageReadError on bytes that are no mail within the limits. */
export async function readMessage(bytes: Bytes): Promise<MessageContent> {
  try {
    const entity = readEntity(bytes);
    const found: Found = { sections: [], files: [], parts: 0 };
    walk(entity, 0, found, undefined);
    return { ...readHeadFields(entity), ...shown(found.sections), files: filesOf(found) };
  } catch (cause) {
    if (!(cause instanceof EntityError)) throw cause;
    throw Object.assign(new MessageReadError(), { cause });
  }
}
