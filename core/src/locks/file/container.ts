/**
 * A cheap look at files that came in, for pages: whether there is something to open. What exactly locks them is judged
 * in `recognise.ts`.
 */
import { looksLikeZip } from '../../zip/directory';
import { takenApart } from './page/format';

const latin = new TextDecoder('latin1');

export const looksLikePdf = (bytes: Uint8Array): boolean => latin.decode(bytes.subarray(0, 1024)).includes('%PDF-');

/** Octets at either end in which a PDF says that it is locked. */
const PDF_ENDS = 64 * 1024;
/** ISO 32000-2, §7.5.5 and §7.5.8: the trailer, or the stream that stands for it, names what describes the lock. */
export const isLockedPdf = (bytes: Uint8Array): boolean =>
  [bytes.subarray(0, PDF_ENDS), bytes.subarray(Math.max(0, bytes.length - PDF_ENDS))].some((end) =>
    /\/Encrypt\s*(?:\d+\s+\d+\s+R|<<)/.test(latin.decode(end)),
  );
/** Office papers are ZIPs, too, and nobody wants to look into them. */
const PAPERS = /\.(?:docx|xlsx|pptx|odt|ods|odp|epub)$/i;

/**
 * Whether a file that came in is worth looking into: an archive, or something that asks for a password. A cheap look,
 * by anybody's container and not only ours.
 */
export function isContainer({ name, bytes }: { name: string; bytes: Uint8Array }): boolean {
  if (looksLikeZip(bytes)) return !PAPERS.test(name);
  if (looksLikePdf(bytes)) return isLockedPdf(bytes);
  return (
    /^\s*<!doctype html>/i.test(latin.decode(bytes.subarray(0, 64))) && takenApart(latin.decode(bytes)) !== undefined
  );
}
