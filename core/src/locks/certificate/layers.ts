/** The layers S/MIME puts around mail (RFC 8551 §3), opened one at a time. */
import { readContentInfo } from '../../cms/content-info';
import { CmsError } from '../../cms/errors';
import { type HeldKey, openEnvelope, readEnvelope } from '../../cms/enveloped-data';
import { checkSigners, readSignedData, type SignedData } from '../../cms/signed-data';
import { utf8 } from '../../bytes';
import { fromBase64Lines } from '../../message/base64';
import {
  decodedBody,
  type Entity,
  EntityError,
  fieldNamed,
  partsOf,
  readEntity,
  withWireLineEnds,
} from '../../message/entity';
import { readParameters } from '../../message/parameters';
import { asMixed } from '../as-mixed';
import { type OpenedLayers } from '../layer';

const SEQUENCE = 0x30;
const latin = new TextDecoder('latin1');

const CMS_TYPES = ['application/pkcs7-mime', 'application/x-pkcs7-mime'];
const SIGNATURE_TYPES = ['application/pkcs7-signature', 'application/x-pkcs7-signature'];

/** Gateways that know no such type leave the name of the file only (RFC 8551 §3.2.1 asks for both for that reason). */
function isNamed(entity: Entity, extension: string): boolean {
  const { parameters } = readParameters(fieldNamed(entity, 'content-disposition'));
  return (
    entity.contentType.type === 'application/octet-stream' &&
    (parameters.get('filename') ?? entity.contentType.parameters.get('name') ?? '').toLowerCase().endsWith(extension)
  );
}
const isSignature = (entity: Entity): boolean =>
  SIGNATURE_TYPES.includes(entity.contentType.type) || isNamed(entity, '.p7s');

export const isCms = (entity: Entity): boolean =>
  CMS_TYPES.includes(entity.contentType.type) || isNamed(entity, '.p7m');

/** By what it says; where that was lost, by its second part. */
export function isCmsSigned(entity: Entity): boolean {
  if (entity.contentType.type !== 'multipart/signed') return false;
  const protocol = (entity.contentType.parameters.get('protocol') ?? '').toLowerCase();
  if (protocol !== '') return SIGNATURE_TYPES.includes(protocol);
  try {
    return partsOf(entity).some((part) => isSignature(readEntity(part)));
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return false;
  }
}

/** The object's octets: as they are, in base64, or as PEM (RFC 7468 §9). */
export function cmsOctets(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === SEQUENCE) return bytes;
  const [, , body] =
    /^\s*-----BEGIN (PKCS7|CMS)-----([A-Za-z0-9+/=\s]*)-----END \1-----\s*$/.exec(latin.decode(bytes)) ?? [];
  const octets = fromBase64Lines(body === undefined ? bytes : utf8(body));
  return octets[0] === SEQUENCE ? octets : bytes;
}

/** Certificates and nothing signed (RFC 8551 §3.8): nothing to unwrap, the mail is shown with them as its file. */
export function isOnlyCertificates(bytes: Uint8Array): boolean {
  try {
    const octets = cmsOctets(bytes);
    if (readContentInfo(octets).kind !== 'signed') return false;
    const { content, signers } = readSignedData(octets);
    return signers.length === 0 && (content === undefined || content.length === 0);
  } catch (error) {
    if (!(error instanceof CmsError)) throw error;
    return false;
  }
}

const unreadable: OpenedLayers['layers'] = [
  { kind: 'signed', by: 'certificate', checks: [{ kind: 'unreadable' }], certificates: [] },
];

function signatureIn(part: Entity): SignedData | undefined {
  try {
    return readSignedData(cmsOctets(decodedBody(part)));
  } catch (error) {
    if (!(error instanceof CmsError)) throw error;
    return undefined;
  }
}

/** Content whose lines ended otherwise when it was signed than now: tried both ways, and what fits is shown. */
async function checkedClear(entity: Entity): Promise<OpenedLayers> {
  const parts = partsOf(entity);
  const [content, beside] = parts;
  if (content === undefined) throw new CmsError('malformed');
  // RFC 1847 §2.1: two parts, the second the signature. Less or more than that, or one that can't be read: it is shown,
  // and nobody vouches for it.
  const signed = beside === undefined || parts.length !== 2 ? undefined : signatureIn(readEntity(beside));
  if (signed === undefined || signed.signers.length === 0) return { layers: unreadable, inner: asMixed(entity) };
  const checks = await checkSigners(signed, content);
  const wire = withWireLineEnds(content);
  const again =
    wire !== content && checks.some(({ kind }) => kind === 'changed') ? await checkSigners(signed, wire) : undefined;
  return again?.some(({ kind }) => kind === 'signed') === true
    ? { layers: [{ kind: 'signed', by: 'certificate', checks: again, certificates: signed.certificates }], inner: wire }
    : { layers: [{ kind: 'signed', by: 'certificate', checks, certificates: signed.certificates }], inner: content };
}

/** A CMS object. @throws CmsError */
export async function openCms(bytes: Uint8Array, held: readonly HeldKey[]): Promise<OpenedLayers> {
  const { kind } = readContentInfo(bytes);
  if (kind === 'signed') {
    const signed = readSignedData(bytes);
    if (signed.content === undefined) throw new CmsError('malformed');
    return {
      layers: [
        { kind: 'signed', by: 'certificate', checks: await checkSigners(signed), certificates: signed.certificates },
      ],
      inner: signed.content,
    };
  }
  const envelope = readEnvelope(bytes);
  const opened = await openEnvelope(envelope, held);
  return {
    layers: [
      {
        kind: 'encrypted',
        by: 'certificate',
        cipher: opened.cipher,
        authenticated: opened.authenticated,
        old: opened.old,
        openedWith: opened.openedWith,
        recipients: envelope.keys.length,
      },
    ],
    inner: opened.content,
  };
}

/** The layer around this entity, whichever it is. @throws CmsError, EntityError */
export const openCmsLayer = (entity: Entity, held: readonly HeldKey[]): Promise<OpenedLayers> =>
  isCmsSigned(entity) ? checkedClear(entity) : openCms(cmsOctets(decodedBody(entity)), held);
