/**
 * Content held in the reading room: one OpenPGP Symmetrically Encrypted and Integrity Protected Data packet,
 * version 2, AES-256-GCM (RFC 9580 §5.13.2), around one Literal Data packet (§5.9). Written over WebCrypto so that the
 * reader's page needs no OpenPGP library. Left out on purpose: other ciphers, session key packets (the key travels
 * split,
 * see grant.ts), compression; partial lengths are read, not written.
 */
import { between, type Bytes, concat, type Flow, lengthOf, type Pieces, piecesOf } from '../../bytes';
import { inTurn } from '../../in-turn';

export const PACKET_SEIPD = 0xd2; // new format, type 18
const PACKET_LITERAL = 0xcb; // new format, type 11
export const VERSION = 2;
export const AES256 = 9; // §9.3
export const GCM = 3; // §9.6
export const SALT = 32;
export const TAG = 16;
export const MAX_CHUNK_OCTET = 16; // §5.13.2: larger must not be made

/** 2^(14+6) = 1 MiB a chunk: measured at the flat bottom (12 to 16), and several fit in flight. */
export const CHUNK_OCTET = 14;
const CHUNKS_IN_FLIGHT = 4;

export class ContentError extends Error {
  constructor(readonly code: 'malformed' | 'unsupported' | 'not-opened') {
    super(`Held content: ${code}`);
    this.name = 'ContentError';
  }
}

function fiveOctetLength(length: number): Bytes {
  const bytes = new Uint8Array(5);
  bytes[0] = 0xff;
  new DataView(bytes.buffer).setUint32(1, length);
  return bytes;
}

const uint64 = (value: number): Bytes => {
  const bytes = new Uint8Array(8);
  new DataView(bytes.buffer).setBigUint64(0, BigInt(value));
  return bytes;
};

interface MessageKey {
  key: CryptoKey;
  iv: Bytes;
  header: Bytes;
}

/**
 * HKDF-SHA-256 over the session key, salted by the packet's salt, with the header as info: 32 bytes of key, then 4 of
 * nonce (§5.13.2).
 */
async function deriveMessageKey(
  sessionKey: Bytes,
  salt: Bytes,
  chunkOctet: number,
  usage: KeyUsage,
): Promise<MessageKey> {
  const { subtle } = globalThis.crypto;
  const header = Uint8Array.of(PACKET_SEIPD, VERSION, AES256, GCM, chunkOctet);
  const ikm = await subtle.importKey('raw', sessionKey, 'HKDF', false, ['deriveBits']);
  const bits = new Uint8Array(
    await subtle.deriveBits({ name: 'HKDF', hash: 'SHA-256', salt, info: header }, ikm, 36 * 8),
  );
  return {
    key: await subtle.importKey('raw', bits.slice(0, 32), 'AES-GCM', false, [usage]),
    iv: bits.slice(32),
    header,
  };
}

const chunkParams = (messageKey: MessageKey, index: number, additionalData = messageKey.header): AesGcmParams => ({
  name: 'AES-GCM',
  iv: concat(messageKey.iv, uint64(index)),
  additionalData,
});

/** Sealed length in bytes for content of `length` bytes. */
export function sealedLength(length: number, chunkOctet = CHUNK_OCTET): number {
  const plain = 12 + length;
  return 6 + 4 + SALT + plain + TAG * (Math.ceil(plain / 2 ** (chunkOctet + 6)) + 1);
}

export interface ContentKey {
  /** 32 bytes; the OpenPGP session key. */
  key: Bytes;
  /** 32 bytes; with the same key, salt and content the packet is the same, so that an upload can be taken up again. */
  salt: Bytes;
}

async function* sealedPieces(
  plain: Pieces,
  { key, salt }: ContentKey,
  { length, chunkOctet }: { length: number; chunkOctet: number },
): AsyncGenerator<Bytes> {
  const messageKey = await deriveMessageKey(key, salt, chunkOctet, 'encrypt');
  yield concat(
    Uint8Array.of(PACKET_SEIPD),
    fiveOctetLength(sealedLength(length, chunkOctet) - 6),
    messageKey.header.subarray(1),
    salt,
  );
  const plainLength = lengthOf(plain);
  const chunk = 2 ** (chunkOctet + 6);
  const chunks = Math.ceil(plainLength / chunk);
  const { subtle } = globalThis.crypto;
  const sealed = inTurn(chunks, CHUNKS_IN_FLIGHT, (index) => {
    const from = index * chunk;
    const part = between(plain, from, Math.min(from + chunk, plainLength));
    return subtle.encrypt(chunkParams(messageKey, index), messageKey.key, part);
  });
  for await (const one of sealed) yield new Uint8Array(one);
  const finalParams = chunkParams(messageKey, chunks, concat(messageKey.header, uint64(plainLength)));
  yield new Uint8Array(await subtle.encrypt(finalParams, messageKey.key, new Uint8Array(0)));
}

/**
 * Seals `content` (any bytes, in pieces as if they were one) while it is taken: what is sealed never lies there whole. A
 * key and salt must never serve two contents: the caller makes both afresh for each.
 * @throws RangeError on a key, salt or chunk octet of the wrong size.
 */
