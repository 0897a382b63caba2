/**
 * Opens S/MIME mail layer by layer, and says of what is shown only what the layers around all of it vouch for. A signed or encrypted part beside others vouches for nothing and
 * stays closed: text around it could speak in its name, or carry what it says elsewhere.
 */
import { type Certificate } from '../../certificate/certificate';
import { type HeldKey, openEnvelope, readEnvelope } from '../../cms/enveloped-data';
import { readContentInfo } from '../../cms/content-info';
import { CmsError } from '../../cms/errors';
import { type CipherName } from '../../cms/identifiers';
import { checkSigners, readSignedData, type SignerCheck } from '../../cms/signed-data';
import { concat, utf8 } from '../../bytes';
import { type MessageContent } from '../../message/content';
import { decodedBody, type Entity, EntityError, fieldNamed, fieldsNamed, partsOf, readEntity, withoutFields, withWireLineEnds } from '../../message/entity';
import { readMessage } from '../../message/read';

export type Layer =
  | { kind: 'encrypted'; cipher: CipherName; authenticated: boolean; old: boolean; openedWith: Certificate; recipients: number }
  | { kind: 'signed'; checks: readonly SignerCheck[]; certificates: readonly Certificate[] };

export interface Unwrapped {
  layers: readonly Layer[];
  message: MessageContent;
  /** Who it says it is from outside, as far as it does: each From field there. */
  outerFrom: readonly string[];
  /** The header shown is the one inside the innermost layer. */
  headerProtected: boolean;
  /** Header fields that stand otherwise outside than inside says they should (RFC 9788 §4.3). */
  changedOutside: readonly string[];
  /** Parts that are signed or encrypted on their own, beside others: shown as files, not believed. */
  partsOnTheirOwn: number;
}

export type UnwrapErrorCode = 'too-deep' | 'malformed' | 'unsupported' | 'not-for-us' | 'not-opened';
export class UnwrapError extends Error {
  /** `layers`: what had been opened before. */
  constructor(readonly code: UnwrapErrorCode, readonly layers: readonly Layer[], options?: ErrorOptions) {
    super(`Sealed mail: ${code}`, options);
    this.name = 'UnwrapError';
  }
}

export const MAX_LAYERS = 8;

const CMS_TYPES = ['application/pkcs7-mime', 'application/x-pkcs7-mime'];
const SIGNATURE_TYPES = ['application/pkcs7-signature', 'application/x-pkcs7-signature'];
const isCms = ({ contentType: { type, parameters } }: Entity): boolean => CMS_TYPES.includes(type) || (type === 'application/octet-stream' && /\.p7m$/i.test(parameters.get('name') ?? ''));
const isSigned = ({ contentType: { type, parameters } }: Entity): boolean => type === 'multipart/signed' && SIGNATURE_TYPES.includes((parameters.get('protocol') ?? '').toLowerCase());

/** Content whose lines ended otherwise when it was signed than now: tried both ways, and what fits is shown. */
async function checkedClear(entity: Entity): Promise<{ layer: Layer; inner: Uint8Array }> {
  const parts = partsOf(entity);
  const [content, beside] = parts;
  // RFC 1847 §2.1: two parts, the second the signature. A third would be neither signed nor noticed.
  if (content === undefined || beside === undefined || parts.length !== 2) throw new CmsError('malformed');
  const signature = readEntity(beside);
  if (!SIGNATURE_TYPES.includes(signature.contentType.type)) throw new CmsError('malformed');
  const signed = readSignedData(decodedBody(signature));
  const checks = await checkSigners(signed, content);
  const wire = withWireLineEnds(content);
  const again = wire !== content && checks.some(({ kind }) => kind === 'changed') ? await checkSigners(signed, wire) : undefined;
  return again?.some(({ kind }) => kind === 'signed') === true ? { layer: { kind: 'signed', checks: again, certificates: signed.certificates }, inner: wire } : { layer: { kind: 'signed', checks, certificates: signed.certificates }, inner: content };
}

async function openCms(bytes: Uint8Array, held: readonly HeldKey[]): Promise<{ layer: Layer; inner: Uint8Array }> {
  const { kind } = readContentInfo(bytes);
  if (kind === 'signed') {
    const signed = readSignedData(bytes);
    if (signed.content === undefined) throw new CmsError('malformed');
    return { layer: { kind: 'signed', checks: await checkSigners(signed), certificates: signed.certificates }, inner: signed.content };
  }
  const envelope = readEnvelope(bytes);
  const opened = await openEnvelope(envelope, held);
  return { layer: { kind: 'encrypted', cipher: opened.cipher, authenticated: opened.authenticated, old: opened.old, openedWith: opened.openedWith, recipients: envelope.keys.length }, inner: opened.content };
}

