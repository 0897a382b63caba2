/** The scan thread: looks into what is being written, away from the page, and tells nobody but the page. */
import { type Bytes, fromBase64Url } from '@under-lock/core/bytes';
import { openContent } from '@under-lock/core/locks/room/content';
import { type DraftFile } from '@under-lock/core/outgoing/draft';
import { type Seen, type SeenInFile, seenInFile, seenInMessage, type Written } from '@under-lock/core/scan/message';
import { expose } from 'comlink';
import '../errors';
import { download } from '../transfer';
import { pdfPieces } from './pdf';

const stopping = new Map<string, AbortController>();
const thisYear = (): number => new Date().getFullYear();

/** As it lies on the disk where it was just chosen, else as it was sealed and kept. */
async function bytesOf({ blobId, key }: DraftFile, chosen: Blob | undefined): Promise<Bytes> {
  if (chosen !== undefined) return new Uint8Array(await chosen.arrayBuffer());
  return openContent(await download(blobId), fromBase64Url(key.key));
}

const scan = {
  message: (written: Written): Promise<Seen[]> => seenInMessage(written, thisYear()),
  /** @param told How many of its pieces have been looked through. @throws ApiProblem */
  async file(file: DraftFile, chosen: Blob | undefined, told: (pieces: number) => void): Promise<SeenInFile> {
    const control = new AbortController();
    stopping.set(file.blobId, control);
    try {
      const bytes = await bytesOf(file, chosen);
      return await seenInFile({ name: file.name, bytes }, thisYear(), {
        ports: { pdf: pdfPieces },
        told,
        signal: control.signal,
      });
    } finally {
      stopping.delete(file.blobId);
    }
  },
  stop: (blobId: string): void => stopping.get(blobId)?.abort(),
};
export type ScanDoor = typeof scan;

expose(scan);
