/**
 * Whether a file can be mail, or what stands for mail (a CMS or OpenPGP message, keys, certificates), by its first
 * octets and before anything reads it: whatever else somebody drops is
 * named for what it is. Kinds of other files by the `file-type` library.
 */
import { fileTypeFromBuffer } from 'file-type/core';
import { looksLikePackets } from '../openpgp/packets';

/** What a file is that holds no mail. */
export type OtherFile =
  'empty' | 'picture' | 'film' | 'sound' | 'paper' | 'compound' | 'archive' | 'program' | 'text' | 'unknown';

/** Octets that are looked at. */
const LOOKED_AT = 64 * 1024;
const MAX_HEAD = 4096;
const MAX_LINES_BEFORE_A_FIELD = 20;
/** RFC 5322 §2.2: printable characters but no colon, then a colon; §4.5 lets blanks stand before it. */
const FIELD = /^[!-9;-~]{1,200}[ \t]{0,20}:/;
const MBOX_LINE = /^>?From /;
/** RFC 7468 and RFC 9580 §6.2: lines of this kind stand before whatever was packed into text. */
const ARMOUR = '-----BEGIN ';
/** Lines of base64 and nothing else: no blanks in them, as words have. */
const BASE64_ONLY = /^\s{0,20}[A-Za-z0-9+/=\r\n]{32,}\s{0,20}$/;

const latin = new TextDecoder('latin1');

/** Control characters that no text has. Escape begins the switches of ISO 2022 (RFC 1468). */
// eslint-disable-next-line no-control-regex
const isBinary = (text: string): boolean => /[\0-\x08\x0e-\x1a\x1c-\x1f]/.test(text);

/** By its head alone: what follows it may be anything (RFC 3030). */
function beginsLikeMail(text: string): boolean {
  const blank = text.search(/\r?\n\r?\n/);
  if (isBinary(text.slice(0, Math.min(blank < 0 ? text.length : blank, MAX_HEAD)))) return false;
  for (const line of text.split(/\r?\n|\r/, MAX_LINES_BEFORE_A_FIELD)) {
    if (FIELD.test(line)) return true;
    if (line.trim() !== '' && !MBOX_LINE.test(line)) return false;
  }
  return false;
}

/** BER: a sequence, its length in up to four octets or unsaid (X.690 §8.1.3); one that was cut off, too. */
const isSequence = (bytes: Uint8Array): boolean => bytes[0] === 0x30 && bytes[1]! >= 0x80 && bytes[1]! <= 0x84;

const PAPERS = /^application\/(?:pdf|rtf|epub|vnd\.(?:openxmlformats|oasis|ms-|visio))/;
const PROGRAMS = /^application\/(?:x-msdownload|x-elf|x-mach-binary|java-vm|wasm|vnd\.android)|^application\/x-deb$/;

function kindOf(mime: string): OtherFile {
  if (mime.startsWith('image/')) return 'picture';
  if (mime.startsWith('video/')) return 'film';
  if (mime.startsWith('audio/')) return 'sound';
  if (mime === 'application/x-cfb') return 'compound';
  if (PAPERS.test(mime)) return 'paper';
  return PROGRAMS.test(mime) ? 'program' : 'archive';
}

/** Undefined for what is worth reading as mail. Takes the same short time whatever the file's size. */
export async function otherFile(bytes: Uint8Array): Promise<OtherFile | undefined> {
  if (bytes.length === 0) return 'empty';
  const text = latin.decode(bytes.subarray(0, LOOKED_AT));
  if (text.includes(ARMOUR) || isSequence(bytes)) return undefined;
  if (beginsLikeMail(text.replace(/^\xef\xbb\xbf/, '')) || BASE64_ONLY.test(text)) return undefined;
  const known = await fileTypeFromBuffer(bytes.subarray(0, LOOKED_AT)).catch(() => undefined);
  if (known !== undefined && !/pgp/.test(known.mime)) return kindOf(known.mime);
  if (looksLikePackets(bytes)) return undefined;
  return isBinary(text) ? 'unknown' : 'text';
}
