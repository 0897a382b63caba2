/**
 * Builds a message as RFC 5322 / MIME (RFC 2045 to 2047, 2231). Every body is base64, so that no boundary can occur
 * in a part
 * and no line is rewritten on the way. The same content always gives the same bytes: an upload that was cut can be
 * taken up again.
 */
import { type Bytes, concat, type Pieces, toBase64, utf8 } from '../bytes';
import { type Correspondent } from '../people/address';
import { base64Lines } from './base64';
import { type MessageContent } from './content';
import { distinctNames, safeFileName } from '../file-name';

/** A header value held a line break or another control character: it would have become a header of its own. */
export class HeaderInjectionError extends Error {
  constructor(readonly header: string) {
    super(`Control character in header ${header}`);
    this.name = 'HeaderInjectionError';
  }
}

function guarded(header: string, value: string): string {
  // eslint-disable-next-line no-control-regex
  if (/[\x00-\x1f\x7f]/.test(value)) throw new HeaderInjectionError(header);
  return value;
}

/** RFC 2047 encoded words of at most 75 characters, split between characters; plain ASCII stays as it is. */
function encodeWords(text: string): string {
  if (/^[\x20-\x7e]*$/.test(text) && !text.includes('=?')) return text;
  const words: string[] = [];
  let word = '';
  for (const character of text) {
    if (utf8(word + character).length > 45) {
      words.push(word);
      word = '';
    }
    word += character;
  }
  words.push(word);
  return words.map((part) => `=?utf-8?B?${toBase64(utf8(part))}?=`).join('\r\n ');
}

function mailbox(header: string, { name, address }: Correspondent): string {
  guarded(header, address);
  if (guarded(header, name) === '') return `<${address}>`;
  // Readers decode what looks like an encoded word also where it is quoted.
  const spelled =
    /^[\x20-\x7e]*$/.test(name) && !name.includes('=?') ? `"${name.replace(/(["\\])/g, '\\$1')}"` : encodeWords(name);
  return `${spelled} <${address}>`;
}

const mailboxes = (header: string, list: Correspondent[]): string =>
  list.map((one) => mailbox(header, one)).join(',\r\n ');

/** RFC 5322 §3.3, in UTC. */
export const rfc5322Date = (date: Date): string => date.toUTCString().replace('GMT', '+0000');

function disposition(name: string): string {
  if (/^[\x20-\x7e]*$/.test(name) && !/["\\%]/.test(name)) return `attachment;\r\n filename="${name}"`;
  // One of the two forms only: given both, some readers (python's) take the poorer one.
  const extended = encodeURIComponent(name).replace(
    /['()*!]/g,
    (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
  );
  return `attachment;\r\n filename*=utf-8''${extended}`;
}

const mediaType = (type: string): string =>
  /^[\w.+-]+\/[\w.+-]+$/.test(type) ? type.toLowerCase() : 'application/octet-stream';

export const textPart = (subtype: 'plain' | 'html', text: string): Part => ({
  headers: `Content-Type: text/${subtype}; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n`,
  body: [base64Lines(utf8(text))],
});

export function multipart(subtype: string, boundary: string, parts: readonly Part[]): Part {
  const pieces = parts.flatMap((part) => [utf8(`--${boundary}\r\n${part.headers}\r\n`), ...part.body, utf8('\r\n')]);
  return {
    headers: `Content-Type: multipart/${subtype};\r\n boundary="${boundary}"\r\n`,
    body: [...pieces, utf8(`--${boundary}--\r\n`)],
  };
}

function answerFields(answers: readonly string[]): string[] {
  const ids = answers.map((id) => `<${guarded('References', id)}>`);
  return ids.length === 0 ? [] : [`In-Reply-To: ${ids.at(-1)!}\r\n`, `References: ${ids.join('\r\n ')}\r\n`];
}

/**
 * The header fields that say who, to whom, what and when; each with its line end. @throws HeaderInjectionError when a
 * value holds a control character.
 */
export function headerFields(message: Omit<MessageContent, 'text' | 'html' | 'files'>): string[] {
  return [
    `From: ${mailbox('From', message.from)}\r\n`,
    ...(message.to.length === 0 ? [] : [`To: ${mailboxes('To', message.to)}\r\n`]),
    ...(message.cc.length === 0 ? [] : [`Cc: ${mailboxes('Cc', message.cc)}\r\n`]),
    `Subject: ${encodeWords(guarded('Subject', message.subject))}\r\n`,
    `Date: ${rfc5322Date(message.date)}\r\n`,
    `Message-ID: <${guarded('Message-ID', message.messageId)}>\r\n`,
    ...answerFields(message.answers ?? []),
    ...(message.reference === ''
      ? []
      : [`Under-Lock-Reference: ${encodeWords(guarded('Under-Lock-Reference', message.reference))}\r\n`]),
  ];
}

export interface Part {
  /** Its fields, the content type first, each with its line end. */
  headers: string;
  body: Pieces;
}

/** Text, formatted text and files as one part, without the message's own header. @throws HeaderInjectionError */
export function contentPart(message: MessageContent): Part {
  const boundary = message.messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40);
  const alternatives = [
    textPart('plain', message.text),
    ...(message.html === '' ? [] : [textPart('html', message.html)]),
  ];
  const body = alternatives.length === 1 ? alternatives[0]! : multipart('alternative', `a-${boundary}`, alternatives);
  const names = distinctNames(message.files.map((file) => safeFileName(file.name)));
  const files = message.files.map((file, index): Part => ({
    headers: `Content-Type: ${mediaType(file.type)}\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: ${disposition(names[index]!)}\r\n`,
    body: [base64Lines(file.bytes)],
  }));
  return files.length === 0 ? body : multipart('mixed', `m-${boundary}`, [body, ...files]);
}

export const MIME_VERSION = 'MIME-Version: 1.0\r\n';

/** @throws HeaderInjectionError when a header value holds a control character. */
export function messageInPieces(message: MessageContent): Pieces {
  const part = contentPart(message);
  return [utf8(`${headerFields(message).join('')}${MIME_VERSION}${part.headers}\r\n`), ...part.body];
}

/** In one piece. @throws HeaderInjectionError */
export const buildMessage = (message: MessageContent): Bytes => concat(...messageInPieces(message));
