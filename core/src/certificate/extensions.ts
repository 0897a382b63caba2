/**
 * The extensions of certificates and revocation lists that we understand (RFC 5280 §4.2, §5.2, §5.3). Whoever meets a
 * critical one that is not among them must refuse.
 */
import { booleanOf, expect, Fields, fieldsOf, is, isContext } from '../asn1/fields';
import { Asn1Error, bitsOf, type Element, integerOf, oidOf, readElement } from '../asn1/read';
import { type GeneralName, generalNameOf, generalNamesOf, type Name } from './name';

export const EXTENSION = {
  subjectKeyIdentifier: '2.5.29.14',
  keyUsage: '2.5.29.15',
  subjectAltName: '2.5.29.17',
  issuerAltName: '2.5.29.18',
  basicConstraints: '2.5.29.19',
  crlNumber: '2.5.29.20',
  reasonCode: '2.5.29.21',
  invalidityDate: '2.5.29.24',
  deltaCrlIndicator: '2.5.29.27',
  issuingDistributionPoint: '2.5.29.28',
  certificateIssuer: '2.5.29.29',
  nameConstraints: '2.5.29.30',
  crlDistributionPoints: '2.5.29.31',
  certificatePolicies: '2.5.29.32',
  policyMappings: '2.5.29.33',
  authorityKeyIdentifier: '2.5.29.35',
  policyConstraints: '2.5.29.36',
  extendedKeyUsage: '2.5.29.37',
  freshestCrl: '2.5.29.46',
  inhibitAnyPolicy: '2.5.29.54',
  authorityInfoAccess: '1.3.6.1.5.5.7.1.1',
  smimeCapabilities: '1.2.840.113549.1.9.15',
  ocspNoCheck: '1.3.6.1.5.5.7.48.1.5',
} as const;

export interface Extension {
  oid: string;
  critical: boolean;
  value: Uint8Array;
}
export type Extensions = ReadonlyMap<string, Extension>;

const MAX_EXTENSIONS = 100;

/** @throws Asn1Error, also on one that stands twice (§4.2: must not). */
export function extensionsOf(element: Element | undefined): Extensions {
  const found = new Map<string, Extension>();
  if (element === undefined) return found;
  const list = expect(element, 'sequence').children;
  if (list.length > MAX_EXTENSIONS) throw new Asn1Error('too-many', 0);
  for (const one of list) {
    const fields = fieldsOf(one);
    const oid = oidOf(fields.next('oid'));
    const critical = fields.optional('boolean');
    const { content } = fields.next('octetString');
    fields.end();
    if (found.has(oid)) throw new Asn1Error('unexpected', 0);
    found.set(oid, { oid, critical: critical !== undefined && booleanOf(critical), value: content });
  }
  return found;
}

/** Reads one extension's value, where it is there. */
export const extension = <T>(
  extensions: Extensions,
  name: keyof typeof EXTENSION,
  read: (element: Element) => T,
): T | undefined => {
  const found = extensions.get(EXTENSION[name]);
  return found === undefined ? undefined : read(readElement(found.value));
};

export interface BasicConstraints {
  ca: boolean;
  pathLength: number | undefined;
}
const smallInteger = (element: Element): number => {
  const value = integerOf(element, 8);
  if (value < 0n) throw new Asn1Error('bad-value', 0);
  return Number(value > 1_000_000n ? 1_000_000n : value);
};
export function basicConstraints(element: Element): BasicConstraints {
  const fields = fieldsOf(element);
  const ca = fields.optional('boolean');
  const pathLength = fields.optional('integer');
  fields.end();
  return {
    ca: ca !== undefined && booleanOf(ca),
    pathLength: pathLength === undefined ? undefined : smallInteger(pathLength),
  };
}

