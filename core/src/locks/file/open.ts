/** Opens a locked file that somebody sent, by what it is and not by its name. Everything stays in memory; what is inside is bounded. */
import { type Bytes } from '../../bytes';
import { type MessageContent } from '../../message/content';
import { readMessage } from '../../message/read';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { ZipError, type ZipErrorCode } from '../../zip/errors';
import { readZip } from '../../zip/read';
import { type ZipFile } from '../../zip/write';
import { LANGUAGES } from '../../people/language';
import { coverWords } from './cover';

export type FileOpenErrorCode = ZipErrorCode | 'not-a-container';
export class FileOpenError extends Error {
  constructor(readonly code: FileOpenErrorCode, options?: ErrorOptions) {
    super(`Locked file: ${code}`, options);
    this.name = 'FileOpenError';
  }
}

export interface OpenedContainer {
  /** It asked for no password. */
  open: boolean;
  /** The message, where one of the files is one. */
  message: { kind: 'mail'; content: MessageContent } | { kind: 'page'; html: string } | undefined;
  /** Everything else, by names safe to show and to save. */
  files: ZipFile[];
}

/** Packed once more to hide the names. */
const CONTENTS = 'contents.zip';
const MESSAGE_NAMES = new Set(LANGUAGES.map((language) => coverWords(language).messageName.toLowerCase()));
const isMessage = (name: string, extension: string): boolean => name.toLowerCase().endsWith(extension) && MESSAGE_NAMES.has(name.slice(0, -extension.length).toLowerCase());

async function messageIn(files: readonly ZipFile[]): Promise<{ message: OpenedContainer['message']; used: ZipFile | undefined }> {
  const mail = files.find(({ name }) => isMessage(name, '.eml'));
  if (mail !== undefined) return { message: { kind: 'mail', content: await readMessage(mail.bytes) }, used: mail };
  const page = files.find(({ name }) => isMessage(name, '.html'));
  return page === undefined ? { message: undefined, used: undefined } : { message: { kind: 'page', html: new TextDecoder().decode(page.bytes) }, used: page };
}

/** Whether this can be looked into here at all. */
export const isContainer = (bytes: Uint8Array): boolean => looksLikeZip(bytes);

async function unpacked(bytes: Bytes, password: string | undefined): Promise<ZipFile[]> {
  const files = await readZip(bytes, password);
  const [only] = files;
  if (files.length !== 1 || only!.name !== CONTENTS || !looksLikeZip(only!.bytes)) return files;
  return readZip(only!.bytes, password);
}

/** @throws FileOpenError; MessageReadError when what calls itself a mail inside is none */
export async function openContainer(bytes: Bytes, password?: string): Promise<OpenedContainer> {
  if (!isContainer(bytes)) throw new FileOpenError('not-a-container');
  try {
    const open = readDirectory(bytes).every(({ lock }) => lock.kind === 'none');
    const files = await unpacked(bytes, open ? undefined : password);
    const { message, used } = await messageIn(files);
    return { open, message, files: files.filter((file) => file !== used) };
  } catch (cause) {
    if (cause instanceof ZipError) throw new FileOpenError(cause.code, { cause });
    throw cause;
  }
}
