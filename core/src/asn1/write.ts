/** Writes DER (X.690 §10, §11): every value has one spelling. */
import { type Bytes, concat, lengthOf, type Pieces, utf8 } from '../bytes';
import { type TagClass } from './read';

const CLASS_BITS: Record<TagClass, number> = { universal: 0x00, application: 0x40, context: 0x80, private: 0xc0 };

function lengthOctets(length: number): Bytes {
  if (length < 0x80) return Uint8Array.of(length);
  const octets: number[] = [];
  for (let rest = length; rest > 0; rest = Math.floor(rest / 256)) octets.unshift(rest % 256);
  return Uint8Array.of(0x80 | octets.length, ...octets);
}

/** Tag and length before the content, which stays where it is. */
export function inPieces(tagClass: TagClass, tag: number, constructed: boolean, content: Pieces): Pieces {
  if (tag > 30) throw new RangeError('Tags above 30 are not written');
  const head = Uint8Array.of(CLASS_BITS[tagClass] | (constructed ? 0x20 : 0) | tag);
  return [head, lengthOctets(lengthOf(content)), ...content];
}

export const element = (tagClass: TagClass, tag: number, constructed: boolean, ...content: Uint8Array[]): Bytes =>
  concat(...inPieces(tagClass, tag, constructed, content));

export const sequence = (...parts: Uint8Array[]): Bytes => element('universal', 16, true, ...parts);
export const sequenceInPieces = (...parts: Uint8Array[]): Pieces => inPieces('universal', 16, true, parts);

/** SET OF, in the order of its elements' octets (§11.6). */
export const setOf = (...parts: Uint8Array[]): Bytes =>
  element('universal', 17, true, ...[...parts].sort(compareOctets));

function compareOctets(a: Uint8Array, b: Uint8Array): number {
  for (let at = 0; at < Math.min(a.length, b.length); at++) if (a[at] !== b[at]) return a[at]! - b[at]!;
  return a.length - b.length;
}

export const octetString = (content: Uint8Array): Bytes => element('universal', 4, false, content);
export const bitString = (content: Uint8Array, unused = 0): Bytes =>
  element('universal', 3, false, Uint8Array.of(unused), content);
export const nullValue = (): Bytes => element('universal', 5, false, new Uint8Array(0));
export const boolean = (value: boolean): Bytes => element('universal', 1, false, Uint8Array.of(value ? 0xff : 0));
export const utf8String = (text: string): Bytes => element('universal', 12, false, utf8(text));
/** `[tag] EXPLICIT`. */
export const explicit = (tag: number, inner: Uint8Array): Bytes => element('context', tag, true, inner);
/** `[tag] IMPLICIT` of a constructed value or a plain one: the inner element's content under another tag. */
export const implicit = (tag: number, content: Uint8Array, constructed: boolean): Bytes =>
  element('context', tag, constructed, content);

/** The shortest two's complement (§8.3.2). */
export function integer(value: bigint | number): Bytes {
  const wanted = BigInt(value);
  let bytes = 1;
  while (wanted >= 1n << BigInt(bytes * 8 - 1) || wanted < -(1n << BigInt(bytes * 8 - 1))) bytes++;
  const octets = new Uint8Array(bytes);
  let rest = BigInt.asUintN(bytes * 8, wanted);
  for (let at = bytes - 1; at >= 0; at--) {
    octets[at] = Number(rest & 0xffn);
    rest >>= 8n;
  }
  return element('universal', 2, false, octets);
}

/** @throws RangeError on what is no object identifier */
export function oid(dotted: string): Bytes {
  if (!/^[0-2](\.(0|[1-9]\d*))+$/.test(dotted)) throw new RangeError(`${dotted} is no object identifier`);
  const [top, second, ...rest] = dotted.split('.').map(Number) as [number, number, ...number[]];
  if (top < 2 && second > 39) throw new RangeError(`${dotted} is no object identifier`);
  const octets = [top * 40 + second, ...rest].flatMap((arc) => {
    const groups = [arc % 128];
    for (let left = Math.floor(arc / 128); left > 0; left = Math.floor(left / 128)) groups.unshift((left % 128) | 0x80);
    return groups;
  });
  return element('universal', 6, false, Uint8Array.from(octets));
}

const two = (value: number): string => String(value).padStart(2, '0');

/** UTCTime until 2049, GeneralizedTime from 2050, whole seconds in UTC (RFC 5280 §4.1.2.5). */
export function time(at: Date): Bytes {
  const year = at.getUTCFullYear();
  const rest = `${two(at.getUTCMonth() + 1)}${two(at.getUTCDate())}${two(at.getUTCHours())}${two(at.getUTCMinutes())}${two(at.getUTCSeconds())}Z`;
  return year >= 1950 && year < 2050
    ? element('universal', 23, false, utf8(`${two(year % 100)}${rest}`))
    : element('universal', 24, false, utf8(`${String(year).padStart(4, '0')}${rest}`));
}
