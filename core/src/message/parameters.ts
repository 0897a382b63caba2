/**
 * A header field of a value with parameters (RFC 2045 §5.1): quoted strings, comments, and parameters in several pieces
 * or another character set (RFC 2231). One walk over the text; whatever a stranger writes there costs its length and no
 * more.
 */
import { concat, utf8 } from '../bytes';
import { decodeText } from './charset';
import { decodeWords } from './encoded-words';

export interface Parameterized {
  /** Lower case, without comments. */
  value: string;
  /** By name in lower case; of two with one name the first. */
  parameters: ReadonlyMap<string, string>;
}

/** Of characters; what comes after them is passed over. */
const MAX_LENGTH = 65_536;
const MAX_PARAMETERS = 200;
const MAX_PIECES = 200;
const PERCENT = 37;

/** What stands between semicolons, comments dropped and quoted strings marked as such. */
interface Token {
  text: string;
  quoted: boolean;
}

/**
 * The end of the comment that begins at `at` (RFC 5322 §3.2.2, nested). One that never ends runs to the end of the
 * text.
 */
export function afterComment(text: string, at: number): number {
  let depth = 0;
  for (let index = at; index < text.length; index++) {
    const character = text[index];
    if (character === '\\') index += 1;
    else if (character === '(') depth += 1;
    else if (character === ')' && --depth === 0) return index + 1;
  }
  return text.length;
}

/** What the quoted string that begins at `at` says, and where it ends. */
export function quotedString(text: string, at: number): { said: string; end: number } {
  const said: string[] = [];
  let from = at + 1;
  let index = from;
  while (index < text.length && text[index] !== '"') {
    if (text[index] !== '\\') index += 1;
    else {
      said.push(text.slice(from, index));
      from = index + 1;
      index += 2;
    }
  }
  said.push(text.slice(from, index));
  return { said: said.join(''), end: index + 1 };
}

function* tokens(text: string): Generator<Token | ';' | '='> {
  let from = 0;
  let index = 0;
  const plain = (): Token | undefined => {
    const said = text.slice(from, index).trim();
    return said === '' ? undefined : { text: said, quoted: false };
  };
  while (index < text.length) {
    const character = text[index]!;
    if (!';="('.includes(character)) {
      index += 1;
      continue;
    }
    const before = plain();
    if (before !== undefined) yield before;
    if (character === '"') {
      const { said, end } = quotedString(text, index);
      yield { text: said, quoted: true };
      index = end;
    } else if (character === '(') index = afterComment(text, index);
    else {
      yield character as ';' | '=';
      index += 1;
    }
    from = index;
  }
  index = text.length;
  const last = plain();
  if (last !== undefined) yield last;
}

/** `name`, the number of its piece, and whether it is in the extended spelling. */
function spelledName(name: string): { base: string; piece: number | undefined; extended: boolean } {
  const [base = '', ...stars] = name.split('*', 3);
  const piece = stars[0] !== undefined && /^\d{1,3}$/.test(stars[0]) ? Number(stars[0]) : undefined;
  return { base, piece, extended: stars.at(-1) === '' };
}

function percentDecoded(text: string): Uint8Array {
  const octets = utf8(text);
  const out = new Uint8Array(octets.length);
  let length = 0;
  for (let at = 0; at < octets.length; at++) {
    const octet =
      octets[at] === PERCENT ? Number.parseInt(String.fromCharCode(octets[at + 1] ?? 0, octets[at + 2] ?? 0), 16) : NaN;
    out[length++] = Number.isNaN(octet) ? octets[at]! : octet;
    if (!Number.isNaN(octet)) at += 2;
  }
  return out.subarray(0, length);
}

interface Piece {
  text: string;
  extended: boolean;
}

/** RFC 2231 §4: `charset'language'text`, of which only the first piece names the character set. */
function joined(pieces: readonly Piece[]): string {
  const [first] = pieces;
  if (!pieces.some(({ extended }) => extended)) return decodeWords(pieces.map(({ text }) => text).join(''));
  const [charset = '', , ...rest] = first!.extended ? first!.text.split("'") : [];
  const texts = pieces.map(({ text, extended }, at) => ({
    text: at === 0 && extended && rest.length > 0 ? rest.join("'") : text,
    extended,
  }));
  return decodeText(
    concat(...texts.map(({ text, extended }) => (extended ? percentDecoded(text) : utf8(text)))),
    charset,
  );
}

export function readParameters(text: string | undefined): Parameterized {
  const groups: { name: string; value: string | undefined; plain: string }[] = [];
  let current: { name: string; value: string | undefined; plain: string } = { name: '', value: undefined, plain: '' };
  for (const token of tokens((text ?? '').slice(0, MAX_LENGTH))) {
    if (token === ';') {
      groups.push(current);
      if (groups.length > MAX_PARAMETERS) break;
      current = { name: '', value: undefined, plain: '' };
    } else if (token === '=') {
      // A second one belongs to the value: `boundary=a=b` is wrong and meant.
      if (current.value === undefined) current = { ...current, name: current.plain, value: '' };
      else current.value += '=';
    } else if (current.value !== undefined) current.value += token.text;
    else current.plain += token.text;
  }
  groups.push(current);
  return { value: groups[0]!.plain.toLowerCase(), parameters: collected(groups.slice(1)) };
}

function collected(groups: readonly { name: string; value: string | undefined }[]): Map<string, string> {
  const parameters = new Map<string, string>();
  const pieces = new Map<string, Map<number, Piece>>();
  for (const { name, value } of groups) {
    if (value === undefined || name === '') continue;
    const { base, piece, extended } = spelledName(name.toLowerCase());
    if (piece === undefined && !extended) {
      if (!parameters.has(base)) parameters.set(base, decodeWords(value));
      continue;
    }
    const known = pieces.get(base) ?? new Map<number, Piece>();
    const at = piece ?? 0;
    if (!known.has(at) && known.size < MAX_PIECES) known.set(at, { text: value, extended });
    pieces.set(base, known);
  }
  for (const [base, known] of pieces)
    parameters.set(base, joined([...known].sort(([a], [b]) => a - b).map(([, piece]) => piece)));
  return parameters;
}
