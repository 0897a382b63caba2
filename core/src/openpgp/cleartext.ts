/**
 * A text signed in the clear (RFC 9580 §7), taken apart as octets: programs sign what they have in the character set they have it in, so what was signed is no text until it was checked.
 * Left out: `NotDashEscaped`, which the standard has dropped.
 */
import { type Bytes, concat, utf8 } from '../bytes';
import { lineEnd } from '../message/entity';
import { armouredBlocks } from './armour';

export interface Cleartext {
  /** The octets as they were signed: lines ended by CRLF, without blanks at their ends, none after the last (§7.1). */
  signed: Bytes;
  /** The signature's packets; undefined when there is none, or a damaged one. */
  signature: Bytes | undefined;
  /** What its head says of the character set. */
  charset: string | undefined;
  /** What stands after its end: nobody signed that. */
  after: Bytes;
}

const BEGIN = '-----BEGIN PGP SIGNED MESSAGE-----';
const BEGIN_SIGNATURE = '-----BEGIN PGP SIGNATURE-----';
const END_SIGNATURE = '-----END PGP SIGNATURE-----';
const [TAB, LF, CR, BLANK, DASH] = [9, 10, 13, 32, 45];
const MAX_LINES = 500_000;
const MAX_HEAD_LINES = 20;

const latin = new TextDecoder('latin1');

function trimmed(line: Uint8Array): Uint8Array {
  let end = line.length;
  while (end > 0 && [TAB, LF, CR, BLANK].includes(line[end - 1]!)) end -= 1;
  return line.subarray(0, end);
}

function linesOf(bytes: Uint8Array): Uint8Array[] {
  const lines: Uint8Array[] = [];
  for (let at = 0; at < bytes.length && lines.length <= MAX_LINES; at = lineEnd(bytes, at)) lines.push(trimmed(bytes.subarray(at, lineEnd(bytes, at))));
  return lines;
}

const isLine = (line: Uint8Array | undefined, wanted: string): boolean => line !== undefined && line.length === wanted.length && line[0] === DASH && latin.decode(line) === wanted;
const joined = (lines: readonly Uint8Array[]): Bytes => concat(...lines.flatMap((line, index) => (index === 0 ? [line] : [utf8('\r\n'), line])));
const unescaped = (line: Uint8Array): Uint8Array => (line[0] === DASH && line[1] === BLANK ? line.subarray(2) : line);

/** Whether these octets begin as such a text, blanks aside. */
export const beginsAsCleartext = (bytes: Uint8Array): boolean => latin.decode(bytes.subarray(0, 200)).trimStart().startsWith(BEGIN);

/** Undefined when it does not begin as one. */
export function readCleartext(bytes: Uint8Array): Cleartext | undefined {
  const lines = linesOf(bytes);
  const start = lines.findIndex((line) => line.length > 0);
  if (start < 0 || !isLine(lines[start], BEGIN) || lines.length > MAX_LINES) return undefined;
  let at = start + 1;
  let charset: string | undefined;
  let isOddHead = false;
  for (; at < lines.length && at < start + MAX_HEAD_LINES && lines[at]!.length > 0; at++) {
    const [, name, value] = /^([A-Za-z-]{1,40}): ?(.{0,100})/.exec(latin.decode(lines[at])) ?? [];
    if (name?.toLowerCase() === 'charset') charset = value!.trim();
    // §7: no other line belongs there; somebody may have hidden text in it.
    else if (name?.toLowerCase() !== 'hash') isOddHead = true;
  }
  const from = at + 1;
  const until = lines.findIndex((line, index) => index >= from && isLine(line, BEGIN_SIGNATURE));
  const body = lines.slice(from, until < 0 ? undefined : until);
  const end = until < 0 ? -1 : lines.findIndex((line, index) => index > until && isLine(line, END_SIGNATURE));
  const block = end < 0 ? [] : armouredBlocks(concat(joined(lines.slice(until, end + 1)), utf8('\r\n')));
  // A line that begins with a dash is always escaped; one that is not could end the text for other readers.
  const isSound = !isOddHead && body.every((line) => line[0] !== DASH || line[1] === BLANK);
  return {
    signed: joined(body.map(unescaped)),
    signature: isSound && block.length === 1 && block[0]!.kind === 'SIGNATURE' ? block[0]!.bytes : undefined,
    charset,
    after: end < 0 ? new Uint8Array(0) : joined(lines.slice(end + 1)),
  };
}
