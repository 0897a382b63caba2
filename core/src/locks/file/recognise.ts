/** Whether a file is locked, and by which container: by its octets, whatever its name says. */
import { ZipError } from '../../zip/errors';
import { isWhollyLocked, looksLikeZip, readDirectory } from '../../zip/directory';
import { JweError, readJweHeader } from '../../jose/jwe';
import { looksLikePdf } from './container';
import { takenApart } from './page/format';
import { type Container } from '../../ways/file-way';

export interface LockedKind {
  container: Container;
  /** Only by the legacy cipher, in part or whole. */
  legacy: boolean;
  /** Of a page: everything of it that is not sealed. */
  template?: string;
}

const latin = new TextDecoder('latin1');

function lockedZip(bytes: Uint8Array): LockedKind | undefined {
  try {
    const heads = readDirectory(bytes);
    return isWhollyLocked(heads)
      ? { container: 'zip', legacy: heads.some(({ lock }) => lock.kind === 'legacy') }
      : undefined;
  } catch (error) {
    if (!(error instanceof ZipError)) throw error;
    return undefined;
  }
}

/** ISO 32000-2, §7.6.2: an encryption dictionary of revision 6, named in the last trailer. */
function lockedPdf(bytes: Uint8Array): LockedKind | undefined {
  const end = latin.decode(bytes.subarray(Math.max(0, bytes.length - 4096)));
  return /\/Encrypt\s+\d+\s+\d+\s+R/.test(end) && /\/R\s+6\b/.test(latin.decode(bytes))
    ? { container: 'pdf', legacy: false }
    : undefined;
}

/** Read as long as it may be one: pages of other kinds are long, too. */
function lockedPage(bytes: Uint8Array): LockedKind | undefined {
  if (!/^\s*<!doctype html>/i.test(latin.decode(bytes.subarray(0, 64)))) return undefined;
  const taken = takenApart(latin.decode(bytes));
  if (taken === undefined) return undefined;
  try {
    readJweHeader(taken.jwe);
  } catch (error) {
    if (!(error instanceof JweError)) throw error;
    return undefined;
  }
  return { container: 'page', legacy: false, template: taken.template };
}

/** Undefined for what anybody can open. */
export function lockedKind(bytes: Uint8Array): LockedKind | undefined {
  if (looksLikeZip(bytes)) return lockedZip(bytes);
  return looksLikePdf(bytes) ? lockedPdf(bytes) : lockedPage(bytes);
}
