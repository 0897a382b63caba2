/**
 * A text signed in the clear (RFC 9580 §7), taken apart as octets: programs sign what they have in the character set
 * they have it in, so what was signed is no text until it was checked.
 * Left out: `NotDashEscaped`, which the standard has dropped.
 */
import { type Bytes } from '../bytes';
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
const MAX_HEAD_LINES = 20;

const latin = new TextDecoder('latin1');

/** Where the line from `from` to `to` ends without its line end, and without blanks before that. */
function trimmedEnd(bytes: Uint8Array, from: number, to: number): number {
  let end = to;
  while (
    end > from &&
    (bytes[end - 1] === LF || bytes[end - 1] === CR || bytes[end - 1] === BLANK || bytes[end - 1] === TAB)
  )
    end -= 1;
  return end;
}

/** Whether the line at `at` says just this. */
function isLine(bytes: Uint8Array, at: number, wanted: string): boolean {
  if (bytes[at] !== DASH) return false;
  const end = trimmedEnd(bytes, at, lineEnd(bytes, at));
  return end - at === wanted.length && latin.decode(bytes.subarray(at, end)) === wanted;
}

/** Where a line that says just this begins, from `from` on. */
function findLine(bytes: Uint8Array, from: number, wanted: string): number | undefined {
  for (let at = from; at < bytes.length; at = lineEnd(bytes, at)) if (isLine(bytes, at, wanted)) return at;
  return undefined;
}

function afterBlankLines(bytes: Uint8Array): number {
  let at = 0;
  while (at < bytes.length && trimmedEnd(bytes, at, lineEnd(bytes, at)) === at) at = lineEnd(bytes, at);
  return at;
}

/** Whether these octets begin as such a text, blank lines aside. */
export const beginsAsCleartext = (bytes: Uint8Array): boolean =>
  latin.decode(bytes.subarray(0, 200)).trimStart().startsWith(BEGIN);

interface Head {
  charset: string | undefined;
  /** §7: no line but `Hash` belongs there; somebody may have hidden text in it. */ isOdd: boolean;
  /** Where the text begins. */ body: number;
}

function readHead(bytes: Uint8Array, from: number): Head {
  const head: Head = { charset: undefined, isOdd: false, body: bytes.length };
  let at = from;
  for (let count = 0; at < bytes.length && count < MAX_HEAD_LINES; count++) {
    const next = lineEnd(bytes, at);
    const end = trimmedEnd(bytes, at, next);
    if (end === at) return { ...head, body: next };
    const [, name = '', value = ''] =
      /^([A-Za-z-]{1,40}): ?(.{0,100})/.exec(latin.decode(bytes.subarray(at, Math.min(end, at + 200)))) ?? [];
    if (name.toLowerCase() === 'charset') head.charset = value.trim();
    else if (name.toLowerCase() !== 'hash') head.isOdd = true;
    at = next;
  }
  return { ...head, body: at };
}

/**
 * The lines as they were signed, in one walk. A line that begins with a dash is always escaped; one that is not could
 * end the text for other readers.
 */
function signedLines(bytes: Uint8Array): { signed: Bytes; isSound: boolean } {
  // Each line's end grows by one octet at the most.
  const out = new Uint8Array(bytes.length * 2);
  let length = 0;
  let isSound = true;
  for (let at = 0; at < bytes.length;) {
    const next = lineEnd(bytes, at);
    const end = trimmedEnd(bytes, at, next);
    if (at > 0) {
      out[length++] = CR;
      out[length++] = LF;
    }
    const isDashed = end > at && bytes[at] === DASH;
    const isEscaped = isDashed && bytes[at + 1] === BLANK;
    if (isDashed && !isEscaped) isSound = false;
    const line = bytes.subarray(isEscaped ? Math.min(at + 2, end) : at, end);
    out.set(line, length);
    length += line.length;
    at = next;
  }
  return { signed: out.slice(0, length), isSound };
}

/** Undefined when it does not begin as one. */
export function readCleartext(bytes: Uint8Array): Cleartext | undefined {
  const start = afterBlankLines(bytes);
  if (!isLine(bytes, start, BEGIN)) return undefined;
  const { charset, isOdd, body } = readHead(bytes, lineEnd(bytes, start));
  const until = findLine(bytes, body, BEGIN_SIGNATURE);
  const { signed, isSound } = signedLines(bytes.subarray(body, until ?? bytes.length));
  const end = until === undefined ? undefined : findLine(bytes, until, END_SIGNATURE);
  const over = end === undefined ? undefined : lineEnd(bytes, end);
  const blocks = over === undefined ? [] : armouredBlocks(bytes.subarray(until, over));
  const isOne = isSound && !isOdd && blocks.length === 1 && blocks[0]!.kind === 'SIGNATURE';
  return {
    signed,
    signature: isOne ? blocks[0]!.bytes : undefined,
    charset,
    after: over === undefined ? new Uint8Array(0) : (bytes.slice(over) as Bytes),
  };
}
