/** What a file is, by what is in it: its ending says nothing that its sender could not have made up. */
import { type Bytes } from '../../bytes';
import { type FileKind } from '../../rules/facts';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { looksLikeCompound } from './compound';
import { readMsg } from './msg';
import { officeKind } from './office';
import { isArchive, isText, looksLikeMail, mimeOf, startsWith } from './signs';
import { looksLikeRtf } from './rtf';

const BY_MIME: readonly [RegExp, FileKind][] = [
  [/^image\//, 'picture'],
  [/pdf$/, 'pdf'],
  [/officedocument|opendocument|rtf$/, 'office'],
  [/x-msdownload|x-elf|mach-binary|wasm|java-vm|x-executable|x-dex/, 'program'],
];

function archiveKind(bytes: Bytes): FileKind {
  try {
    return officeKind(readDirectory(bytes).map(({ name }) => name)) === undefined ? 'archive' : 'office';
  } catch {
    return 'archive';
  }
}

/** Mail as one program keeps it; else Word, Excel and PowerPoint as they were before. */
function compoundKind(bytes: Bytes): FileKind {
  try {
    return readMsg(bytes) === undefined ? 'office' : 'mail';
  } catch {
    return 'office';
  }
}

/** @param name Tells mails apart from other text. */
export async function fileKind({ name, bytes }: { name: string; bytes: Bytes }): Promise<FileKind> {
  if (looksLikeZip(bytes)) return archiveKind(bytes);
  if (startsWith(bytes, '%PDF-')) return 'pdf';
  if (looksLikeRtf(bytes)) return 'office';
  if (looksLikeCompound(bytes)) return compoundKind(bytes);
  if (startsWith(bytes, '#!')) return 'program';
  const mime = await mimeOf(bytes);
  const kind = mime === undefined ? undefined : BY_MIME.find(([known]) => known.test(mime))?.[1];
  if (kind !== undefined) return kind;
  if (mime !== undefined && isArchive(mime)) return 'archive';
  if (!isText(bytes)) return 'other';
  return /\.eml$/i.test(name) || looksLikeMail(bytes) ? 'mail' : 'text';
}
