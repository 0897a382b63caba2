/** Writes a ZIP, locked or only packed. */
import { type Bytes, utf8 } from '../bytes';
import { type ZipCipher } from './cipher';
import { Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from './library';

export interface ZipFile { name: string; bytes: Bytes }

/** The longest that other programs take. */
export const MAX_PASSWORD_BYTES = 99;
/** One spelling for each password, in the octets every program agrees on. */
export const passwordBytes = (password: string): Bytes => utf8(password.normalize('NFC'));

const LOCKS = {
  'aes-256': { encryptionStrength: 3, zipCrypto: false },
  'aes-128': { encryptionStrength: 1, zipCrypto: false },
  legacy: { zipCrypto: true },
} as const;

export interface ZipInput {
  files: readonly ZipFile[];
  /** Undefined for what is only packed. */
  lock: { cipher: ZipCipher; password: string } | undefined;
  date: Date;
  /** What is put in as it is: it would not get smaller. */
  isPacked: (name: string) => boolean;
}

/** @throws RangeError on a password that would leave it open, or that other programs refuse */
export async function writeZip({ files, lock, date, isPacked }: ZipInput): Promise<Bytes> {
  const raw = lock === undefined ? undefined : passwordBytes(lock.password);
  if (raw !== undefined && (raw.length === 0 || raw.length > MAX_PASSWORD_BYTES)) throw new RangeError(`A password of 1 to ${MAX_PASSWORD_BYTES} octets`);
  const writer = new ZipWriter(new Uint8ArrayWriter(), { lastModDate: date, extendedTimestamp: false, ...(raw === undefined ? {} : { rawPassword: raw, ...LOCKS[lock!.cipher] }) });
  for (const { name, bytes } of files) await writer.add(name, new Uint8ArrayReader(bytes), isPacked(name) ? { level: 0 } : {});
  return (await writer.close()) as Bytes;
}
