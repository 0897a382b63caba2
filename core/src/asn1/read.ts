/**
 * Reads BER (X.690 §8) as mail programs write it, indefinite lengths and constructed strings included, into a tree
 * that keeps the exact bytes of
 * every element: signatures are over bytes, not over what they mean. Left out: tags above 30, which nothing in RFC
 * 5280, 5652, 7292 uses.
 * Everything comes from outside, so size, depth and number of elements are limited.
 */
import { type Bytes } from '../bytes';

export type TagClass = 'universal' | 'application' | 'context' | 'private';

export interface Element {
  class: TagClass;
  /** 0 to 30; the universal ones by their number in X.680. */
  tag: number;
  constructed: boolean;
  /** The whole element as it came, head and, for an indefinite length, end included. */
  bytes: Uint8Array;
  /** What stands between head and end. */
  content: Uint8Array;
  /** The elements inside, where it is constructed. */
  children: readonly Element[];
  /** Written as DER would: definite, shortest lengths all through. */
  der: boolean;
}

export type Asn1ErrorCode =
  | 'truncated'
  | 'trailing'
  | 'too-deep'
  | 'too-many'
  | 'too-large'
  | 'bad-length'
  | 'bad-tag'
  | 'unexpected'
  | 'bad-value';

/** `code` is what verdicts and tests rely on; `at` is the offset in octets. */
export class Asn1Error extends Error {
  constructor(
    readonly code: Asn1ErrorCode,
    readonly at: number,
  ) {
    super(`ASN.1: ${code} at ${at}`);
    this.name = 'Asn1Error';
  }
}

export interface ReadLimits {
  maxDepth: number;
  maxElements: number;
  maxBytes: number;
  /**
   * What is constructed at this depth keeps its inside unread, where its length is stated: for lists of a hundred
   * thousand of which one is looked up.
   */
  opaqueFrom: number;
}
/**
 * A certificate is 2 KB and five deep; a signed message with its files is what an office allows, with room to spare.
 */
export const READ_LIMITS: ReadLimits = {
  maxDepth: 32,
  maxElements: 100_000,
  maxBytes: 160 * 1024 * 1024,
  opaqueFrom: Infinity,
};

const CLASSES: readonly TagClass[] = ['universal', 'application', 'context', 'private'];

class Reader {
  private elements = 0;

  constructor(
    private readonly bytes: Uint8Array,
    private readonly limits: ReadLimits,
  ) {}

  /** One element that begins at `at` and ends at `end` at the latest. */
  element(at: number, end: number, depth: number): Element {
    if (depth > this.limits.maxDepth) throw new Asn1Error('too-deep', at);
    if (++this.elements > this.limits.maxElements) throw new Asn1Error('too-many', at);
    const head = this.octet(at, end);
    const tag = head & 0x1f;
    if (tag === 0x1f) throw new Asn1Error('bad-tag', at);
    const constructed = (head & 0x20) !== 0;
    const kind = { class: CLASSES[head >> 6]!, tag, constructed };
    const length = this.length(at + 1, end);
    if (length.value === undefined) {
      if (!constructed) throw new Asn1Error('bad-length', at + 1);
      return this.indefinite(kind, at, length.next, end, depth);
    }
    const stop = length.next + length.value;
    if (stop > end) throw new Asn1Error('truncated', at);
    const children = constructed && depth < this.limits.opaqueFrom ? this.children(length.next, stop, depth) : [];
    return {
      ...kind,
      bytes: this.bytes.subarray(at, stop),
      content: this.bytes.subarray(length.next, stop),
      children,
      der: length.shortest && children.every(({ der }) => der),
    };
  }

  private children(from: number, stop: number, depth: number): Element[] {
    const children: Element[] = [];
    for (let at = from; at < stop; at += children.at(-1)!.bytes.length)
      children.push(this.element(at, stop, depth + 1));
    return children;
  }

  /** Until the two zero octets that end it (§8.1.5). */
  private indefinite(
    kind: Pick<Element, 'class' | 'tag' | 'constructed'>,
    at: number,
    from: number,
    end: number,
    depth: number,
  ): Element {
    const children: Element[] = [];
    let next = from;
    while (!(this.octet(next, end) === 0 && this.octet(next + 1, end) === 0)) {
      const child = this.element(next, end, depth + 1);
      children.push(child);
      next += child.bytes.length;
    }
    return {
      ...kind,
      bytes: this.bytes.subarray(at, next + 2),
      content: this.bytes.subarray(from, next),
      children,
      der: false,
    };
  }

