/**
 * What a ZIP says of itself: its central directory (APPNOTE 6.3.10, §4.3.12 and §4.3.16), read without unpacking
 * anything. Strict where programs differ: one directory, at the very
 * end, that covers the file from its first octet; its ZIP64 form (§4.3.14, §4.3.15, §4.5.3), which programs that
 * write as they go use for small files, too; and noughts after the end,
 * with which others fill their last block. Split archives are not read.
 */
import { type Bytes, concat } from '../bytes';
import { ZipError } from './errors';

/**
 * How an entry is locked. `aes`: the AE-1 and AE-2 formats, with the bits of their key; `legacy`: the first cipher of
 * the format, broken since the nineties.
 */
export type EntryLock =
  { kind: 'none' } | { kind: 'legacy' } | { kind: 'aes'; bits: 128 | 192 | 256 } | { kind: 'unknown' };

export interface EntryHead {
  /** As it stands there; never to be used as a path. */
  name: string;
  lock: EntryLock;
  /** Octets packed, and what it claims to unfold to. */
  packed: number;
  size: number;
  isFolder: boolean;
  /** How it is packed (§4.4.5), under its lock where it has one: 0 is stored, 8 deflated. */
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
const END_64 = 0x06064b50;
const LOCATOR_64 = 0x07064b50;
const SIZES_FIELD = 0x0001;
const FULL_16 = 0xffff;
const FULL_32 = 0xffffffff;
const AES_FIELD = 0x9901;
const AES_METHOD = 99;

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
const malformed = (): ZipError => new ZipError('malformed');

/** Octets up to the last that is not nought. */
function filledLength(bytes: Uint8Array): number {
  let length = bytes.length;
  while (length > 0 && bytes[length - 1] === 0) length -= 1;
  return length;
}

/** Where the end record begins: the last one whose comment ends with the file, or with nothing but noughts after it. */
function endOf(view: DataView, filled: number): number {
  const latest = Math.min(view.byteLength - 22, filled);
  for (let at = latest; at >= 0 && at >= filled - 22 - MAX_COMMENT; at--) {
    if (view.getUint32(at, true) !== END) continue;
    const after = at + 22 + view.getUint16(at + 20, true);
    if (after >= filled && after <= view.byteLength) return at;
  }
  throw malformed();
}

/** A number of 64 bits that says where or how much; what no file here has is refused. */
function number64(view: DataView, at: number): number {
  const value = view.getBigUint64(at, true);
  if (value > BigInt(Number.MAX_SAFE_INTEGER)) throw malformed();
  return Number(value);
}

interface End {
  count: number;
  size: number;
  start: number;
  /** Where the first end record begins: there the directory has to end. */ from: number;
}

/** The end record's numbers, from its ZIP64 form where one stands before it. */
function readEnd(view: DataView, end: number): End {
  const [disk, firstDisk, here, count] = [4, 6, 8, 10].map((at) => view.getUint16(end + at, true)) as [
    number,
    number,
    number,
    number,
  ];
  const [size, start] = [view.getUint32(end + 12, true), view.getUint32(end + 16, true)];
  const locator = end - 20;
  if (locator < 56 || view.getUint32(locator, true) !== LOCATOR_64) {
    if (count === FULL_16 || size === FULL_32 || start === FULL_32 || disk !== 0 || firstDisk !== 0 || here !== count)
      throw new ZipError('unsupported');
    return { count, size, start, from: end };
  }
  const from = number64(view, locator + 8);
  if (from > locator - 56 || view.getUint32(from, true) !== END_64 || from + 12 + number64(view, from + 4) !== locator)
    throw malformed();
  const long = {
    count: number64(view, from + 32),
    size: number64(view, from + 40),
    start: number64(view, from + 48),
    from,
  };
  const isSplit =
    view.getUint32(from + 16, true) !== 0 ||
    view.getUint32(from + 20, true) !== 0 ||
    view.getUint32(locator + 4, true) !== 0 ||
    view.getUint32(locator + 16, true) > 1;
  if (isSplit || number64(view, from + 24) !== long.count) throw new ZipError('unsupported');
  // Where the short record says a number, too, it is the same: programs differ in which they believe.
  const differs = (short: number, full: number, said: number): boolean => short !== full && short !== said;
  if (differs(count, FULL_16, long.count) || differs(size, FULL_32, long.size) || differs(start, FULL_32, long.start))
    throw malformed();
  return long;
}

/** The data of an extra field (§4.5.1). */
function extraField(extra: Uint8Array, id: number): DataView | undefined {
  const view = viewOf(extra);
  for (let at = 0; at + 4 <= extra.length;) {
    const length = view.getUint16(at + 2, true);
    if (at + 4 + length > extra.length) return undefined;
    if (view.getUint16(at, true) === id) return viewOf(extra.subarray(at + 4, at + 4 + length));
    at += 4 + length;
  }
  return undefined;
}

/** Sizes and offset in their long form (§4.5.3): each stands there only when its short one is full, in this order. */
function longNumbers(extra: Uint8Array, short: readonly number[]): number[] {
  if (!short.includes(FULL_32)) return [...short];
  const field = extraField(extra, SIZES_FIELD);
  let at = 0;
  return short.map((value) => {
    if (value !== FULL_32) return value;
    if (field === undefined || at + 8 > field.byteLength) throw malformed();
    at += 8;
    return number64(field, at - 8);
  });
}

const KEY_BITS = [undefined, 128, 192, 256] as const;

/** The lock, and how it is packed under it. */
function lockOf(flags: number, method: number, extra: Uint8Array): Pick<EntryHead, 'lock' | 'method'> {
  const unknown = { lock: { kind: 'unknown' }, method } as const;
  if ((flags & 1) === 0) return method === AES_METHOD ? unknown : { lock: { kind: 'none' }, method };
  // Bit 6: the format's own strong encryption, which nobody reads.
  if ((flags & 0x40) !== 0) return unknown;
  if (method !== AES_METHOD) return { lock: { kind: 'legacy' }, method };
  const field = extraField(extra, AES_FIELD);
  const bits = field?.byteLength === 7 ? KEY_BITS[field.getUint8(4)] : undefined;
  return bits === undefined ? unknown : { lock: { kind: 'aes', bits }, method: field!.getUint16(5, true) };
}

/** Names of the ways to pack (§4.4.5), for who has to ask for another. */
const METHODS: Readonly<Record<number, string>> = {
  1: 'Shrink',
  2: 'Reduce',
  3: 'Reduce',
  4: 'Reduce',
  5: 'Reduce',
  6: 'Implode',
  9: 'Deflate64',
  12: 'BZip2',
  14: 'LZMA',
  93: 'Zstandard',
  94: 'MP3',
  95: 'XZ',
  96: 'JPEG',
  97: 'WavPack',
  98: 'PPMd',
};
export const methodName = (method: number): string => METHODS[method] ?? `method ${method}`;

const latin = new TextDecoder('latin1');
const unicode = new TextDecoder('utf-8');

/**
 * The same archive with the short end record alone, and nothing after it: readers differ in when they look at the long
 * one. @throws ZipError
 */
export function withShortEnd(bytes: Bytes): Bytes {
  const view = viewOf(bytes);
  const at = endOf(view, filledLength(bytes));
  const { count, size, start, from } = readEnd(view, at);
  if (from === at && at + 22 + view.getUint16(at + 20, true) === bytes.length) return bytes;
  const end = bytes.slice(at, at + 22);
  const record = viewOf(end);
  for (const offset of [4, 6]) record.setUint16(offset, 0, true);
  for (const offset of [8, 10]) record.setUint16(offset, count, true);
  record.setUint32(12, size, true);
  record.setUint32(16, start, true);
  record.setUint16(20, 0, true);
  return concat(bytes.subarray(0, from), end);
}

/** @throws ZipError `malformed`, `too-large`, `unsupported` */
export function readDirectory(bytes: Uint8Array): EntryHead[] {
  if (bytes.length < 22) throw malformed();
  const view = viewOf(bytes);
  const { count, size, start, from: end } = readEnd(view, endOf(view, filledLength(bytes)));
  if (count > MAX_ENTRIES) throw new ZipError('too-large');
  // Nothing between directory and end, nothing in front of the first entry: a second archive could hide there.
  if (start + size !== end || (count > 0 && (start < 30 || view.getUint32(0, true) !== LOCAL))) throw malformed();
  const heads: EntryHead[] = [];
  let at = start;
  for (let index = 0; index < count; index++) {
    if (at + 46 > end || view.getUint32(at, true) !== ENTRY) throw malformed();
    const [flags, method] = [view.getUint16(at + 8, true), view.getUint16(at + 10, true)];
    const [nameLength, extraLength, commentLength] = [28, 30, 32].map((offset) =>
      view.getUint16(at + offset, true),
    ) as [number, number, number];
    const next = at + 46 + nameLength + extraLength + commentLength;
    if (next > end) throw malformed();
    if (nameLength > MAX_NAME) throw new ZipError('too-large');
    const extra = bytes.subarray(at + 46 + nameLength, at + 46 + nameLength + extraLength);
    const [unfolded, packed, offset] = longNumbers(
      extra,
      [24, 20, 42].map((field) => view.getUint32(at + field, true)),
    ) as [number, number, number];
    if (offset >= start) throw malformed();
    const name = ((flags & 0x800) === 0 ? latin : unicode).decode(bytes.subarray(at + 46, at + 46 + nameLength));
    heads.push({
      name,
      packed,
      size: unfolded,
      isFolder: /[/\\]$/.test(name),
      offset,
      ...lockOf(flags, method, extra),
    });
    at = next;
  }
  if (at !== end) throw malformed();
  return heads;
}

export const looksLikeZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && ((bytes[2] === 3 && bytes[3] === 4) || (bytes[2] === 5 && bytes[3] === 6));

/** Whether nothing in it can be read without the password, folders aside, which hold nothing. */
export const isWhollyLocked = (heads: readonly EntryHead[]): boolean => {
  const files = heads.filter(({ isFolder, size, packed }) => !isFolder || size > 0 || packed > 0);
  return files.length > 0 && files.every(({ lock }) => lock.kind === 'aes' || lock.kind === 'legacy');
};

/**
 * The octets of what is stored as it is (method 0), out of an archive nobody locked; for who has no library at hand.
 * @throws ZipError
 */
export function storedFiles(bytes: Uint8Array): { name: string; bytes: Uint8Array }[] {
  const view = viewOf(bytes);
  return readDirectory(bytes)
    .filter(({ isFolder }) => !isFolder)
    .map(({ name, method, lock, packed, size, offset }) => {
      if (method !== 0 || lock.kind !== 'none' || packed !== size) throw new ZipError('unsupported');
      if (offset + 30 > bytes.length || view.getUint32(offset, true) !== LOCAL) throw malformed();
      const start = offset + 30 + view.getUint16(offset + 26, true) + view.getUint16(offset + 28, true);
      if (start + size > bytes.length) throw malformed();
      return { name, bytes: bytes.subarray(start, start + size) };
    });
}
