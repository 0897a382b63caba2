/**
 * Reads a certificate revocation list (RFC 5280 §5). Entries are looked up, not unfolded: lists hold a hundred
 * thousand.
 */
import { expect, Fields, fieldsOf, timeOf } from '../asn1/fields';
import { bitsOf, type Element, integerOf, readElement } from '../asn1/read';
import { toHex } from '../bytes';
import { type Algorithm, algorithmOf } from './algorithm';
import { CertificateError, reading } from './errors';
import * as read from './extensions';
import { type Name, nameOf } from './name';

export interface RevokedEntry {
  at: Date;
  reason: read.RevocationReason;
  /** Says something critical that we don't know, so that nothing milder than revoked may be concluded. */
  unknownCritical: boolean;
}

export interface RevocationList {
  bytes: Uint8Array;
  signed: Uint8Array;
  algorithm: Algorithm;
  signature: Uint8Array;
  issuer: Name;
  thisUpdate: Date;
  nextUpdate: Date | undefined;
  number: bigint | undefined;
  /** The number of the complete list this one adds to; undefined for a complete list. */
  deltaTo: bigint | undefined;
  point: read.IssuingDistributionPoint | undefined;
  /** `point` as it stands, to tell two scopes apart. */
  scope: string;
  authorityKeyId: read.AuthorityKeyIdentifier | undefined;
  freshest: readonly read.DistributionPoint[];
  unknownCritical: boolean;
  /** @throws CertificateError `malformed` */
  find(serial: bigint, issuer: Name): RevokedEntry | undefined;
}

/** About half a million entries. */
export const MAX_LIST_BYTES = 24 * 1024 * 1024;

const UNDERSTOOD: ReadonlySet<string> = new Set([
  read.EXTENSION.crlNumber,
  read.EXTENSION.deltaCrlIndicator,
  read.EXTENSION.issuingDistributionPoint,
  read.EXTENSION.authorityKeyIdentifier,
  read.EXTENSION.issuerAltName,
  read.EXTENSION.freshestCrl,
]);
const UNDERSTOOD_IN_ENTRY: ReadonlySet<string> = new Set([
  read.EXTENSION.reasonCode,
  read.EXTENSION.invalidityDate,
  read.EXTENSION.certificateIssuer,
]);
const hasUnknownCritical = (extensions: read.Extensions, understood: ReadonlySet<string>): boolean =>
  [...extensions.values()].some(({ oid, critical }) => critical && !understood.has(oid));

/** The serial number at the head of an unread entry, in hex. */
function serialOf({ content }: Element): string {
  const length = content[1] ?? 0;
  if (content[0] !== 2 || length > 64 || content.length < 2 + length)
    throw new CertificateError('malformed', 'revocation list');
  return toHex(content.subarray(2, 2 + length));
}

interface Entry {
  element: Element;
  issuer: string;
}

function entryOf({ bytes }: Element): { entry: RevokedEntry; issuer: Name | undefined } {
  const fields = fieldsOf(readElement(bytes, { maxElements: 1000 }));
  fields.next('integer');
  const at = timeOf(fields.any());
  const extensions = read.extensionsOf(fields.optional('sequence'));
  fields.end();
  return {
    entry: {
      at,
      reason: read.extension(extensions, 'reasonCode', read.reasonCode) ?? 'unspecified',
      unknownCritical: hasUnknownCritical(extensions, UNDERSTOOD_IN_ENTRY),
    },
    issuer: read.extension(extensions, 'certificateIssuer', read.certificateIssuer),
  };
}

/** By serial number. In an indirect list an entry's issuer holds until the next one is named (§5.3.3). */
function indexed(entries: readonly Element[], issuer: Name, indirect: boolean): Map<string, Entry[]> {
  const found = new Map<string, Entry[]>();
  let current = issuer.key;
  for (const element of entries) {
    if (indirect) current = entryOf(element).issuer?.key ?? current;
    const serial = serialOf(element);
    const known = found.get(serial);
    // Added in place: a list whose entries all have one number must not be copied for each of them.
    if (known === undefined) found.set(serial, [{ element, issuer: current }]);
    else known.push({ element, issuer: current });
  }
  return found;
}

const spelled = (serial: bigint): string => {
  let bytes = 1;
  while (serial >= 1n << BigInt(bytes * 8 - 1) || serial < -(1n << BigInt(bytes * 8 - 1))) bytes++;
  return BigInt.asUintN(bytes * 8, serial)
    .toString(16)
    .padStart(bytes * 2, '0');
};

/** From DER. @throws CertificateError `malformed` */
export const readRevocationList = (bytes: Uint8Array): RevocationList =>
  reading('revocation list', () => listOf(bytes));

function listOf(bytes: Uint8Array): RevocationList {
  // Entries lie at depth 3; everything else is small, and read again where it is needed.
  const outer = fieldsOf(readElement(bytes, { maxBytes: MAX_LIST_BYTES, maxElements: 1_000_000, opaqueFrom: 3 }));
  const whole = ({ bytes: part }: Element): Element => readElement(part, { maxElements: 10_000 });
  const body = outer.next('sequence');
  const algorithm = algorithmOf(whole(outer.any()));
  const { bytes: signature } = bitsOf(outer.next('bitString'));
  outer.end();

  const fields = new Fields(body.children);
  fields.optional('integer');
  if (toHex(algorithmOf(whole(fields.any())).bytes) !== toHex(algorithm.bytes))
    throw new CertificateError('malformed', 'revocation list');
  const issuer = nameOf(whole(fields.any()));
  const thisUpdate = timeOf(fields.any());
  const nextUpdateAt = fields.optional('utcTime') ?? fields.optional('generalizedTime');
  const revoked = fields.optional('sequence');
  const extensionsAt = fields.explicit(0);
  fields.end();
  const extensions = read.extensionsOf(extensionsAt === undefined ? undefined : whole(extensionsAt));
  const of = <T>(name: keyof typeof read.EXTENSION, reader: (element: Element) => T): T | undefined =>
    read.extension(extensions, name, reader);
  const point = of('issuingDistributionPoint', read.issuingDistributionPoint);
  let index: Map<string, Entry[]> | undefined;
  return {
    bytes,
    signed: body.bytes,
    algorithm,
    signature,
    issuer,
    thisUpdate,
    point,
    nextUpdate: nextUpdateAt === undefined ? undefined : timeOf(nextUpdateAt),
    number: of('crlNumber', (element) => integerOf(expect(element, 'integer'), 32)),
    deltaTo: of('deltaCrlIndicator', (element) => integerOf(expect(element, 'integer'), 32)),
    scope: toHex(extensions.get(read.EXTENSION.issuingDistributionPoint)?.value ?? new Uint8Array(0)),
    authorityKeyId: of('authorityKeyIdentifier', read.authorityKeyIdentifier),
    freshest: of('freshestCrl', read.distributionPoints) ?? [],
    unknownCritical: hasUnknownCritical(extensions, UNDERSTOOD),
    find: (serial, by) =>
      reading('revocation list', () => {
        index ??= indexed(revoked?.children ?? [], issuer, point?.indirect === true);
        const found = index.get(spelled(serial))?.find((entry) => entry.issuer === by.key);
        return found === undefined ? undefined : entryOf(found.element).entry;
      }),
  };
}
