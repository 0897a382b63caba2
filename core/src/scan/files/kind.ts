/** What a file is, by what is in it: its ending says nothing that its sender could not have made up. */
import { type Bytes } from '../../bytes';
import { type FileKind } from '../../rules/facts';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { officeKind } from './office';
import { isText, looksLikeMail, mimeOf, startsWith } from './signs';
import { looksLikeRtf } from './rtf';

const BY_MIME: readonly [RegExp, FileKind][] = [
  [/^image\//, 'picture'],
  [/pdf$/, 'pdf'],
  // Word, Excel and PowerPoint as they were before; mail as one program keeps it lies in the same container.
  [/^application\/x-cfb$/, 'office'],
  [/officedocument|opendocument|rtf$/, 'office'],
  [/x-msdownload|x-elf|mach-binary|wasm|java-vm|x-executable|x-dex/, 'program'],
  [/zip|7z|rar|gzip|x-tar|bzip|x-xz|zstd|x-lzip|x-ace|x-cpio|x-deb|x-rpm|vnd\.ms-cab/, 'archive'],
];

function archiveKind(bytes: Bytes): FileKind {
  try {
    return officeKind(readDirectory(bytes).map(({ name }) => name)) === undefined ? 'archive' : 'office';
  } catch {
    return 'archive';
  }
}

/** @param name Tells mails apart from other text, and from what else lies in the same container. */
export async function fileKind({ name, bytes }: { name: string; bytes: Bytes }): Promise<FileKind> {
  if (looksLikeZip(bytes)) return archiveKind(bytes);
  if (startsWith(bytes, '%PDF-')) return 'pdf';
  if (looksLikeRtf(bytes)) return 'office';
  if (startsWith(bytes, '#!')) return 'program';
  const mime = await mimeOf(bytes);
  const kind = mime === undefined ? undefined : BY_MIME.find(([known]) => known.test(mime))?.[1];
  if (kind !== undefined) return mime === 'application/x-cfb' && /\.msg$/i.test(name) ? 'mail' : kind;
  if (!isText(bytes)) return 'other';
  return /\.eml$/i.test(name) || looksLikeMail(bytes) ? 'mail' : 'text';
}
