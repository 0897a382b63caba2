/** Distinguished names (RFC 5280 §4.1.2.4), compared as §7.1 says, and general names (§4.2.1.6). */
import { expect, fieldsOf, stringOf } from '../asn1/fields';
import { Asn1Error, type Element, oidOf, readElement } from '../asn1/read';
import { toHex } from '../bytes';

export interface Attribute {
  type: string;
  value: string;
}

export interface Name {
  bytes: Uint8Array;
  /** From the outermost to the most particular, as they stand. */
  rdns: readonly (readonly Attribute[])[];
  /** The same for names that are equal by §7.1, element by element. */
  keys: readonly string[];
  /** `keys` in one. */
  key: string;
}

export const ATTRIBUTE = {
  commonName: '2.5.4.3',
  surname: '2.5.4.4',
  country: '2.5.4.6',
  locality: '2.5.4.7',
  organization: '2.5.4.10',
  organizationalUnit: '2.5.4.11',
  givenName: '2.5.4.42',
  emailAddress: '1.2.840.113549.1.9.1',
} as const;

// Case, blanks and compatible spellings don't count (§7.1, RFC 4518 §2).
const prepared = (value: string): string => value.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim();

function attribute(element: Element): { attribute: Attribute; key: string } {
  const fields = fieldsOf(element);
  const type = oidOf(fields.next('oid'));
  const spelled = fields.any();
  fields.end();
  const text = stringOf(spelled);
  return {
    attribute: { type, value: text ?? toHex(spelled.bytes) },
    key: `${type}=${text === undefined ? `#${toHex(spelled.bytes)}` : prepared(text)}`,
  };
}

function rdn(elements: readonly Element[]): { attributes: Attribute[]; key: string } {
  const read = elements.map(attribute);
  return {
    attributes: read.map((one) => one.attribute),
    key: read
      .map(({ key }) => key)
      .sort()
      .join('+'),
  };
}

const MAX_RDNS = 64;

/** @throws Asn1Error */
export function nameOf(element: Element): Name {
  const sets = expect(element, 'sequence').children;
  if (sets.length > MAX_RDNS) throw new Asn1Error('too-many', 0);
  const read = sets.map((set) => rdn(expect(set, 'set').children));
  const keys = read.map(({ key }) => key);
  return { bytes: element.bytes, rdns: read.map(({ attributes }) => attributes), keys, key: keys.join('/') };
}

/** The name one step below another, by the elements of a relative name. @throws Asn1Error */
export function nameUnder(above: Name, relative: readonly Element[]): Name {
  const { attributes, key } = rdn(relative);
  const keys = [...above.keys, key];
  return { bytes: above.bytes, rdns: [...above.rdns, attributes], keys, key: keys.join('/') };
}

/** The most particular value of a kind. */
export const attributeOf = ({ rdns }: Name, type: keyof typeof ATTRIBUTE): string | undefined =>
  rdns.flat().findLast((one) => one.type === ATTRIBUTE[type])?.value;

/** What people call the one it names: common name, else organisation, else whatever stands last. */
export const nameInWords = (name: Name): string =>
  attributeOf(name, 'commonName') ?? attributeOf(name, 'organization') ?? name.rdns.flat().at(-1)?.value ?? '';

export type GeneralName =
  | { kind: 'email' | 'dns' | 'uri'; value: string }
  | { kind: 'directory'; name: Name }
  | { kind: 'ip'; bytes: Uint8Array }
  | { kind: 'other'; tag: number; bytes: Uint8Array };

const SMTP_UTF8_MAILBOX = '1.3.6.1.5.5.7.8.9'; // RFC 9598 §3

const MAX_TEXT = 4096;
const ascii = ({ content }: Element): string => {
  if (content.length > MAX_TEXT || content.some((octet) => octet >= 0x80 || octet === 0))
    throw new Asn1Error('bad-value', 0);
  return String.fromCharCode(...content);
};

/** @throws Asn1Error */
export function generalNameOf(element: Element): GeneralName {
  if (element.class !== 'context') throw new Asn1Error('unexpected', 0);
  switch (element.tag) {
    case 0: {
      const [type, value] = element.children;
      if (type !== undefined && oidOf(type) === SMTP_UTF8_MAILBOX && value?.children[0] !== undefined)
        return { kind: 'email', value: stringOf(value.children[0]) ?? '' };
      return { kind: 'other', tag: 0, bytes: element.bytes };
    }
    case 1:
      return { kind: 'email', value: ascii(element) };
    case 2:
      return { kind: 'dns', value: ascii(element) };
    case 4:
      // A name is a CHOICE, so that its tag is explicit.
      return { kind: 'directory', name: nameOf(element.children[0] ?? readElement(element.content)) };
    case 6:
      return { kind: 'uri', value: ascii(element) };
    case 7:
      return { kind: 'ip', bytes: element.content };
    default:
      return { kind: 'other', tag: element.tag, bytes: element.bytes };
  }
}

const MAX_GENERAL_NAMES = 1000;
/** Of a SEQUENCE OF, or of what stands under an implicit tag for one. @throws Asn1Error */
export function generalNamesOf({ children, constructed }: Element): GeneralName[] {
  if (!constructed || children.length > MAX_GENERAL_NAMES) throw new Asn1Error('unexpected', 0);
  return children.map(generalNameOf);
}