export function sealAsItGoes(content: Pieces, contentKey: ContentKey, chunkOctet = CHUNK_OCTET): Flow {
  if (contentKey.key.length !== 32 || contentKey.salt.length !== SALT)
    throw new RangeError('Content key and salt are 32 bytes each');
  if (chunkOctet < 0 || chunkOctet > MAX_CHUNK_OCTET) throw new RangeError('Chunk octet is 0 to 16');
  const length = lengthOf(content);
  const literal = concat(
    Uint8Array.of(PACKET_LITERAL),
    fiveOctetLength(length + 6),
    Uint8Array.of(0x62, 0, 0, 0, 0, 0),
  );
  return {
    length: sealedLength(length, chunkOctet),
    pieces: sealedPieces([literal, ...content], contentKey, { length, chunkOctet }),
  };
}

/** As {@link sealAsItGoes}, all of it. */
export const sealInPieces = async (content: Pieces, key: ContentKey, chunkOctet = CHUNK_OCTET): Promise<Pieces> =>
  piecesOf(sealAsItGoes(content, key, chunkOctet));

/** In one piece. @throws RangeError on a key, salt or chunk octet of the wrong size. */
export const sealContent = async (content: Uint8Array, key: ContentKey, chunkOctet = CHUNK_OCTET): Promise<Bytes> =>
  concat(...(await sealInPieces([content], key, chunkOctet)));

/** One length of the new format (§4.2.1) at `at`; `partial` when more of the same packet follows after it. */
function readLength(bytes: Uint8Array, at: number): { length: number; next: number; partial: boolean } {
  const first = bytes[at];
  if (first === undefined) throw new ContentError('malformed');
  if (first < 192) return { length: first, next: at + 1, partial: false };
  if (first < 224) {
    const second = bytes[at + 1];
    if (second === undefined) throw new ContentError('malformed');
    return { length: ((first - 192) << 8) + second + 192, next: at + 2, partial: false };
  }
  if (first < 255) return { length: 2 ** (first & 0x1f), next: at + 1, partial: true };
  if (at + 5 > bytes.length) throw new ContentError('malformed');
  return {
    length: new DataView(bytes.buffer, bytes.byteOffset + at + 1, 4).getUint32(0),
    next: at + 5,
    partial: false,
  };
}

/** Where the body of the first packet begins; undefined when too few octets are there to tell. */
export function packetStart(start: Uint8Array): number | undefined {
  try {
    return readLength(start, 1).next;
  } catch (error) {
    if (!(error instanceof ContentError)) throw error;
    return undefined;
  }
}

/**
 * The body of the one packet in `bytes`, whose type must be `type`. Ours has one length; what other programs stream
 * comes in pieces.
 */
function packetBody(bytes: Bytes, type: number): Bytes {
  if (bytes[0] !== type) throw new ContentError(bytes.length === 0 ? 'malformed' : 'unsupported');
  const pieces: Bytes[] = [];
  for (let at = 1; ;) {
    const { length, next, partial } = readLength(bytes, at);
    at = next + length;
    if (at > bytes.length) throw new ContentError('malformed');
    pieces.push(bytes.subarray(next, at));
    if (partial) continue;
    if (at !== bytes.length) throw new ContentError('malformed');
    return pieces.length === 1 ? pieces[0]! : concat(...pieces);
  }
}

function literalContent(plain: Bytes): Bytes {
  const body = packetBody(plain, PACKET_LITERAL);
  const start = 2 + (body[1] ?? 0) + 4;
  if (start > body.length) throw new ContentError('malformed');
  return body.subarray(start);
}

/**
 * Opens sealed content with its 32-byte key. Nothing is returned before the final tag has been checked. @throws
 * ContentError
 */
export async function openContent(sealed: Uint8Array, key: Bytes): Promise<Bytes> {
  const packet = packetBody(sealed as Bytes, PACKET_SEIPD);
  if (packet.length < 4 + SALT + TAG) throw new ContentError('malformed');
  const [version, cipher, aead, chunkOctet] = packet as unknown as [number, number, number, number];
  if (version !== VERSION || cipher !== AES256 || aead !== GCM || chunkOctet > MAX_CHUNK_OCTET)
    throw new ContentError('unsupported');
  const messageKey = await deriveMessageKey(key, packet.slice(4, 4 + SALT), chunkOctet, 'decrypt');
  const body = packet.subarray(4 + SALT, packet.length - TAG);
  const sealedChunk = 2 ** (chunkOctet + 6) + TAG;
  const chunks = Math.ceil(body.length / sealedChunk);
  const plainLength = body.length - chunks * TAG;
  if (plainLength < 0) throw new ContentError('malformed');
  const plain = new Uint8Array(plainLength);
  const { subtle } = globalThis.crypto;
  try {
    const opened = inTurn(chunks, CHUNKS_IN_FLIGHT, (index) => {
      const part = body.subarray(index * sealedChunk, Math.min((index + 1) * sealedChunk, body.length));
      return subtle.decrypt(chunkParams(messageKey, index), messageKey.key, part);
    });
    let at = 0;
    for await (const part of opened) {
      plain.set(new Uint8Array(part), at);
      at += part.byteLength;
    }
    const finalParams = chunkParams(messageKey, chunks, concat(messageKey.header, uint64(plainLength)));
    await subtle.decrypt(finalParams, messageKey.key, packet.subarray(packet.length - TAG));
  } catch {
    throw new ContentError('not-opened');
  }
  return literalContent(plain);
}