/** In the order of their bits (§4.2.1.3). */
export const KEY_USAGES = [
  'digitalSignature',
  'nonRepudiation',
  'keyEncipherment',
  'dataEncipherment',
  'keyAgreement',
  'keyCertSign',
  'cRLSign',
  'encipherOnly',
  'decipherOnly',
] as const;
export type KeyUsage = (typeof KEY_USAGES)[number];
const bitsSet = <T>(element: Element, names: readonly T[]): Set<T> => {
  const { bytes } = bitsOf(element);
  return new Set(names.filter((_, bit) => ((bytes[bit >> 3] ?? 0) & (0x80 >> (bit & 7))) !== 0));
};
export const keyUsage = (element: Element): ReadonlySet<KeyUsage> => bitsSet(expect(element, 'bitString'), KEY_USAGES);

export const PURPOSE = {
  any: '2.5.29.37.0',
  emailProtection: '1.3.6.1.5.5.7.3.4',
  ocspSigning: '1.3.6.1.5.5.7.3.9',
} as const;
export const extendedKeyUsage = (element: Element): readonly string[] =>
  expect(element, 'sequence').children.map((one) => oidOf(expect(one, 'oid')));

export interface Subtree {
  base: GeneralName;
}
export interface NameConstraints {
  permitted: readonly Subtree[];
  excluded: readonly Subtree[];
  /** Has a minimum or maximum, which §4.2.1.10 doesn't allow. */ odd: boolean;
}
export function nameConstraints(element: Element): NameConstraints {
  let odd = false;
  const subtrees = (outer: Element | undefined): Subtree[] =>
    (outer?.children ?? []).map((one) => {
      const fields = fieldsOf(one);
      const base = generalNameOf(fields.any());
      if (fields.more) odd = true;
      return { base };
    });
  const fields = fieldsOf(element);
  const permitted = subtrees(fields.context(0));
  const excluded = subtrees(fields.context(1));
  fields.end();
  return { permitted, excluded, odd };
}

export const ANY_POLICY = '2.5.29.32.0';
export const certificatePolicies = (element: Element): readonly string[] =>
  expect(element, 'sequence').children.map((one) => oidOf(fieldsOf(one).next('oid')));
export interface PolicyMapping {
  issuer: string;
  subject: string;
}
export const policyMappings = (element: Element): readonly PolicyMapping[] =>
  expect(element, 'sequence').children.map((one) => {
    const fields = fieldsOf(one);
    return { issuer: oidOf(fields.next('oid')), subject: oidOf(fields.next('oid')) };
  });
export interface PolicyConstraints {
  requireExplicit: number | undefined;
  inhibitMapping: number | undefined;
}
export function policyConstraints(element: Element): PolicyConstraints {
  const fields = fieldsOf(element);
  const [explicit, inhibit] = [fields.context(0), fields.context(1)];
  fields.end();
  return {
    requireExplicit: explicit === undefined ? undefined : smallInteger(explicit),
    inhibitMapping: inhibit === undefined ? undefined : smallInteger(inhibit),
  };
}
export const inhibitAnyPolicy = (element: Element): number => smallInteger(expect(element, 'integer'));

export const subjectAltName = (element: Element): readonly GeneralName[] => generalNamesOf(expect(element, 'sequence'));
export const keyIdentifier = (element: Element): Uint8Array => expect(element, 'octetString').content;
export interface AuthorityKeyIdentifier {
  key: Uint8Array | undefined;
  issuer: readonly GeneralName[];
  serial: bigint | undefined;
}
export function authorityKeyIdentifier(element: Element): AuthorityKeyIdentifier {
  const fields = fieldsOf(element);
  const [key, issuer, serial] = [fields.context(0), fields.context(1), fields.context(2)];
  return {
    key: key?.content,
    issuer: issuer === undefined ? [] : generalNamesOf(issuer),
    serial: serial === undefined ? undefined : integerOf(serial, 64),
  };
}

/** `undefined` entries of {@link REASON_CODES} are not used. */
export const REASON_CODES = [
  'unspecified',
  'keyCompromise',
  'cACompromise',
  'affiliationChanged',
  'superseded',
  'cessationOfOperation',
  'certificateHold',
  undefined,
  'removeFromCRL',
  'privilegeWithdrawn',
  'aACompromise',
] as const;
export type RevocationReason = NonNullable<(typeof REASON_CODES)[number]>;
/** In the order of their bits (§4.2.1.13); `unused` stands for bit 0. */
const REASON_FLAGS = [
  'unused',
  'keyCompromise',
  'cACompromise',
  'affiliationChanged',
  'superseded',
  'cessationOfOperation',
  'certificateHold',
  'privilegeWithdrawn',
  'aACompromise',
] as const;
export type ReasonFlag = (typeof REASON_FLAGS)[number];
export const ALL_REASONS: ReadonlySet<ReasonFlag> = new Set(REASON_FLAGS.slice(1));

