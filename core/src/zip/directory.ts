/**
 * What a ZIP says of itself: its central directory (APPNOTE 6.3.10, §4.3.12 and §4.3.16), read without unpacking anything. Strict where programs differ: one directory, at the very
 * end, that covers the file from its first octet. Split archives and ZIP64 are not read: what is larger than 4 GB does not come by mail.
 */
import { ZipError } from './errors';

/** How an entry is locked. `aes`: the AE-1 and AE-2 formats, with the bits of their key; `legacy`: the first cipher of the format, broken since the nineties. */
export type EntryLock = { kind: 'none' } | { kind: 'legacy' } | { kind: 'aes'; bits: 128 | 192 | 256 } | { kind: 'unknown' };

export interface EntryHead {
  /** As it stands there; never to be used as a path. */
  name: string;
  lock: EntryLock;
  /** Octets packed, and what it claims to unfold to. */
  packed: number;
  size: number;
  isFolder: boolean;
  /** 0 is stored, 8 deflated, 99 locked by AES. */
  method: number;
  /** Where its local header begins. */
  offset: number;
}

/** No mail holds more. */
export const MAX_ENTRIES = 2_000;
const MAX_NAME = 1_000;
const MAX_COMMENT = 65_535;
const END = 0x06054b50;
const ENTRY = 0x02014b50;
const LOCAL = 0x04034b50;
const AES_FIELD = 0x9901;
const AES_METHOD = 99;

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
const malformed = (): ZipError => new ZipError('malformed');

/** Where the end record begins: the last one whose comment ends with the file. */
function endOf(view: DataView): number {
  for (let at = view.byteLength - 22; at >= 0 && at >= view.byteLength - 22 - MAX_COMMENT; at--) {
    if (view.getUint32(at, true) === END && at + 22 + view.getUint16(at + 20, true) === view.byteLength) return at;
  }
  throw malformed();
}

const KEY_BITS = [undefined, 128, 192, 256] as const;

function lockOf(flags: number, method: number, extra: Uint8Array): EntryLock {
  if ((flags & 1) === 0) return method === AES_METHOD ? { kind: 'unknown' } : { kind: 'none' };
  // Bit 6: the format's own strong encryption, which nobody reads.
  if ((flags & 0x40) !== 0) return { kind: 'unknown' };
  if (method !== AES_METHOD) return { kind: 'legacy' };
  const view = viewOf(extra);
  for (let at = 0; at + 4 <= extra.length; at += 4 + view.getUint16(at + 2, true)) {
    if (view.getUint16(at, true) !== AES_FIELD) continue;
    const bits = view.getUint16(at + 2, true) === 7 && at + 11 <= extra.length ? KEY_BITS[extra[at + 8]!] : undefined;
    return bits === undefined ? { kind: 'unknown' } : { kind: 'aes', bits };
  }
  return { kind: 'unknown' };
}

const latin = new TextDecoder('latin1');
const unicode = new TextDecoder('utf-8');

/** @throws ZipError `malformed`, `too-large`, `unsupported` */
export function readDirectory(bytes: Uint8Array): EntryHead[] {
  if (bytes.length < 22) throw malformed();
  const view = viewOf(bytes);
  const end = endOf(view);
  const [disk, firstDisk, here, count] = [4, 6, 8, 10].map((at) => view.getUint16(end + at, true)) as [number, number, number, number];
  const [size, start] = [view.getUint32(end + 12, true), view.getUint32(end + 16, true)];
  if (count === 0xffff || size === 0xffffffff || start === 0xffffffff || disk !== 0 || firstDisk !== 0 || here !== count) throw new ZipError('unsupported');
  if (count > MAX_ENTRIES) throw new ZipError('too-large');
  // Nothing between directory and end, nothing in front of the first entry: a second archive could hide there.
  if (start + size !== end || (count > 0 && (start < 30 || view.getUint32(0, true) !== LOCAL))) throw malformed();
  const heads: EntryHead[] = [];
  let at = start;
  for (let index = 0; index < count; index++) {
    if (at + 46 > end || view.getUint32(at, true) !== ENTRY) throw malformed();
    const [flags, method] = [view.getUint16(at + 8, true), view.getUint16(at + 10, true)];
    const [packed, unfolded] = [view.getUint32(at + 20, true), view.getUint32(at + 24, true)];
    const [nameLength, extraLength, commentLength] = [28, 30, 32].map((offset) => view.getUint16(at + offset, true)) as [number, number, number];
    const next = at + 46 + nameLength + extraLength + commentLength;
    if (next > end || view.getUint32(at + 42, true) >= start) throw malformed();
    if (nameLength > MAX_NAME) throw new ZipError('too-large');
    if (packed === 0xffffffff || unfolded === 0xffffffff) throw new ZipError('unsupported');
    const name = ((flags & 0x800) === 0 ? latin : unicode).decode(bytes.subarray(at + 46, at + 46 + nameLength));
    heads.push({ name, packed, size: unfolded, isFolder: /[/\\]$/.test(name), method, offset: view.getUint32(at + 42, true), lock: lockOf(flags, method, bytes.subarray(at + 46 + nameLength, at + 46 + nameLength + extraLength)) });
    at = next;
  }
  if (at !== end) throw malformed();
  return heads;
}

export const looksLikeZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && ((bytes[2] === 3 && bytes[3] === 4) || (bytes[2] === 5 && bytes[3] === 6));

/** Whether nothing in it can be read without the password, folders aside, which hold nothing. */
export const isWhollyLocked = (heads: readonly EntryHead[]): boolean => {
  const files = heads.filter(({ isFolder, size, packed }) => !isFolder || size > 0 || packed > 0);
  return files.length > 0 && files.every(({ lock }) => lock.kind === 'aes' || lock.kind === 'legacy');
};

/** The octets of what is stored as it is (method 0), out of an archive nobody locked; for who has no library at hand. @throws ZipError */
export function storedFiles(bytes: Uint8Array): { name: string; bytes: Uint8Array }[] {
  const view = viewOf(bytes);
  return readDirectory(bytes).filter(({ isFolder }) => !isFolder).map(({ name, method, lock, packed, size, offset }) => {
    if (method !== 0 || lock.kind !== 'none' || packed !== size) throw new ZipError('unsupported');
    if (offset + 30 > bytes.length || view.getUint32(offset, true) !== LOCAL) throw malformed();
    const start = offset + 30 + view.getUint16(offset + 26, true) + view.getUint16(offset + 28, true);
    if (start + size > bytes.length) throw malformed();
    return { name, bytes: bytes.subarray(start, start + size) };
  });
}
