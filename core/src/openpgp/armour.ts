/**
 * ASCII armour (RFC 9580 §6.2), both ways, by lines of base64 as mail has them. The checksum is written because some
 * programs read nothing without it, and never looked at:
 * §6.1 forbids rejecting by it, and what matters is authenticated inside.
 */
import { type Bytes, concat, utf8 } from '../bytes';
import { base64Lines, fromBase64Lines } from '../message/base64';

export const ARMOUR_KINDS = ['MESSAGE', 'PUBLIC KEY BLOCK', 'PRIVATE KEY BLOCK', 'SIGNATURE'] as const;
export type ArmourKind = (typeof ARMOUR_KINDS)[number];

/** §6.1.1: generator 0x864CFB, an octet at a time. */
const CRC_TABLE = Uint32Array.from({ length: 256 }, (_, octet) => {
  let crc = octet << 16;
  for (let bit = 0; bit < 8; bit++) crc = (crc << 1) ^ ((crc & 0x800000) === 0 ? 0 : 0x1864cfb);
  return crc & 0xffffff;
});
function checksum(bytes: Uint8Array): Bytes {
  let crc = 0xb704ce;
  for (let at = 0; at < bytes.length; at++) crc = ((crc << 8) & 0xffffff) ^ CRC_TABLE[(crc >> 16) ^ bytes[at]!]!;
  return Uint8Array.of(crc >> 16, (crc >> 8) & 255, crc & 255);
}

/** `comment` is for whoever meets the block in a file. */
export function armoured(kind: ArmourKind, bytes: Uint8Array, comment?: string): Bytes {
  const head = comment === undefined ? '' : `Comment: ${comment.replace(/[^\x20-\x7e]/g, '?')}\r\n`;
  return concat(
    utf8(`-----BEGIN PGP ${kind}-----\r\n${head}\r\n`),
    base64Lines(bytes),
    utf8('='),
    base64Lines(checksum(bytes)),
    utf8(`-----END PGP ${kind}-----\r\n`),
  );
}

export interface Block {
  kind: ArmourKind;
  bytes: Bytes;
  /** What its head says of the character set of the text inside. */ charset: string | undefined;
  /** Where it stands: from its first to after its last octet. */ from: number;
  to: number;
}

const MAX_BLOCKS = 100;
const LF = 10;
const DASH = 45;
const DASHES = utf8('-----BEGIN PGP ');

const latin1 = new TextDecoder('latin1');

function lineAt(bytes: Uint8Array, at: number): { text: string; next: number } {
  const end = bytes.indexOf(LF, at);
  const next = end < 0 ? bytes.length : end + 1;
  return { text: latin1.decode(bytes.subarray(at, Math.min(next, at + 400))).trimEnd(), next };
}

const startsWith = (bytes: Uint8Array, at: number, wanted: Uint8Array): boolean =>
  wanted.every((octet, index) => bytes[at + index] === octet);

/** The block that begins at this line; undefined when it is none, or cut off. */
function blockAt(bytes: Uint8Array, from: number): Block | undefined {
  const { text, next } = lineAt(bytes, from);
  const kind = ARMOUR_KINDS.find((one) => text === `-----BEGIN PGP ${one}-----`);
  if (kind === undefined) return undefined;
  let at = next;
  let charset: string | undefined;
  // Header lines end with an empty one; some programs forget it where there are none.
  for (
    let line = lineAt(bytes, at);
    at < bytes.length && (line.text === '' || /^[A-Za-z]+: /.test(line.text));
    line = lineAt(bytes, at)
  ) {
    at = line.next;
    if (line.text === '') break;
    charset ??= /^charset: (.{1,100})$/i.exec(line.text)?.[1]?.trim();
  }
  const body = at;
  // No dash is a character of base64: the first one there is begins the last line, or it is no block.
  const end = bytes.indexOf(DASH, body);
  if (end < 0 || (end > body && bytes[end - 1] !== LF)) return undefined;
  const last = lineAt(bytes, end);
  if (last.text !== `-----END PGP ${kind}-----`) return undefined;
  // The checksum is a line of its own, `=` and four characters.
  const text64 = bytes.subarray(body, end);
  const tail = latin1.decode(text64.subarray(Math.max(0, text64.length - 12)));
  const sum = /(?:^|\n)=[A-Za-z0-9+/]{4}\s*$/.exec(tail);
  return {
    kind,
    charset,
    bytes: fromBase64Lines(sum === null ? text64 : text64.subarray(0, text64.length - (tail.length - sum.index))),
    from,
    to: last.next,
  };
}

/** Every block in a text, in order; text around them is passed over. */
export function armouredBlocks(bytes: Uint8Array): Block[] {
  const found: Block[] = [];
  for (let at = 0; at < bytes.length && found.length < MAX_BLOCKS;) {
    const block = bytes[at] === DASH && startsWith(bytes, at, DASHES) ? blockAt(bytes, at) : undefined;
    if (block !== undefined) found.push(block);
    at = block?.to ?? (bytes.indexOf(LF, at) + 1 || bytes.length);
  }
  return found;
}

/** The text is one block of this kind and nothing else but blanks around it. */
export function blockAlone(bytes: Uint8Array, kind: ArmourKind): Block | undefined {
  let from = 0;
  while (from < bytes.length && bytes[from]! <= 32) from += 1;
  const block = startsWith(bytes, from, DASHES) ? blockAt(bytes, from) : undefined;
  if (block?.kind !== kind) return undefined;
  for (let at = block.to; at < bytes.length; at++) if (bytes[at]! > 32) return undefined;
  return block;
}

/** What is in it. */
export const onlyBlock = (bytes: Uint8Array, kind: ArmourKind): Bytes | undefined => blockAlone(bytes, kind)?.bytes;