export type PointName =
  | { kind: 'full'; names: readonly GeneralName[] }
  | { kind: 'relative'; /** A SET to hang under the issuer's name. */ set: Element };
function pointName(element: Element): PointName {
  const inner = element.children[0];
  if (isContext(inner, 0)) return { kind: 'full', names: generalNamesOf(inner) };
  if (isContext(inner, 1)) return { kind: 'relative', set: inner };
  throw new Asn1Error('unexpected', 0);
}

export interface DistributionPoint {
  name: PointName | undefined;
  reasons: ReadonlySet<ReasonFlag> | undefined;
  issuer: readonly GeneralName[];
}
export const distributionPoints = (element: Element): readonly DistributionPoint[] =>
  expect(element, 'sequence').children.map((one) => {
    const fields = fieldsOf(one);
    const [name, reasons, issuer] = [fields.context(0), fields.context(1), fields.context(2)];
    return {
      name: name === undefined ? undefined : pointName(name),
      reasons: reasons === undefined ? undefined : bitsSet(reasons, REASON_FLAGS),
      issuer: issuer === undefined ? [] : generalNamesOf(issuer),
    };
  });

export interface IssuingDistributionPoint {
  name: PointName | undefined;
  onlyUser: boolean;
  onlyCa: boolean;
  onlySomeReasons: ReadonlySet<ReasonFlag> | undefined;
  indirect: boolean;
  onlyAttribute: boolean;
}
export function issuingDistributionPoint(element: Element): IssuingDistributionPoint {
  const fields = fieldsOf(element);
  const name = fields.context(0);
  const flag = (tag: number): boolean => {
    const found = fields.context(tag);
    return found !== undefined && booleanOf(found);
  };
  const [onlyUser, onlyCa] = [flag(1), flag(2)];
  const reasons = fields.context(3);
  const [indirect, onlyAttribute] = [flag(4), flag(5)];
  fields.end();
  return {
    name: name === undefined ? undefined : pointName(name),
    onlyUser,
    onlyCa,
    onlySomeReasons: reasons === undefined ? undefined : bitsSet(reasons, REASON_FLAGS),
    indirect,
    onlyAttribute,
  };
}

export interface InfoAccess {
  ocsp: readonly string[];
  issuers: readonly string[];
}
export function authorityInfoAccess(element: Element): InfoAccess {
  const access: { ocsp: string[]; issuers: string[] } = { ocsp: [], issuers: [] };
  for (const one of expect(element, 'sequence').children) {
    const fields = fieldsOf(one);
    const method = oidOf(fields.next('oid'));
    const where = generalNameOf(fields.any());
    if (where.kind !== 'uri') continue;
    if (method === '1.3.6.1.5.5.7.48.1') access.ocsp.push(where.value);
    if (method === '1.3.6.1.5.5.7.48.2') access.issuers.push(where.value);
  }
  return access;
}

/** The algorithms its holder's program reads (RFC 8551 §2.5.2, RFC 4262), by identifier, the preferred first. */
export const smimeCapabilities = (element: Element): readonly string[] =>
  expect(element, 'sequence').children.map((one) => oidOf(new Fields(one.children).next('oid')));

export const reasonCode = (element: Element): RevocationReason => {
  if (!is(element, 'enumerated')) throw new Asn1Error('unexpected', 0);
  return REASON_CODES[Number(integerOf(element, 4))] ?? 'unspecified';
};
export const certificateIssuer = (element: Element): Name | undefined =>
  generalNamesOf(expect(element, 'sequence')).flatMap((one) => (one.kind === 'directory' ? [one.name] : []))[0];
