/** Opens a locked PDF: the paper without its lock, and the files attached to it. The library lets a wrong password pass and then unfolds rubbish, so that is asked first. */
import { PDF } from '@libpdf/core';
import { type Bytes } from '../../bytes';
import { distinctNames, safeFileName } from '../../message/file-name';
import { type ZipFile } from '../../zip/write';
import { FileOpenError } from './open-error';
import { type OpenedContainer } from './opened';

const MAX_ATTACHMENTS = 500;
const MAX_ATTACHED = 200_000_000;

async function loaded(bytes: Bytes, password: string | undefined): Promise<PDF> {
  try {
    return await PDF.load(bytes, password === undefined ? {} : { credentials: password });
  } catch (cause) {
    throw new FileOpenError('malformed', { cause });
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

/** @throws FileOpenError */
export async function openPdfContainer(bytes: Bytes, password: string | undefined): Promise<OpenedContainer> {
  const pdf = await loaded(bytes, password?.normalize('NFC'));
  if (pdf.isEncrypted && !pdf.isAuthenticated) throw new FileOpenError(password === undefined ? 'locked' : 'wrong-password');
  return { open: !pdf.isEncrypted, message: undefined, files: attachmentsOf(pdf) };
}