  /** §8.1.3; `value` is undefined for the indefinite form. */
  private length(at: number, end: number): { value: number | undefined; next: number; shortest: boolean } {
    const first = this.octet(at, end);
    if (first < 0x80) return { value: first, next: at + 1, shortest: true };
    if (first === 0x80) return { value: undefined, next: at + 1, shortest: false };
    const count = first & 0x7f;
    // Four octets are four gigabytes: more is a lie or an attack.
    if (count > 4) throw new Asn1Error('bad-length', at);
    let value = 0;
    for (let index = 1; index <= count; index++) value = value * 256 + this.octet(at + index, end);
    return { value, next: at + 1 + count, shortest: value >= 0x80 && this.octet(at + 1, end) !== 0 };
  }

  private octet(at: number, end: number): number {
    if (at >= end) throw new Asn1Error('truncated', at);
    return this.bytes[at]!;
  }
}

/**
 * Reads one element that is all of `bytes`. The input is not copied: what is returned are views of it. @throws
 * Asn1Error
 */
export function readElement(bytes: Uint8Array, limits: Partial<ReadLimits> = {}): Element {
  const all = { ...READ_LIMITS, ...limits };
  if (bytes.length > all.maxBytes) throw new Asn1Error('too-large', 0);
  const element = new Reader(bytes, all).element(0, bytes.length, 0);
  if (element.bytes.length !== bytes.length) throw new Asn1Error('trailing', element.bytes.length);
  return element;
}

/** The octets of the first element; what follows it is left. @throws Asn1Error */
export const firstElement = (bytes: Uint8Array): Uint8Array =>
  new Reader(bytes, READ_LIMITS).element(0, bytes.length, 0).bytes;

const OCTET_STRING = 4;

function pieces(element: Element, into: Uint8Array[]): void {
  if (!element.constructed) into.push(element.content);
  else {
    for (const child of element.children) {
      if (child.class !== 'universal' || child.tag !== OCTET_STRING) throw new Asn1Error('unexpected', 0);
      pieces(child, into);
    }
  }
}

/**
 * The octets of a string that may have been written in pieces (§8.7.3), to any depth. One piece is not copied. @throws
 * Asn1Error `unexpected`
 */
export function octetsOf(element: Element): Uint8Array {
  const parts: Uint8Array[] = [];
  pieces(element, parts);
  if (parts.length === 1) return parts[0]!;
  const whole: Bytes = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/**
 * An INTEGER or ENUMERATED of any size (§8.3). @throws Asn1Error `bad-value` when it is empty or longer than `maxBytes`
 */
export function integerOf({ content }: Element, maxBytes = 1025): bigint {
  if (content.length === 0 || content.length > maxBytes) throw new Asn1Error('bad-value', 0);
  let value = 0n;
  for (const octet of content) value = value * 256n + BigInt(octet);
  return content[0]! >= 0x80 ? value - (1n << BigInt(content.length * 8)) : value;
}

const MAX_ARCS = 64;

/** An OBJECT IDENTIFIER in dots (§8.19). @throws Asn1Error `bad-value` */
export function oidOf({ content }: Element): string {
  if (content.length === 0 || (content.at(-1)! & 0x80) !== 0) throw new Asn1Error('bad-value', 0);
  const arcs: number[] = [];
  let arc = 0;
  for (const [index, octet] of content.entries()) {
    // A leading 0x80 is a longer spelling of the same, and beyond 2^53 numbers would blur into one another.
    if ((arc === 0 && octet === 0x80) || arc > Number.MAX_SAFE_INTEGER / 128) throw new Asn1Error('bad-value', index);
    arc = arc * 128 + (octet & 0x7f);
    if ((octet & 0x80) === 0) {
      arcs.push(arc);
      arc = 0;
    }
    if (arcs.length > MAX_ARCS) throw new Asn1Error('bad-value', index);
  }
  const [first, ...rest] = arcs as [number, ...number[]];
  const top = Math.min(2, Math.floor(first / 40));
  return [top, first - top * 40, ...rest].join('.');
}

/** A BIT STRING of whole octets, or undefined when its last octet is used in part. @throws Asn1Error `bad-value` */
export function bitsOf({ content, constructed }: Element): { bytes: Uint8Array; unused: number } {
  if (constructed || content.length === 0 || content[0]! > 7 || (content.length === 1 && content[0] !== 0))
    throw new Asn1Error('bad-value', 0);
  return { bytes: content.subarray(1), unused: content[0]! };
}
