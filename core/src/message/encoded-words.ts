/**
 * Encoded words in header fields (RFC 2047), read in one walk: an encoded word holds no question mark inside, so where
 * one word ends the next search begins.
 */
import { concat, utf8 } from '../bytes';
import { fromBase64Lines } from './base64';
import { decodeText } from './charset';
import { fromQuotedPrintable } from './quoted-printable';

interface Word {
  charset: string;
  bytes: Uint8Array;
  /** After its last character. */ end: number;
}

const isBlank = (text: string): boolean => text.trim() === '';

/** The encoded word that begins with the `=?` at `at`. */
function wordAt(text: string, at: number): Word | undefined {
  const first = text.indexOf('?', at + 2);
  if (first < 0 || text[first + 2] !== '?') return undefined;
  const encoding = text[first + 1]!.toLowerCase();
  const last = text.indexOf('?', first + 3);
  if (last < 0 || text[last + 1] !== '=' || (encoding !== 'b' && encoding !== 'q')) return undefined;
  // RFC 2231 §5: a language may follow the character set.
  const charset = text
    .slice(at + 2, first)
    .split('*', 1)[0]!
    .toLowerCase();
  const octets = utf8(text.slice(first + 3, last));
  return {
    charset,
    bytes: encoding === 'b' ? fromBase64Lines(octets) : fromQuotedPrintable(octets, { inHeader: true }),
    end: last + 2,
  };
}

/**
 * The value of a header field as people read it. Words beside one another belong together, also where a letter was cut
 * between them (§6.2).
 */
export function decodeWords(text: string): string {
  const out: string[] = [];
  let held: { charset: string; parts: Uint8Array[] } | undefined;
  const flush = (): void => {
    if (held !== undefined) out.push(decodeText(concat(...held.parts), held.charset));
    held = undefined;
  };
  let from = 0;
  for (let at = text.indexOf('=?'); at >= 0;) {
    const word = wordAt(text, at);
    if (word === undefined) {
      at = text.indexOf('=?', at + 2);
      continue;
    }
    const between = text.slice(from, at);
    if (held === undefined || !isBlank(between)) {
      flush();
      out.push(between);
    } else if (held.charset !== word.charset) flush();
    held ??= { charset: word.charset, parts: [] };
    held.parts.push(word.bytes);
    from = word.end;
    at = text.indexOf('=?', from);
  }
  flush();
  return out.length === 0 ? text : out.join('') + text.slice(from);
}
