/** Whether a file is locked, and by which container: by its octets, whatever its name says. */
import { ZipError } from '../../zip/errors';
import { isWhollyLocked, looksLikeZip, readDirectory } from '../../zip/directory';
import { type Container } from './way';

export type LockedKind = { container: Container; /** Only by the legacy cipher, in part or whole. */ legacy: boolean };

const latin = new TextDecoder('latin1');

function lockedZip(bytes: Uint8Array): LockedKind | undefined {
  try {
    const heads = readDirectory(bytes);
    return isWhollyLocked(heads) ? { container: 'zip', legacy: heads.some(({ lock }) => lock.kind === 'legacy') } : undefined;
  } catch (error) {
    if (!(error instanceof ZipError)) throw error;
    return undefined;
  }
}

export const looksLikePdf = (bytes: Uint8Array): boolean => latin.decode(bytes.subarray(0, 1024)).includes('%PDF-');

/** ISO 32000-2, §7.6.2: an encryption dictionary of revision 6, named in the last trailer. */
function lockedPdf(bytes: Uint8Array): LockedKind | undefined {
  const end = latin.decode(bytes.subarray(Math.max(0, bytes.length - 4096)));
  return /\/Encrypt\s+\d+\s+\d+\s+R/.test(end) && /\/R\s+6\b/.test(latin.decode(bytes)) ? { container: 'pdf', legacy: false } : undefined;
}

/** Undefined for what anybody can open. */
export function lockedKind(bytes: Uint8Array): LockedKind | undefined {
  if (looksLikeZip(bytes)) return lockedZip(bytes);
  return looksLikePdf(bytes) ? lockedPdf(bytes) : undefined;
}
