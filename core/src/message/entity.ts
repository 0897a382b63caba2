/**
 * A MIME entity as it stands, octet by octet (RFC 2045, 2046 §5.1): signatures are over exactly these bytes, which
 * parsers that decode don't keep.
 * Only what unwrapping needs: header fields, content type, the raw ranges of a multipart's parts.
 */
import { type Bytes, concat, utf8 } from '../bytes';
import { fromBase64Lines } from './base64';
import { decodeText } from './charset';
import { readParameters } from './parameters';
import { fromQuotedPrintable } from './quoted-printable';

export type EntityErrorCode = 'malformed' | 'too-large';
export class EntityError extends Error {
  constructor(readonly code: EntityErrorCode) {
    super(`MIME entity: ${code}`);
    this.name = 'EntityError';
  }
}

export interface HeaderField {
  name: string;
  /** Unfolded. */ value: string;
  /** As it stands, its line end included. */ raw: Uint8Array;
}

export interface Entity {
  bytes: Uint8Array;
  fields: readonly HeaderField[];
  body: Uint8Array;
  contentType: { type: string; parameters: ReadonlyMap<string, string> };
}

export const MAX_HEADER_BYTES = 256 * 1024;
export const MAX_FIELDS = 1000;
export const MAX_PARTS = 1000;

const [CR, LF, DASH] = [13, 10, 45];

/** Where the line that begins at `at` ends, its line end included. */
export function lineEnd(bytes: Uint8Array, at: number): number {
  const end = bytes.indexOf(LF, at);
  return end < 0 ? bytes.length : end + 1;
}

const isEmptyLine = (bytes: Uint8Array, from: number, to: number): boolean =>
  to - from === 1 ? bytes[from] === LF : to - from === 2 && bytes[from] === CR && bytes[from + 1] === LF;

function fieldOf(raw: Uint8Array): HeaderField | undefined {
  const text = decodeText(raw, undefined);
  const colon = text.indexOf(':');
  const name = text.slice(0, Math.max(0, colon)).trimEnd();
  // Printable ASCII without blanks; those before the colon are an older custom (RFC 5322 §2.2, §4.5).
  if (!/^[!-~]+$/.test(name)) return undefined;
  return {
    name: name.toLowerCase(),
    value: text
      .slice(colon + 1)
      .replace(/\r?\n(?=[ \t])/g, '')
      .trim(),
    raw,
  };
}

/** `type/subtype` with its parameters; text where nothing is said (RFC 2045 §5.2). */
export function contentTypeOf(value: string | undefined): Entity['contentType'] {
  const { value: type, parameters } = readParameters(value ?? 'text/plain');
  return { type, parameters };
}

export const fieldsNamed = ({ fields }: Pick<Entity, 'fields'>, name: string): HeaderField[] =>
  fields.filter((one) => one.name === name.toLowerCase());
export const fieldNamed = (entity: Pick<Entity, 'fields'>, name: string): string | undefined =>
  fieldsNamed(entity, name)[0]?.value;

/**
 * Lines behind the last field that are none themselves are the body's: without an empty line before it, too, it is shown.
 * @throws EntityError
 */
export function readEntity(bytes: Uint8Array): Entity {
  const fields: HeaderField[] = [];
  let at = 0;
  let early: number | undefined;
  while (at < bytes.length) {
    let end = lineEnd(bytes, at);
    if (isEmptyLine(bytes, at, end)) {
      at = end;
      break;
    }
    // A line that begins with a blank continues the one before.
    while (end < bytes.length && (bytes[end] === 32 || bytes[end] === 9)) end = lineEnd(bytes, end);
    if (end > MAX_HEADER_BYTES || fields.length >= MAX_FIELDS) throw new EntityError('too-large');
    const field = fieldOf(bytes.subarray(at, end));
    if (field !== undefined) fields.push(field);
    early = field === undefined ? (early ?? at) : undefined;
    at = end;
  }
  return {
    bytes,
    fields,
    body: bytes.subarray(early ?? at),
    contentType: contentTypeOf(fieldNamed({ fields }, 'content-type')),
  };
}

/** Whether the line at `at` is this multipart's delimiter, and whether its last (RFC 2046 §5.1.1). */
function delimiterAt(body: Uint8Array, at: number, delimiter: Uint8Array): 'part' | 'end' | undefined {
  if (at + delimiter.length > body.length) return undefined;
  for (let index = 0; index < delimiter.length; index++) if (body[at + index] !== delimiter[index]) return undefined;
  // No more of the line than blanks may follow it.
  const rest = decodeText(
    body.subarray(at + delimiter.length, Math.min(lineEnd(body, at), at + delimiter.length + 200)),
    undefined,
  ).trimEnd();
  return rest === '' ? 'part' : rest === '--' ? 'end' : undefined;
}

/**
 * The parts' exact bytes, without the line end that belongs to the delimiter after them. @throws EntityError when there
 * is no boundary, or none of it is found
 */
export function partsOf({ body, contentType }: Entity): Uint8Array[] {
  const boundary = contentType.parameters.get('boundary');
  if (boundary === undefined || boundary === '' || boundary.length > 200) throw new EntityError('malformed');
  const delimiter = utf8(`--${boundary}`);
  const parts: Uint8Array[] = [];
  let from: number | undefined;
  // From dash to dash: base64, of which large files are made, has none.
  for (let at = body.indexOf(DASH); at >= 0; at = body.indexOf(DASH, at + 1)) {
    const found = at === 0 || body[at - 1] === LF ? delimiterAt(body, at, delimiter) : undefined;
    if (found === undefined) continue;
    if (from !== undefined) {
      const end = body[at - 1] === LF ? (body[at - 2] === CR ? at - 2 : at - 1) : at;
      parts.push(body.subarray(from, Math.max(from, end)));
      if (parts.length > MAX_PARTS) throw new EntityError('too-large');
    }
    if (found === 'end') return parts;
    from = lineEnd(body, at);
  }
  // Cut off before its end: the last part is what there is of it.
  if (from !== undefined) parts.push(body.subarray(from));
  if (parts.length === 0) throw new EntityError('malformed');
  return parts;
}

/** In lower case; comments and parameters that some gateways add say nothing. */
export const transferEncodingOf = (entity: Pick<Entity, 'fields'>): string =>
  readParameters(fieldNamed(entity, 'content-transfer-encoding')).value;

/** The body's octets, its transfer encoding undone. @throws EntityError */
export function decodedBody(entity: Entity): Uint8Array {
  const encoding = transferEncodingOf(entity);
  if (encoding === 'base64') return fromBase64Lines(entity.body);
  return encoding === 'quoted-printable' ? fromQuotedPrintable(entity.body) : entity.body;
}

/**
 * Lines ended as on the wire (RFC 5322 §2.3): files on disk often hold bare line feeds, and signatures were made over
 * the wire's form.
 */
export function withWireLineEnds(bytes: Uint8Array): Uint8Array {
  let bare = 0;
  for (let at = bytes.indexOf(LF); at >= 0; at = bytes.indexOf(LF, at + 1)) if (bytes[at - 1] !== CR) bare += 1;
  if (bare === 0) return bytes;
  const out = new Uint8Array(bytes.length + bare);
  let length = 0;
  for (let at = 0; at < bytes.length; at++) {
    if (bytes[at] === LF && bytes[at - 1] !== CR) out[length++] = CR;
    out[length++] = bytes[at]!;
  }
  return out;
}

export const withoutFields = (entity: Entity, dropped: (name: string) => boolean): Bytes =>
  concat(...entity.fields.filter(({ name }) => !dropped(name)).map(({ raw }) => raw));
