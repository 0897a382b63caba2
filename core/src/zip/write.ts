/** Writes a ZIP, locked or only packed. */
import { type Bytes, concat, utf8 } from '../bytes';
import { type Ae2Cipher, lockEntry, strengthOf } from './ae2';
import { type ZipCipher } from './cipher';
import { Uint8ArrayReader, ZipWriter } from './library';

export interface ZipFile {
  name: string;
  bytes: Bytes;
}

/** The longest that other programs take. */
export const MAX_PASSWORD_BYTES = 99;
/** One spelling for each password, in the octets every program agrees on. */
export const passwordBytes = (password: string): Bytes => utf8(password.normalize('NFC'));

export interface ZipInput {
  files: readonly ZipFile[];
  /** Undefined for what is only packed. */
  lock: { cipher: ZipCipher; password: string } | undefined;
  date: Date;
  /** What is put in as it is: it would not get smaller. */
  isPacked: (name: string) => boolean;
}

/** Undefined when it would not get smaller. */
async function compressed(bytes: Bytes): Promise<Bytes | undefined> {
  const out = new Uint8Array(
    await new Response(new Blob([bytes]).stream().pipeThrough(new CompressionStream('deflate-raw'))).arrayBuffer(),
  );
  return out.length < bytes.length ? out : undefined;
}

const STORED = 0;
const DEFLATED = 8;

/** The entry is locked here and put in as it is: the library's own AES takes twice the time. */
async function addLocked(
  writer: ZipWriter<unknown>,
  { name, bytes }: ZipFile,
  { cipher, password, isPacked }: { cipher: Ae2Cipher; password: Bytes; isPacked: boolean },
): Promise<void> {
  const smaller = isPacked ? undefined : await compressed(bytes);
  await writer.add(name, await lockEntry(smaller ?? bytes, password, cipher), {
    passThrough: true,
    encrypted: true,
    encryptionStrength: strengthOf(cipher),
    compressionMethod: smaller === undefined ? STORED : DEFLATED,
    uncompressedSize: bytes.length,
  });
}

/** @throws RangeError on a password that would leave it open, or that other programs refuse */
export async function writeZip({ files, lock, date, isPacked }: ZipInput): Promise<Bytes> {
  const password = lock === undefined ? undefined : passwordBytes(lock.password);
  if (password !== undefined && (password.length === 0 || password.length > MAX_PASSWORD_BYTES))
    throw new RangeError(`A password of 1 to ${MAX_PASSWORD_BYTES} octets`);
  const written: Uint8Array[] = [];
  const writer = new ZipWriter(new WritableStream<Uint8Array>({ write: (piece) => void written.push(piece) }), {
    lastModDate: date,
    extendedTimestamp: false,
    ...(lock?.cipher === 'legacy' ? { rawPassword: password!, zipCrypto: true } : {}),
  });
  for (const file of files) {
    if (lock === undefined || lock.cipher === 'legacy')
      await writer.add(file.name, new Uint8ArrayReader(file.bytes), isPacked(file.name) ? { level: 0 } : {});
    else await addLocked(writer, file, { cipher: lock.cipher, password: password!, isPacked: isPacked(file.name) });
  }
  await writer.close();
  return concat(...written);
}
