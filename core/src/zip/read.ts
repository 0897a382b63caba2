/**
 * Opens a ZIP under limits. What it says of itself is read first (`directory.ts`), what comes out is counted, and names
 * are made safe: nothing is ever written anywhere.
 */
import { type Bytes, concat } from '../bytes';
import { distinctNames, safeFileName } from '../file-name';
import { type EntryHead, methodName, readDirectory, withShortEnd } from './directory';
import { ZipError } from './errors';
import { codes, Uint8ArrayReader, ZipReader } from './library';
import { passwordBytes, type ZipFile } from './write';

/** Octets that may come out of one archive, whatever it claims. */
export const MAX_UNPACKED = 200_000_000;
/** Stored, deflated, and deflated with the larger window. */
const READ = new Set([0, 8, 9]);
/** Nothing honest gets smaller by more. */
const MAX_RATIO = 1_100;

const WRONG = new Set([codes.ERR_INVALID_PASSWORD]);
const UNSUPPORTED = new Set([
  codes.ERR_UNSUPPORTED_COMPRESSION,
  codes.ERR_UNSUPPORTED_ENCRYPTION,
  codes.ERR_SPLIT_ZIP_FILE,
  codes.ERR_ENCRYPTED_CENTRAL_DIRECTORY,
]);
// The legacy cipher's check is one octet: one wrong password in 256 is noticed only by what comes out.
const DAMAGED = new Set([
  codes.ERR_INVALID_CRC32,
  codes.ERR_INVALID_COMPRESSED_DATA,
  codes.ERR_INVALID_UNCOMPRESSED_SIZE,
]);

/** The library's errors have messages only; whatever else comes up in it was brought up by the bytes. */
function failure(cause: unknown, isLegacy: boolean): ZipError {
  if (cause instanceof ZipError) return cause;
  const message = cause instanceof Error ? cause.message : '';
  const code =
    WRONG.has(message) || (isLegacy && DAMAGED.has(message))
      ? 'wrong-password'
      : UNSUPPORTED.has(message)
        ? 'unsupported'
        : message === codes.ERR_ENCRYPTED
          ? 'locked'
          : 'malformed';
  return new ZipError(code, { cause });
}

/** Takes what comes out and stops at `limit`. */
class Counted {
  readonly pieces: Uint8Array[] = [];
  private total = 0;
  readonly writable: WritableStream<Uint8Array>;

  constructor(limit: number) {
    this.writable = new WritableStream({
      write: (piece) => {
        this.total += piece.length;
        if (this.total > limit) throw new ZipError('too-large');
        this.pieces.push(piece);
      },
    });
  }
}

/** What may be opened at all. @throws ZipError */
function requireHonest(heads: readonly EntryHead[]): void {
  const total = heads.reduce((sum, { size }) => sum + size, 0);
  if (total > MAX_UNPACKED || heads.some(({ size, packed }) => size > 1_000_000 && size > packed * MAX_RATIO))
    throw new ZipError('too-large');
  const names = heads.map(({ name }) => name);
  // Two entries of one name: programs differ in which they show.
  if (new Set(names).size !== names.length) throw new ZipError('malformed');
  if (heads.some(({ lock }) => lock.kind === 'unknown')) throw new ZipError('unsupported');
  const other = heads.find(({ method, isFolder }) => !isFolder && !READ.has(method));
  if (other !== undefined) throw new ZipError('unsupported', undefined, methodName(other.method));
}

/**
 * Everything in it, folders left out, under the paths it has there. A wrong password is known before anything is
 * unpacked.
 *
 * @param wanted Of the paths; what is not wanted is not unpacked.
 * @throws ZipError
 */
export async function unzip(
  bytes: Bytes,
  password?: string,
  wanted: (path: string) => boolean = () => true,
): Promise<ZipFile[]> {
  const heads = readDirectory(bytes);
  requireHonest(heads);
  if (password === undefined && heads.some(({ lock }) => lock.kind !== 'none')) throw new ZipError('locked');
  const isLegacy = heads.some(({ lock }) => lock.kind === 'legacy');
  const reader = new ZipReader(new Uint8ArrayReader(withShortEnd(bytes)), {
    checkSignature: true,
    strictness: 'strict',
    ...(password === undefined ? {} : { rawPassword: passwordBytes(password) }),
  });
  try {
    const entries = await reader.getEntries();
    if (entries.length !== heads.length) throw new ZipError('malformed');
    const files: ZipFile[] = [];
    let left = MAX_UNPACKED;
    for (const entry of entries) {
      if (entry.directory || !wanted(entry.filename)) continue;
      const out = new Counted(Math.min(left, entry.uncompressedSize));
      await entry.getData(out.writable);
      const unpacked = concat(...out.pieces);
      left -= unpacked.length;
      files.push({ name: entry.filename, bytes: unpacked });
    }
    return files;
  } catch (cause) {
    throw failure(cause, isLegacy);
  } finally {
    await reader.close().catch(() => undefined);
  }
}

/** The same with names safe to show and to save, each once. @throws ZipError */
export async function readZip(bytes: Bytes, password?: string): Promise<ZipFile[]> {
  const files = await unzip(bytes, password);
  const names = distinctNames(files.map(({ name }) => safeFileName(name)));
  return files.map(({ bytes: unpacked }, index) => ({ name: names[index]!, bytes: unpacked }));
}
