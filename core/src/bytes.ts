/** Bytes and their spellings. Base64 and hex come from @scure/base, which uses the engine's own when there is one. */
import { base64, base64urlnopad, hex } from '@scure/base';

/** Bytes backed by a plain ArrayBuffer: what WebCrypto takes without a copy. */
export type Bytes = Uint8Array<ArrayBuffer>;

const encoder = new TextEncoder();
const decoder = new TextDecoder('utf-8', { fatal: true });

export const utf8 = (text: string): Bytes => encoder.encode(text) as Bytes;
/** Throws TypeError on bytes that are not UTF-8. */
export const fromUtf8 = (bytes: Uint8Array): string => decoder.decode(bytes);

/** Node's own coder, where there is one: answers of many megabytes are coded on the thread that answers everybody. */
interface NodeBuffer {
  from(
    value: string | ArrayBufferLike,
    encodingOrOffset: string | number,
    length?: number,
  ): Uint8Array & { toString(encoding: string): string };
}
const { Buffer: nodeBuffer } = globalThis as { Buffer?: NodeBuffer };

export const toBase64Url = (bytes: Uint8Array): string =>
  nodeBuffer === undefined
    ? base64urlnopad.encode(bytes)
    : nodeBuffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('base64url');

function decoded64Url(text: string): Bytes {
  if (nodeBuffer === undefined) return base64urlnopad.decode(text) as Bytes;
  const decoded = nodeBuffer.from(text, 'base64url');
  return new Uint8Array(decoded);
}

/**
 * One spelling for each value (RFC 4648 §3.5): engines let the last character's unused bits differ, and a changed text
 * would pass as the same. Throws on any other.
 */
export function fromBase64Url(text: string): Bytes {
  const bytes = decoded64Url(text);
  if (toBase64Url(bytes) !== text) throw new TypeError('Not base64url in its one spelling');
  return bytes;
}
export const toBase64 = (bytes: Uint8Array): string => base64.encode(bytes);
/** @throws Error for what is none */
export const fromBase64 = (text: string): Bytes => base64.decode(text) as Bytes;
export const toHex = (bytes: Uint8Array): string => hex.encode(bytes);

/** What stands one after another without having been put together: what is large is copied once, at the end. */
export type Pieces = readonly Uint8Array[];

/** What comes one piece after another, as many octets as was said. It is taken once. */
export interface Flow {
  length: number;
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>;
}

/** All of it. */
export async function piecesOf({ pieces }: Flow): Promise<Pieces> {
  const all: Uint8Array[] = [];
  for await (const piece of pieces) all.push(piece);
  return all;
}

export const flowOf = (bytes: Uint8Array): Flow => ({ length: bytes.length, pieces: [bytes] });

export const lengthOf = (pieces: Pieces): number => pieces.reduce((sum, { length }) => sum + length, 0);

/** From one place to another as if they were one: a view where one piece holds it all, else a copy. */
export function between(pieces: Pieces, from: number, to: number): Bytes {
  const found: Uint8Array[] = [];
  let start = 0;
  for (const piece of pieces) {
    const end = start + piece.length;
    if (end > from && start < to) found.push(piece.subarray(Math.max(from - start, 0), Math.min(to, end) - start));
    start = end;
  }
  return found.length === 1 ? (found[0] as Bytes) : concat(...found);
}

export function concat(...parts: Uint8Array[]): Bytes {
  const whole = new Uint8Array(lengthOf(parts));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/** Of public bytes: it takes as long as they agree. */
export const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((octet, at) => octet === b[at]);

export const randomBytes = (length: number): Bytes => globalThis.crypto.getRandomValues(new Uint8Array(length));

export async function sha256(bytes: Uint8Array): Promise<Bytes> {
  return new Uint8Array(await globalThis.crypto.subtle.digest('SHA-256', bytes as Bytes));
}
