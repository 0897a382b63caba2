/** The outermost wrapping, and the two ways a key's holder is named (RFC 5652 §3, §5.3, §6.2). */
import { fieldsOf, is, isContext } from '../asn1/fields';
import { type Element, integerOf, oidOf, readElement } from '../asn1/read';
import { inPieces, integer, oid, sequence, sequenceInPieces } from '../asn1/write';
import { type Bytes, concat, type Pieces, toHex } from '../bytes';
import { type Certificate } from '../certificate/certificate';
import { type Name, nameOf } from '../certificate/name';
import { CmsError, reading } from './errors';
import { CONTENT } from './identifiers';

export type ContentKind = keyof typeof CONTENT;

/** What is inside, by its kind. @throws CmsError */
export const readContentInfo = (bytes: Uint8Array): { kind: ContentKind; content: Element } =>
  reading(() => {
    const fields = fieldsOf(readElement(bytes));
    const type = oidOf(fields.next('oid'));
    const content = fields.explicit(0);
    const kind = (Object.keys(CONTENT) as ContentKind[]).find((one) => CONTENT[one] === type);
    if (kind === undefined) throw new CmsError('unsupported');
    if (content === undefined) throw new CmsError('malformed');
    return { kind, content };
  });

/** What a CMS object says it is, read from its first octets alone; undefined when they say nothing known. */
export function kindFromStart(start: Uint8Array): ContentKind | undefined {
  // SEQUENCE, a length of at most nine octets, then the identifier.
  return (Object.keys(CONTENT) as ContentKind[]).find((kind) => {
    const wanted = oid(CONTENT[kind]);
    const lengthOctets = (start[1] ?? 0) > 0x80 ? (start[1]! & 0x7f) + 1 : 1;
    return (
      start[0] === 0x30 &&
      lengthOctets <= 9 &&
      wanted.every((octet, index) => start[1 + lengthOctets + index] === octet)
    );
  });
}

export const contentInfoInPieces = (kind: ContentKind, ...content: Uint8Array[]): Pieces =>
  sequenceInPieces(oid(CONTENT[kind]), ...inPieces('context', 0, true, content));
export const contentInfo = (kind: ContentKind, content: Uint8Array): Bytes =>
  concat(...contentInfoInPieces(kind, content));

export type HolderId = { kind: 'issuer'; issuer: Name; serial: bigint } | { kind: 'key'; id: string };

/** @throws Asn1Error */
export function holderOf(element: Element): HolderId {
  if (isContext(element, 0)) return { kind: 'key', id: toHex(element.content) };
  if (!is(element, 'sequence')) throw new CmsError('malformed');
  const fields = fieldsOf(element);
  return { kind: 'issuer', issuer: nameOf(fields.any()), serial: integerOf(fields.next('integer'), 64) };
}

export const isHolder = (id: HolderId, { issuer, serial, subjectKeyId }: Certificate): boolean =>
  id.kind === 'issuer'
    ? id.serial === serial && id.issuer.key === issuer.key
    : subjectKeyId !== undefined && toHex(subjectKeyId) === id.id;

export const holderId = ({ issuer, serial }: Pick<Certificate, 'issuer' | 'serial'>): Bytes =>
  sequence(issuer.bytes, integer(serial));
