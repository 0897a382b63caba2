/** By what a file's first octets tell it from others. */
import { fileTypeFromBuffer } from 'file-type/core';

const LOOKED_AT = 4_096;

export const startsWith = (bytes: Uint8Array, ...signs: (string | readonly number[])[]): boolean =>
  signs.some((sign) =>
    [...sign].every((one, index) => bytes[index] === (typeof one === 'string' ? one.charCodeAt(0) : one)),
  );

export const charsetOf = (bytes: Uint8Array): string | undefined =>
  startsWith(bytes, [0xff, 0xfe]) ? 'utf-16le' : startsWith(bytes, [0xfe, 0xff]) ? 'utf-16be' : undefined;

/** Few control characters among its first octets; any text in UTF-16 says itself that it is. */
export function isText(bytes: Uint8Array): boolean {
  if (charsetOf(bytes) !== undefined) return true;
  const head = bytes.subarray(0, LOOKED_AT);
  const odd = head.reduce(
    (count, octet) => count + (octet < 9 || (octet > 13 && octet < 32 && octet !== 27) ? 1 : 0),
    0,
  );
  return odd * 100 <= head.length;
}

export function looksLikeMail(bytes: Uint8Array): boolean {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, LOOKED_AT));
  return (
    /^(?:Return-Path|Received|From|Date|MIME-Version|Message-ID|Delivered-To):/i.test(head) &&
    /^(?:From|Subject|MIME-Version):/im.test(head)
  );
}

/** By the `file-type` library. A bitmap begins with two letters that words begin with, too. */
export async function mimeOf(bytes: Uint8Array): Promise<string | undefined> {
  const known = await fileTypeFromBuffer(bytes.subarray(0, LOOKED_AT)).catch(() => undefined);
  return known?.mime === 'image/bmp' && isText(bytes) ? undefined : known?.mime;
}

/** Of whatever packs files or one file; ZIP is told by its own signs. */
export const isArchive = (mime: string): boolean =>
  /zip|7z|rar|x-tar|x-xz|zstd|x-lzip|x-lzh|x-ace|x-cpio|x-deb|x-rpm|x-compress|vnd\.ms-cab/.test(mime);
