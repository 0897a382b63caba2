/**
 * Quoted-printable (RFC 2045 §6.7), octets to octets; and its sister in header fields (RFC 2047 §4.2). What is spelled
 * wrongly stays as it stands.
 */
import { type Bytes } from '../bytes';

const [EQUALS, UNDERSCORE, SPACE, TAB, CR, LF] = [61, 95, 32, 9, 13, 10];

/** Of a hexadecimal digit; -1 for anything else. */
function digit(code: number | undefined): number {
  if (code === undefined) return -1;
  if (code >= 48 && code <= 57) return code - 48;
  const letter = code & 0xdf;
  return letter >= 65 && letter <= 70 ? letter - 55 : -1;
}

/** After the `=` at `at`: where the next line begins when the line goes on there, else undefined. */
function softBreak(body: Uint8Array, at: number): number | undefined {
  let end = at + 1;
  while (body[end] === SPACE || body[end] === TAB) end += 1;
  if (body[end] === CR) end += 1;
  if (end >= body.length) return end;
  return body[end] === LF ? end + 1 : undefined;
}

export function fromQuotedPrintable(body: Uint8Array, { inHeader = false } = {}): Bytes {
  const out = new Uint8Array(body.length);
  let length = 0;
  for (let at = 0; at < body.length; at++) {
    const code = body[at]!;
    if (inHeader && code === UNDERSCORE) {
      out[length++] = SPACE;
      continue;
    }
    const [high, low] = code === EQUALS ? [digit(body[at + 1]), digit(body[at + 2])] : [-1, -1];
    const next = code === EQUALS && high < 0 && !inHeader ? softBreak(body, at) : undefined;
    if (high >= 0 && low >= 0) {
      out[length++] = (high << 4) | low;
      at += 2;
    } else if (next !== undefined) at = next - 1;
    else out[length++] = code;
  }
  return out.slice(0, length);
}
