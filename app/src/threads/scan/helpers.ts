/** Threads that the scan thread starts for one file and ends with it; each has its time. */
import { type Bytes } from '@under-lock/core/bytes';
import { type FileToScan } from '@under-lock/core/scan/files/read';
import { TooSlowError, within } from '@under-lock/core/within';
import { ZipError } from '@under-lock/core/zip/errors';
import { type Remote, transfer, wrap } from 'comlink';
import { type Pictures } from './picture-thread';
import { type Unpacking } from './unpack-thread';

/** Where their scripts lie: scripts/ground/build.mjs puts it here. */
declare const SCAN_HELPERS: Record<'unpack' | 'picture', string>;

const AN_ARCHIVE_MS = 30_000;
const A_PICTURE_MS = 60_000;
/** Longer sides are made shorter: letters of a page keep some twenty points each. */
const LONGEST_SIDE = 3_500; // points
/** Somebody waits for them: at seconds a page, ten are a minute. */
export const MOST_PICTURES = 10;

/** @throws ZipError */
export async function unpackApart(archive: FileToScan): Promise<FileToScan[]> {
  const thread = new Worker(SCAN_HELPERS.unpack, { type: 'module' });
  try {
    const files = await within(
      wrap<Unpacking>(thread).unpack(archive) as Promise<FileToScan[] | string>,
      AN_ARCHIVE_MS,
    );
    if (typeof files === 'string') throw new ZipError(files as ZipError['code']);
    return files;
  } catch (error) {
    throw error instanceof TooSlowError ? new ZipError('too-large') : error;
  } finally {
    thread.terminate();
  }
}

/** Reads pictures one after the other, ten at most. */
export class PictureReader {
  private thread: Worker | undefined;
  private remote: Remote<Pictures> | undefined;
  private begun = 0;
  private over: (() => void) | undefined;
  private isStopped = false;

  constructor(private readonly told: (picture: number) => void) {}

  private get door(): Remote<Pictures> {
    this.thread ??= new Worker(SCAN_HELPERS.picture, { type: 'module' });
    return (this.remote ??= wrap<Pictures>(this.thread));
  }

  /** undefined for one more than are read, and for what no browser shows or nobody reads in a minute. */
  async read(picture: ImageBitmap): Promise<string | undefined> {
    if (this.isStopped || this.begun >= MOST_PICTURES) return undefined;
    this.begun += 1;
    this.told(this.begun);
    const stopped = new Promise<undefined>((done) => (this.over = () => done(undefined)));
    const read = within(this.door.read(transfer(picture, [picture])), A_PICTURE_MS).catch((error: unknown) => {
      if (error instanceof TooSlowError) return undefined;
      throw error;
    });
    const text = await Promise.race([read, stopped]);
    if (text === undefined) this.end();
    return text;
  }

  async readBytes(bytes: Bytes): Promise<string | undefined> {
    if (this.isStopped || this.begun >= MOST_PICTURES) return undefined;
    try {
      return await this.read(await fitting(new Blob([bytes])));
    } catch {
      return undefined;
    }
  }

  /** No more of them; the one that is being read is given up. */
  stop(): void {
    this.isStopped = true;
    this.over?.();
    this.end();
  }

  private end(): void {
    this.thread?.terminate();
    this.thread = this.remote = undefined;
  }
}

async function fitting(file: Blob): Promise<ImageBitmap> {
  const whole = await createImageBitmap(file);
  const share = LONGEST_SIDE / Math.max(whole.width, whole.height);
  if (share >= 1) return whole;
  const smaller = await createImageBitmap(whole, {
    resizeWidth: Math.max(1, Math.round(whole.width * share)),
    resizeHeight: Math.max(1, Math.round(whole.height * share)),
    resizeQuality: 'high',
  });
  whole.close();
  return smaller;
}
