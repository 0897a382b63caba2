/**
 * Opens a locked file that somebody sent, by what it is and not by its name. Everything stays in memory; what is inside
 * is bounded.
 */
import { type Bytes } from '../../bytes';
import { readMessage } from '../../message/read';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { ZipError } from '../../zip/errors';
import { readZip } from '../../zip/read';
import { type ZipFile } from '../../zip/write';
import { LANGUAGES } from '../../language';
import { escapeHtml } from '../../escape-html';
import { JweError } from '../../jose/jwe';
import { distinctNames, safeFileName } from '../../file-name';
import { coverWords } from './cover';
import { FileOpenError } from './open-error';
import { type OpenedContainer } from './opened';
import { blocksHtml } from './message-page';
import { takenApart } from './page/format';
import { openSealed } from './page/open-page';
import { pageMessageSchema } from './page/message-schema';
import { looksLikePdf } from './container';

export { FileOpenError, type FileOpenErrorCode } from './open-error';

/** Packed once more to hide the names. */
const CONTENTS = 'contents.zip';
const MESSAGE_NAMES = new Set(LANGUAGES.map((language) => coverWords(language).messageName.toLowerCase()));
const isMessage = (name: string, extension: string): boolean =>
  name.toLowerCase().endsWith(extension) && MESSAGE_NAMES.has(name.slice(0, -extension.length).toLowerCase());

async function messageIn(
  files: readonly ZipFile[],
): Promise<{ message: OpenedContainer['message']; used: ZipFile | undefined }> {
  const mail = files.find(({ name }) => isMessage(name, '.eml'));
  if (mail !== undefined) return { message: { kind: 'mail', content: await readMessage(mail.bytes) }, used: mail };
  const page = files.find(({ name }) => isMessage(name, '.html'));
  return page === undefined
    ? { message: undefined, used: undefined }
    : { message: { kind: 'page', html: new TextDecoder().decode(page.bytes) }, used: page };
}

const latin = new TextDecoder('latin1');
const jweOf = (bytes: Uint8Array): string | undefined =>
  /^\s*<!doctype html>/i.test(latin.decode(bytes.subarray(0, 64))) ? takenApart(latin.decode(bytes))?.jwe : undefined;

async function unpacked(bytes: Bytes, password: string | undefined): Promise<ZipFile[]> {
  const files = await readZip(bytes, password);
  const [only] = files;
  if (files.length !== 1 || only!.name !== CONTENTS || !looksLikeZip(only!.bytes)) return files;
  return readZip(only!.bytes, password);
}

async function openPage(jwe: string, password: string | undefined): Promise<OpenedContainer> {
  if (password === undefined) throw new FileOpenError('locked');
  try {
    const { message, files } = await openSealed(jwe, password);
    const shown = pageMessageSchema.safeParse(message);
    if (!shown.success) throw new FileOpenError('malformed');
    const names = distinctNames(files.map(({ name }) => safeFileName(name)));
    return {
      open: false,
      message:
        shown.data.subject === '' && shown.data.blocks.length === 0
          ? undefined
          : { kind: 'page', html: `<h1>${escapeHtml(shown.data.subject)}</h1>${blocksHtml(shown.data.blocks)}` },
      files: files.map(({ bytes }, index) => ({ name: names[index]!, bytes: bytes.slice() as Bytes })),
    };
  } catch (cause) {
    if (cause instanceof FileOpenError) throw cause;
    throw new FileOpenError(
      cause instanceof JweError ? cause.code : cause instanceof ZipError ? cause.code : 'malformed',
      { cause },
    );
  }
}

/** Its files, and the PDF itself without its lock, to be shown. */
async function openPdf(bytes: Bytes, password: string | undefined): Promise<OpenedContainer> {
  const { openPdfContainer } = await import('./open-pdf');
  return openPdfContainer(bytes, password);
}

/** @throws FileOpenError; MessageReadError when what calls itself a mail inside is none */
export async function openContainer(bytes: Bytes, password?: string): Promise<OpenedContainer> {
  if (looksLikePdf(bytes)) return openPdf(bytes, password);
  const jwe = jweOf(bytes);
  if (jwe !== undefined) return openPage(jwe, password);
  if (!looksLikeZip(bytes)) throw new FileOpenError('not-a-container');
  try {
    const open = readDirectory(bytes).every(({ lock }) => lock.kind === 'none');
    const files = await unpacked(bytes, open ? undefined : password);
    const { message, used } = await messageIn(files);
    return { open, message, files: files.filter((file) => file !== used) };
  } catch (cause) {
    if (cause instanceof ZipError) throw new FileOpenError(cause.code, { cause }, cause.method);
    throw cause;
  }
}
