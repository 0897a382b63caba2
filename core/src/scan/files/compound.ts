/**
 * Compound files ([MS-CFB]): streams within storages, as mail of one program and old office files are kept. Only what
 * is asked for is put together; no sector is gone through twice, so a file that leads in circles ends.
 */
import { type Bytes } from '../../bytes';

export class CompoundError extends Error {
  constructor() {
    super('This compound file is damaged');
    this.name = 'CompoundError';
  }
}

export interface CompoundFile {
  /** Full paths of streams, `/` between names, in the order of the directory. */
  streams: readonly string[];
  /** @throws CompoundError */
  read(path: string): Bytes;
}

const SIGNATURE = [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1];
/** §2.1: what is no number of a sector. */
const LAST_SECTOR = 0xfffffffa;
const NONE = 0xffffffff;
const ENTRY = 128;
const IN_HEADER = 109;
/** Nobody's mail has more. */
const MOST_ENTRIES = 50_000;
const MOST_DEEP = 32;

const TYPES = { storage: 1, stream: 2, root: 5 } as const;

interface Entry {
  name: string;
  type: number;
  left: number;
  right: number;
  child: number;
  start: number;
  size: number;
}

export const looksLikeCompound = (bytes: Uint8Array): boolean =>
  bytes.length >= 512 && SIGNATURE.every((octet, index) => bytes[index] === octet);

class Container {
  readonly view: DataView;
  private readonly shift: number;
  private readonly fat: Uint32Array;
  /** Octets that may still be put together: each sector belongs to one stream. */
  private left: number;

  constructor(private readonly bytes: Uint8Array) {
    if (!looksLikeCompound(bytes)) throw new CompoundError();
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.shift = this.view.getUint16(0x1e, true);
    if (this.shift !== 9 && this.shift !== 12) throw new CompoundError();
    this.left = bytes.length * 2;
    this.fat = this.table(this.fatSectors());
  }

  get sectorSize(): number {
    return 1 << this.shift;
  }

  number(at: number): number {
    if (at + 4 > this.bytes.length) throw new CompoundError();
    return this.view.getUint32(at, true);
  }

  private sector(index: number): Uint8Array {
    const from = (index + 1) * this.sectorSize;
    if (index >= LAST_SECTOR || from >= this.bytes.length) throw new CompoundError();
    // The last one may be cut off.
    return this.bytes.subarray(from, from + this.sectorSize);
  }

  /** Where the allocation table lies: the first in the header, the others in a chain of sectors. */
  private fatSectors(): number[] {
    const wanted = this.number(0x2c);
    if (wanted > this.bytes.length / this.sectorSize + 1) throw new CompoundError();
    const found = Array.from({ length: Math.min(wanted, IN_HEADER) }, (_, index) => this.number(0x4c + index * 4));
    const each = this.sectorSize / 4 - 1;
    for (let next = this.number(0x44); found.length < wanted;) {
      const at = (next + 1) * this.sectorSize;
      if (next >= LAST_SECTOR) throw new CompoundError();
      for (let index = 0; index < each && found.length < wanted; index++) found.push(this.number(at + index * 4));
      next = this.number(at + each * 4);
    }
    return found;
  }

  private table(sectors: readonly number[]): Uint32Array {
    const numbers = new Uint32Array(sectors.length * (this.sectorSize / 4));
    sectors.forEach((one, place) => {
      const sector = this.sector(one);
      const view = new DataView(sector.buffer, sector.byteOffset, sector.byteLength);
      for (let index = 0; index + 4 <= sector.length; index += 4)
        numbers[place * (this.sectorSize / 4) + index / 4] = view.getUint32(index, true);
    });
    return numbers;
  }

  /** Takes what is to be put together from what may be. */
  take(octets: number): void {
    this.left -= octets;
    if (this.left < 0) throw new CompoundError();
  }

  chain(start: number, table: Uint32Array): number[] {
    const found: number[] = [];
    for (let next = start; next < LAST_SECTOR; next = table[next]!) {
      if (next >= table.length || found.length > table.length) throw new CompoundError();
      found.push(next);
    }
    return found;
  }

