/** Walks the elements of a SEQUENCE in the order a standard's definition gives them, and reads strings and times. */
import { fromUtf8 } from '../bytes';
import { Asn1Error, type Element } from './read';

export const TAGS = {
  boolean: 1,
  integer: 2,
  bitString: 3,
  octetString: 4,
  null: 5,
  oid: 6,
  enumerated: 10,
  utf8String: 12,
  sequence: 16,
  set: 17,
  numericString: 18,
  printableString: 19,
  teletexString: 20,
  ia5String: 22,
  utcTime: 23,
  generalizedTime: 24,
  visibleString: 26,
  universalString: 28,
  bmpString: 30,
} as const;
export type UniversalTag = keyof typeof TAGS;

const CONSTRUCTED: readonly UniversalTag[] = ['sequence', 'set'];

export const is = (element: Element | undefined, tag: UniversalTag): element is Element =>
  element?.class === 'universal' && element.tag === TAGS[tag] && (!CONSTRUCTED.includes(tag) || element.constructed);

export const isContext = (element: Element | undefined, tag: number): element is Element =>
  element?.class === 'context' && element.tag === tag;

/** @throws Asn1Error `unexpected` */
export function expect(element: Element | undefined, tag: UniversalTag): Element {
  if (!is(element, tag)) throw new Asn1Error('unexpected', 0);
  return element;
}

export class Fields {
  private at = 0;

  /** Of a SEQUENCE's or SET's elements, or of a context tag's that stands for one. */
  constructor(private readonly elements: readonly Element[]) {}

  /** @throws Asn1Error `unexpected` when what comes next is something else, or nothing. */
  next(tag: UniversalTag): Element {
    return expect(this.elements[this.at++], tag);
  }

  /** Whatever comes next. @throws Asn1Error `unexpected` at the end. */
  any(): Element {
    const element = this.elements[this.at++];
    if (element === undefined) throw new Asn1Error('unexpected', 0);
    return element;
  }

  optional(tag: UniversalTag): Element | undefined {
    return is(this.elements[this.at], tag) ? this.elements[this.at++] : undefined;
  }

  context(tag: number): Element | undefined {
    return isContext(this.elements[this.at], tag) ? this.elements[this.at++] : undefined;
  }

  /** The one element inside `[tag] EXPLICIT`. @throws Asn1Error `unexpected` when there are none or several. */
  explicit(tag: number): Element | undefined {
    const outer = this.context(tag);
    if (outer === undefined) return undefined;
    if (outer.children.length !== 1) throw new Asn1Error('unexpected', 0);
    return outer.children[0]!;
  }

  get more(): boolean {
    return this.at < this.elements.length;
  }

  /** @throws Asn1Error `unexpected` when something is left. */
  end(): void {
    if (this.more) throw new Asn1Error('unexpected', 0);
  }
}

export const fieldsOf = (element: Element | undefined): Fields => new Fields(expect(element, 'sequence').children);

/** @throws Asn1Error `bad-value` */
export function booleanOf({ content }: Element): boolean {
  if (content.length !== 1) throw new Asn1Error('bad-value', 0);
  return content[0] !== 0;
}

const latin1 = (bytes: Uint8Array): string => Array.from(bytes, (octet) => String.fromCharCode(octet)).join('');

function wide(bytes: Uint8Array, width: 2 | 4): string {
  if (bytes.length % width !== 0) throw new Asn1Error('bad-value', 0);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  return Array.from({ length: bytes.length / width }, (_, index) => {
    const code = width === 2 ? view.getUint16(index * 2) : view.getUint32(index * 4);
    if (code > 0x10ffff) throw new Asn1Error('bad-value', 0);
    return String.fromCodePoint(code);
  }).join('');
}

/**
 * Any of the character strings, by its tag; undefined when it is none. @throws Asn1Error `bad-value` on octets that its
 * tag can't have.
 */
export function stringOf(element: Element): string | undefined {
  if (element.class !== 'universal' || element.constructed) return undefined;
  switch (element.tag) {
    case TAGS.utf8String:
      try {
        return fromUtf8(element.content);
      } catch {
        throw new Asn1Error('bad-value', 0);
      }
    case TAGS.numericString:
    case TAGS.printableString:
    case TAGS.teletexString: // T.61 on paper, Latin-1 in practice
    case TAGS.ia5String:
    case TAGS.visibleString:
      return latin1(element.content);
    case TAGS.bmpString:
      return wide(element.content, 2);
    case TAGS.universalString:
      return wide(element.content, 4);
    default:
      return undefined;
  }
}

const TIME = /^(\d{4})(\d\d)(\d\d)(\d\d)(\d\d)(\d\d)?(?:[.,]\d{1,9})?Z$/;

/**
 * UTCTime or GeneralizedTime in UTC; years of two digits from 50 on are the last century's (RFC 5280 §4.1.2.5.1).
 * @throws Asn1Error
 */
export function timeOf(element: Element): Date {
  const short = is(element, 'utcTime');
  if (!short && !is(element, 'generalizedTime')) throw new Asn1Error('unexpected', 0);
  const text = latin1(element.content);
  const whole = short ? `${Number(text.slice(0, 2)) >= 50 ? '19' : '20'}${text}` : text;
  const match = TIME.exec(whole);
  if (match === null) throw new Asn1Error('bad-value', 0);
  const [year, month, day, hour, minute, second] = match.slice(1).map((digits) => Number(digits ?? 0)) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const at = new Date(0);
  at.setUTCFullYear(year, month - 1, day);
  at.setUTCHours(hour, minute, second);
  if (at.getUTCMonth() !== month - 1 || at.getUTCDate() !== day || hour > 23 || minute > 59 || second > 60)
    throw new Asn1Error('bad-value', 0);
  return at;
}
