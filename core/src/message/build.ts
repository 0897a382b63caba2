/**
 * Builds a message as RFC 5322 / MIME (RFC 2045 to 2047, 2231). Every body is base64, so that no boundary can occur in a part
 * and no line is rewritten on the way. The same content always gives the same bytes: an upload that was cut can be taken up again.
 */
import { type Bytes, concat, toBase64, utf8 } from '../bytes';
import { type Correspondent } from '../people/address';
import { type MessageContent } from './content';
import { distinctNames, safeFileName } from './file-name';

/** A header value held a line break or another control character: it would have become a header of its own. */
export class HeaderInjectionError extends Error {
  constructor(readonly header: string) {
    super(`Control character in header ${header}`);
    this.name = 'HeaderInjectionError';
  }
}

const LINE = 76;
const BYTES_A_LINE = 57;
const LINES_A_BLOCK = 4096;

/** Base64 in lines of 76 with CRLF (RFC 2045 §6.8), made in blocks so that 25 MB never stand as one string. */
export function base64Lines(bytes: Uint8Array): Bytes {
  const lines = Math.ceil(bytes.length / BYTES_A_LINE);
  const out = new Uint8Array(Math.ceil(bytes.length / 3) * 4 + lines * 2);
  const encoder = new TextEncoder();
  const block = new Uint8Array(LINE * LINES_A_BLOCK);
  let at = 0;
  for (let from = 0; from < bytes.length; from += BYTES_A_LINE * LINES_A_BLOCK) {
    const text = toBase64(bytes.subarray(from, from + BYTES_A_LINE * LINES_A_BLOCK));
    const { written } = encoder.encodeInto(text, block);
    for (let line = 0; line < written; line += LINE) {
      const part = block.subarray(line, Math.min(line + LINE, written));
      out.set(part, at);
      at += part.length;
      out[at++] = 13;
      out[at++] = 10;
    }
  }
  return out;
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
  const spelled = /^[\x20-\x7e]*$/.test(name) ? `"${name.replace(/(["\\])/g, '\\$1')}"` : encodeWords(name);
  return `${spelled} <${address}>`;
}

const mailboxes = (header: string, list: Correspondent[]): string => list.map((one) => mailbox(header, one)).join(',\r\n ');

/** RFC 5322 §3.3, in UTC. */
export const rfc5322Date = (date: Date): string => date.toUTCString().replace('GMT', '+0000');

function disposition(name: string): string {
  if (/^[\x20-\x7e]*$/.test(name) && !/["\\%]/.test(name)) return `attachment;\r\n filename="${name}"`;
  // One of the two forms only: given both, some readers (python's) take the poorer one.
  const extended = encodeURIComponent(name).replace(/['()*!]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);
  return `attachment;\r\n filename*=utf-8''${extended}`;
}

const mediaType = (type: string): string => (/^[\w.+-]+\/[\w.+-]+$/.test(type) ? type.toLowerCase() : 'application/octet-stream');

type Part = { headers: string; body: Bytes };

const textPart = (subtype: 'plain' | 'html', text: string): Part => ({
  headers: `Content-Type: text/${subtype}; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n`,
  body: base64Lines(utf8(text)),
});

function multipart(subtype: 'alternative' | 'mixed', boundary: string, parts: Part[]): Part {
  const pieces = parts.flatMap((part) => [utf8(`--${boundary}\r\n${part.headers}\r\n`), part.body, utf8('\r\n')]);
  return {
    headers: `Content-Type: multipart/${subtype};\r\n boundary="${boundary}"\r\n`,
    body: concat(...pieces, utf8(`--${boundary}--\r\n`)),
  };
}

/** @throws HeaderInjectionError when a header value holds a control character. */
export function buildMessage(message: MessageContent): Bytes {
  const boundary = message.messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40);
  const alternatives = [textPart('plain', message.text), ...(message.html === '' ? [] : [textPart('html', message.html)])];
  const body = alternatives.length === 1 ? alternatives[0]! : multipart('alternative', `a-${boundary}`, alternatives);
  const names = distinctNames(message.files.map((file) => safeFileName(file.name)));
  const files = message.files.map((file, index): Part => ({
    headers: `Content-Type: ${mediaType(file.type)}\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: ${disposition(names[index]!)}\r\n`,
    body: base64Lines(file.bytes),
  }));
  const root = files.length === 0 ? body : multipart('mixed', `m-${boundary}`, [body, ...files]);
  const headers = [
    `From: ${mailbox('From', message.from)}`,
    ...(message.to.length === 0 ? [] : [`To: ${mailboxes('To', message.to)}`]),
    ...(message.cc.length === 0 ? [] : [`Cc: ${mailboxes('Cc', message.cc)}`]),
    `Subject: ${encodeWords(guarded('Subject', message.subject))}`,
    `Date: ${rfc5322Date(message.date)}`,
    `Message-ID: <${guarded('Message-ID', message.messageId)}>`,
    ...(message.reference === '' ? [] : [`Under-Lock-Reference: ${encodeWords(guarded('Under-Lock-Reference', message.reference))}`]),
    'MIME-Version: 1.0',
  ];
  return concat(utf8(`${headers.join('\r\n')}\r\n${root.headers}\r\n`), root.body);
}
