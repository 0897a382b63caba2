/**
 * Triple DES (RFC 3370 §5.1) and RC2 (§5.2) in CBC mode, only to read: what programs before about 2010 wrote. A
 * library's, on strings of one octet a character.
 */
import forge from 'node-forge/lib/forge.js';
import 'node-forge/lib/des.js';
import 'node-forge/lib/rc2.js';
import { type Bytes } from '../bytes';
import { CmsError } from './errors';

const BLOCK = 64 * 1024;

/** Octets as a string, in pieces that don't overflow the stack. */
export function octetString(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += BLOCK) text += String.fromCharCode(...bytes.subarray(at, at + BLOCK));
  return text;
}

export function fromOctetString(text: string): Bytes {
  const bytes = new Uint8Array(text.length);
  for (let at = 0; at < text.length; at++) bytes[at] = text.charCodeAt(at);
  return bytes;
}

/** Any more of it would freeze the worker for a minute, and nobody has sent such for a decade. */
export const MAX_OLD_BYTES = 64 * 1024 * 1024;

/** @throws CmsError `not-opened` */
export function oldDecrypt(
  { name, iv, effectiveBits }: { name: string; iv: Uint8Array; effectiveBits: number },
  key: Uint8Array,
  body: Uint8Array,
): Bytes {
  if (body.length > MAX_OLD_BYTES || body.length % 8 !== 0 || iv.length !== 8) throw new CmsError('malformed');
  if (name === '3DES-CBC') {
    const cipher = forge.cipher.createDecipher('3DES-CBC', octetString(key));
    cipher.start({ iv: octetString(iv) });
    cipher.update(forge.util.createBuffer(octetString(body)));
    if (!cipher.finish()) throw new CmsError('not-opened');
    return fromOctetString(cipher.output.getBytes());
  }
  const cipher = forge.rc2.createDecryptionCipher(octetString(key), effectiveBits);
  cipher.start(octetString(iv));
  cipher.update(forge.util.createBuffer(octetString(body)));
  if (!cipher.finish()) throw new CmsError('not-opened');
  return fromOctetString(cipher.output.getBytes());
}
