/**
 * Opens a locked PDF: the paper without its lock, and the files attached to it. Many programs keep the catalogue
 * itself in a sealed object stream (ISO 32000-2, §7.5.7), so nothing can be
 * looked up before a password has fitted: the patched library says so before it reads on.
 */
import { PDF, SecurityError } from '@libpdf/core';
import { type Bytes, fromUtf8 } from '../../bytes';
import { distinctNames, safeFileName } from '../../file-name';
import { type ZipFile } from '../../zip/write';
import { isLockedPdf } from './container';
import { FileOpenError } from './open-error';
import { type OpenedContainer } from './opened';
import { pdfPasswords } from './pdf-password';

const MAX_ATTACHMENTS = 500;
const MAX_ATTACHED = 200_000_000;

/** What our patch of the library says, word for word. */
const NOT_OPENED = 'Not authenticated';

/** Undefined when these octets don't open it. */
async function loaded(bytes: Bytes, password: Bytes | undefined): Promise<PDF | undefined> {
  try {
    // The patched library takes octets, too: which they are depends on the file.
    const pdf = await PDF.load(
      bytes,
      password === undefined ? {} : { credentials: { type: 'password', password: password as unknown as string } },
    );
    // Found by searching because its table is damaged, it has lost its lock's description with it.
    if (pdf.recoveredViaBruteForce && !pdf.isEncrypted && isLockedPdf(bytes)) throw new FileOpenError('malformed');
    return pdf;
  } catch (cause) {
    if (cause instanceof FileOpenError) throw cause;
    if (!(cause instanceof SecurityError)) throw new FileOpenError('malformed', { cause });
    if (cause.message === NOT_OPENED) return undefined;
    throw new FileOpenError('unsupported', { cause });
  }
}

function attachmentsOf(pdf: PDF): ZipFile[] {
  try {
    const names = [...pdf.getAttachments().keys()];
    if (names.length > MAX_ATTACHMENTS) throw new FileOpenError('too-large');
    const safe = distinctNames(names.map(safeFileName));
    let left = MAX_ATTACHED;
    return names.flatMap((name, index) => {
      const content = pdf.getAttachment(name);
      left -= content?.length ?? 0;
      if (left < 0) throw new FileOpenError('too-large');
      return content === null ? [] : [{ name: safe[index]!, bytes: content.slice() as Bytes }];
    });
  } catch (cause) {
    throw cause instanceof FileOpenError ? cause : new FileOpenError('malformed', { cause });
  }
}

/** Viewers take text and make it UTF-8 themselves for revision 6 only. */
const forViewer = (form: Bytes, revision: number | undefined): string =>
  revision === 6 ? fromUtf8(form) : String.fromCharCode(...form);

/** @throws FileOpenError */
export async function openPdfContainer(bytes: Bytes, password: string | undefined): Promise<OpenedContainer> {
  for (const form of password === undefined ? [undefined] : pdfPasswords(password)) {
    const pdf = await loaded(bytes, form);
    if (pdf === undefined) continue;
    return {
      open: !pdf.isEncrypted,
      message: undefined,
      files: attachmentsOf(pdf),
      ...(form === undefined ? {} : { viewerPassword: forViewer(form, pdf.getSecurity().revision) }),
    };
  }
  throw new FileOpenError(password === undefined ? 'locked' : 'wrong-password');
}
