/**
 * The packets of an OpenPGP message by their heads (RFC 9580 §4.2), without opening any: enough to tell what it is,
 * and to refuse what would cost too much to look at.
 * Knows nothing of the library, so that a server that only wants to know what leaves it needs none.
 */
import { OpenPgpError } from './errors';

export const TAG = {
  publicKeySession: 1,
  signature: 2,
  symmetricSession: 3,
  onePass: 4,
  secretKey: 5,
  publicKey: 6,
  secretSubkey: 7,
  compressed: 8,
  encrypted: 9,
  marker: 10,
  literal: 11,
  userId: 13,
  publicSubkey: 14,
  sealed: 18,
  padding: 21,
} as const;

export interface PacketHead {
  tag: number;
  /** Where its body begins and ends. */ from: number;
  to: number;
}

/** Sessions for more recipients than any message here has, and signatures of more people than any is signed by. */
export const MAX_SESSIONS = 1200;
export const MAX_SIGNATURES = 20;
const MAX_PACKETS = 20_000;

/** Lengths in the old form, by the two bits that tell its size (§4.2.2). */
function oldLength(bytes: Uint8Array, at: number, type: number): { length: number; size: number } {
  if (type === 3) return { length: bytes.length - at, size: 0 };
  const size = 1 << type;
  let length = 0;
  for (let index = 0; index < size; index++) length = length * 256 + (bytes[at + index] ?? NaN);
  return { length, size };
}

/** One length in the new form (§4.2.1); `partial` ones are followed by another. */
function newLength(bytes: Uint8Array, at: number): { length: number; size: number; partial: boolean } {
  const first = bytes[at] ?? NaN;
  if (first < 192) return { length: first, size: 1, partial: false };
  if (first < 224) return { length: (first - 192) * 256 + (bytes[at + 1] ?? NaN) + 192, size: 2, partial: false };
  if (first < 255) return { length: 1 << (first & 0x1f), size: 1, partial: true };
  return {
    length:
      (((bytes[at + 1] ?? NaN) * 256 + (bytes[at + 2] ?? NaN)) * 256 + (bytes[at + 3] ?? NaN)) * 256 +
      (bytes[at + 4] ?? NaN),
    size: 5,
    partial: false,
  };
}

function headAt(bytes: Uint8Array, at: number): PacketHead {
  const first = bytes[at]!;
  if ((first & 0x80) === 0) throw new OpenPgpError('malformed');
  if ((first & 0x40) === 0) {
    const { length, size } = oldLength(bytes, at + 1, first & 3);
    return { tag: (first >> 2) & 0xf, from: at + 1 + size, to: at + 1 + size + length };
  }
  let next = at + 1;
  let from: number | undefined;
  for (;;) {
    const { length, size, partial } = newLength(bytes, next);
    from ??= next + size;
    next += size + length;
    if (Number.isNaN(next)) throw new OpenPgpError('malformed');
    if (!partial) return { tag: first & 0x3f, from, to: next };
    if (next >= bytes.length) throw new OpenPgpError('malformed');
  }
}

/**
 * @param whole The packets must end where the bytes do; not so for the beginning of something longer. @throws
 * OpenPgpError `malformed`, `too-large`
 */
export function packetHeads(bytes: Uint8Array, whole = true): PacketHead[] {
  const heads: PacketHead[] = [];
  for (let at = 0; at < bytes.length;) {
    const head = headAt(bytes, at);
    if (Number.isNaN(head.to) || (whole && head.to > bytes.length)) throw new OpenPgpError('malformed');
    heads.push(head);
    if (heads.length > MAX_PACKETS) throw new OpenPgpError('too-large');
    at = head.to;
  }
  return heads;
}

const ENCRYPTED: readonly number[] = [TAG.publicKeySession, TAG.symmetricSession, TAG.encrypted, TAG.sealed];

/** What a message is by its packets: encrypted, or readable by anybody. @throws OpenPgpError */
export function messageKind(bytes: Uint8Array): 'encrypted' | 'readable' {
  const tags = packetHeads(bytes)
    .map(({ tag }) => tag)
    .filter((tag) => tag !== TAG.marker && tag !== TAG.padding);
  if (tags.length === 0) throw new OpenPgpError('malformed');
  // Something readable beside something encrypted is readable.
  const last = tags.at(-1)!;
  const sealed =
    (last === TAG.sealed || last === TAG.encrypted) &&
    tags.slice(0, -1).every((tag) => tag === TAG.publicKeySession || tag === TAG.symmetricSession);
  return sealed && tags.length > 1 ? 'encrypted' : 'readable';
}

/** Whether these octets could begin an OpenPGP message or key: a packet head that either begins with. */
export function looksLikePackets(bytes: Uint8Array): boolean {
  const first = bytes[0];
  if (first === undefined || (first & 0x80) === 0) return false;
  const tag = (first & 0x40) === 0 ? (first >> 2) & 0xf : first & 0x3f;
  return (
    ENCRYPTED.includes(tag) ||
    tag === TAG.onePass ||
    tag === TAG.compressed ||
    tag === TAG.literal ||
    tag === TAG.signature ||
    tag === TAG.publicKey ||
    tag === TAG.secretKey ||
    tag === TAG.marker
  );
}

/** Refuses what would take long to look at: sessions for thousands, signatures of hundreds. @throws OpenPgpError */
export function requireReasonable(bytes: Uint8Array): void {
  const heads = packetHeads(bytes);
  const count = (tag: number): number => heads.filter((one) => one.tag === tag).length;
  if (
    count(TAG.publicKeySession) > MAX_SESSIONS ||
    count(TAG.symmetricSession) > MAX_SIGNATURES ||
    count(TAG.signature) > MAX_SIGNATURES ||
    count(TAG.onePass) > MAX_SIGNATURES
  )
    throw new OpenPgpError('too-large');
}