function failure(cause: unknown, layers: readonly Layer[]): unknown {
  if (cause instanceof CmsError) return new UnwrapError(cause.code, layers, { cause });
  if (cause instanceof EntityError) return new UnwrapError('malformed', layers, { cause });
  return cause;
}

/** Fields of the message's own header; those of its content belong to the part. */
const isContentField = (name: string): boolean => name.startsWith('content-') || name === 'mime-version';
const normal = (value: string): string => value.replace(/\s+/g, ' ').trim();

/** Outer fields that are not what `HP-Outer` says stood outside when it was sealed, or, without it, differ from the inner ones. */
function changed(outer: Entity, inner: Entity): string[] {
  const stated = fieldsNamed(inner, 'HP-Outer').map(({ value }) => {
    const colon = value.indexOf(':');
    return { name: value.slice(0, colon).trim().toLowerCase(), value: normal(value.slice(colon + 1)) };
  });
  const checked = ['from', 'to', 'cc', 'subject', 'date', 'message-id'];
  return checked.filter((name) => {
    const outside = fieldsNamed(outer, name).map(({ value }) => normal(value));
    const expected = stated.length > 0 ? stated.filter((one) => one.name === name).map(({ value }) => value) : fieldsNamed(inner, name).map(({ value }) => normal(value));
    return outside.length !== expected.length || outside.some((value, index) => value !== expected[index]);
  });
}

const MAX_LOOKED_AT = 200;
/** Signed or encrypted parts inside a multipart, at any depth within reason. */
function partsOnTheirOwn(entity: Entity): number {
  let count = 0;
  let looked = 0;
  const look = (one: Entity, depth: number): void => {
    if (depth > 10 || !one.contentType.type.startsWith('multipart/')) return;
    let parts: Uint8Array[];
    try {
      parts = partsOf(one);
    } catch {
      return;
    }
    for (const part of parts) {
      if (++looked > MAX_LOOKED_AT) return;
      const inner = readEntity(part);
      if (isCms(inner) || isSigned(inner)) count += 1;
      else look(inner, depth + 1);
    }
  };
  look(entity, 0);
  return count;
}

/**
 * @param bytes A whole mail (RFC 5322), or CMS alone as a .p7m file.
 * @param held Our keys with their certificates, old ones too.
 * @throws UnwrapError; MessageReadError when what is inside is no mail
 */
export async function unwrapMail(bytes: Uint8Array, held: readonly HeldKey[]): Promise<Unwrapped> {
  const layers: Layer[] = [];
  try {
    // 0x30: a SEQUENCE, and no header field begins with a nought.
    const bare = bytes[0] === 0x30 && bytes[1] !== undefined && (bytes[1] & 0x80) !== 0;
    const outer = readEntity(bare ? utf8('Content-Type: application/pkcs7-mime\r\n\r\n') : bytes);
    let entity = outer;
    let sealed: Uint8Array | undefined = bare ? bytes : undefined;
    while (sealed !== undefined || isCms(entity) || isSigned(entity)) {
      if (layers.length === MAX_LAYERS) throw new UnwrapError('too-deep', layers);
      const { layer, inner } = sealed === undefined && isSigned(entity) ? await checkedClear(entity) : await openCms(sealed ?? decodedBody(entity), held);
      sealed = undefined;
      layers.push(layer);
      entity = readEntity(inner);
    }
    return { layers, ...(await shown(outer, entity, layers.length > 0)), outerFrom: fieldsNamed(outer, 'from').map(({ value }) => value), partsOnTheirOwn: partsOnTheirOwn(entity) };
  } catch (cause) {
    throw cause instanceof UnwrapError ? cause : failure(cause, layers);
  }
}

/** What a reader sees: the inner header where it is protected, else the outer one around the innermost content. */
async function shown(outer: Entity, inner: Entity, wrapped: boolean): Promise<Pick<Unwrapped, 'message' | 'headerProtected' | 'changedOutside'>> {
  if (!wrapped) return { message: await readMessage(outer.bytes as Uint8Array<ArrayBuffer>), headerProtected: false, changedOutside: [] };
  if (inner.contentType.type === 'message/rfc822') {
    // The old way of protecting a header: the whole mail inside (RFC 8551 §3.1).
    const whole = readEntity(decodedBody(inner));
    return { message: await readMessage(whole.bytes.slice()), headerProtected: true, changedOutside: outer.fields.length > 1 ? changed(outer, whole).filter((name) => name === 'from') : [] };
  }
  const headerProtected = inner.contentType.parameters.has('hp') && fieldNamed(inner, 'from') !== undefined;
  if (headerProtected) return { message: await readMessage(inner.bytes.slice()), headerProtected, changedOutside: outer.fields.length > 1 ? changed(outer, inner) : [] };
  const header = withoutFields(outer, isContentField);
  const content = withoutFields(inner, (name) => !isContentField(name));
  return { message: await readMessage(concat(header, content, utf8('\r\n'), inner.body)), headerProtected, changedOutside: [] };
}
