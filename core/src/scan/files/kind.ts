/** What a file is, by what is in it: its ending says nothing that its sender could not have made up. */
import { fileTypeFromBuffer } from 'file-type/core';
import { type Bytes } from '../../bytes';
import { type FileKind } from '../../rules/facts';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { officeKind } from './office';
import { isText, looksLikeMail, startsWith } from './signs';
import { looksLikeRtf } from './rtf';

const LOOKED_AT = 4_096;

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
  const known = await fileTypeFromBuffer(bytes.subarray(0, LOOKED_AT)).catch(() => undefined);
  // A bitmap begins with two letters that words begin with, too.
  const isKnown = known !== undefined && !(known.mime === 'image/bmp' && isText(bytes));
  const kind = isKnown ? BY_MIME.find(([mime]) => mime.test(known.mime))?.[1] : undefined;
  if (kind !== undefined) return known?.mime === 'application/x-cfb' && /\.msg$/i.test(name) ? 'mail' : kind;
  if (!isText(bytes)) return 'other';
  return /\.eml$/i.test(name) || looksLikeMail(bytes) ? 'mail' : 'text';
}