  /** The stream that begins there, as far as its sectors go. */
  stream(start: number): Uint8Array {
    const sectors = this.chain(start, this.fat).map((one) => this.sector(one));
    const length = sectors.reduce((sum, { length: octets }) => sum + octets, 0);
    this.take(length);
    const whole = new Uint8Array(length);
    let at = 0;
    for (const one of sectors) {
      whole.set(one, at);
      at += one.length;
    }
    return whole;
  }
}

const utf16 = new TextDecoder('utf-16le');

function entriesOf(directory: Uint8Array): Entry[] {
  const count = Math.floor(directory.length / ENTRY);
  if (count > MOST_ENTRIES) throw new CompoundError();
  const view = new DataView(directory.buffer, directory.byteOffset, directory.byteLength);
  return Array.from({ length: count }, (_, index) => {
    const at = index * ENTRY;
    const named = Math.min(64, view.getUint16(at + 0x40, true));
    return {
      name: utf16.decode(directory.subarray(at, at + Math.max(0, named - 2))),
      type: directory[at + 0x42]!,
      left: view.getUint32(at + 0x44, true),
      right: view.getUint32(at + 0x48, true),
      child: view.getUint32(at + 0x4c, true),
      start: view.getUint32(at + 0x74, true),
      size: view.getUint32(at + 0x78, true),
    };
  });
}

/** Every stream with its path; no entry is met twice. */
function pathsOf(entries: readonly Entry[]): Map<string, Entry> {
  const paths = new Map<string, Entry>();
  const met = new Set<number>();
  const toMeet: { index: number; above: string; depth: number }[] = [
    { index: entries[0]?.child ?? NONE, above: '', depth: 0 },
  ];
  for (let next = toMeet.pop(); next !== undefined; next = toMeet.pop()) {
    const { index, above, depth } = next;
    const entry = entries[index];
    if (index === NONE || entry === undefined || met.has(index)) continue;
    met.add(index);
    if (depth > MOST_DEEP) throw new CompoundError();
    const path = `${above}${entry.name}`;
    if (entry.type === TYPES.stream) paths.set(path, entry);
    if (entry.type === TYPES.storage) toMeet.push({ index: entry.child, above: `${path}/`, depth: depth + 1 });
    toMeet.push({ index: entry.left, above, depth }, { index: entry.right, above, depth });
  }
  return paths;
}

/** @throws CompoundError */
export function readCompound(bytes: Uint8Array): CompoundFile {
  const container = new Container(bytes);
  const entries = entriesOf(container.stream(container.number(0x30)));
  const root = entries[0];
  if (root?.type !== TYPES.root) throw new CompoundError();
  const cutoff = container.number(0x38);
  const miniShift = container.view.getUint16(0x20, true);
  if (miniShift !== 6) throw new CompoundError();
  const paths = pathsOf(entries);
  let small: { table: Uint32Array; octets: Uint8Array } | undefined;
  /** Small streams lie together in one of the root's, by a table of their own. */
  const readSmall = ({ start, size }: Entry): Uint8Array => {
    if (small === undefined) {
      const table = container.stream(container.number(0x3c));
      const whole = table.slice(0, table.length - (table.length % 4));
      small = { table: new Uint32Array(whole.buffer), octets: container.stream(root.start) };
    }
    const { table, octets } = small;
    container.take(size);
    const parts = container.chain(start, table);
    const read = new Uint8Array(Math.min(size, parts.length << miniShift));
    parts.forEach((one, place) => {
      const part = octets.subarray(one << miniShift, (one + 1) << miniShift);
      const room = read.length - (place << miniShift);
      if (room > 0) read.set(part.subarray(0, room), place << miniShift);
    });
    return read;
  };
  return {
    streams: [...paths.keys()],
    read(path) {
      const entry = paths.get(path);
      if (entry === undefined) throw new CompoundError();
      if (entry.size === 0) return new Uint8Array(0);
      const whole = entry.size < cutoff ? readSmall(entry) : container.stream(entry.start).subarray(0, entry.size);
      if (whole.length < entry.size) throw new CompoundError();
      return new Uint8Array(whole);
    },
  };
}
