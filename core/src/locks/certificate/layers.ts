/** The layers S/MIME puts around mail (RFC 8551 §3), opened one at a time. */
import { readContentInfo } from '../../cms/content-info';
import { CmsError } from '../../cms/errors';
import { type HeldKey, openEnvelope, readEnvelope } from '../../cms/enveloped-data';
import { checkSigners, readSignedData } from '../../cms/signed-data';
import { decodedBody, type Entity, partsOf, readEntity, withWireLineEnds } from '../../message/entity';
import { type OpenedLayers } from '../layer';

const CMS_TYPES = ['application/pkcs7-mime', 'application/x-pkcs7-mime'];
const SIGNATURE_TYPES = ['application/pkcs7-signature', 'application/x-pkcs7-signature'];
export const isCms = ({ contentType: { type, parameters } }: Entity): boolean => CMS_TYPES.includes(type) || (type === 'application/octet-stream' && /\.p7m$/i.test(parameters.get('name') ?? ''));
export const isCmsSigned = ({ contentType: { type, parameters } }: Entity): boolean => type === 'multipart/signed' && SIGNATURE_TYPES.includes((parameters.get('protocol') ?? '').toLowerCase());

/** Content whose lines ended otherwise when it was signed than now: tried both ways, and what fits is shown. */
async function checkedClear(entity: Entity): Promise<OpenedLayers> {
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
  return again?.some(({ kind }) => kind === 'signed') === true ? { layers: [{ kind: 'signed', by: 'certificate', checks: again, certificates: signed.certificates }], inner: wire } : { layers: [{ kind: 'signed', by: 'certificate', checks, certificates: signed.certificates }], inner: content };
}

/** A CMS object. @throws CmsError */
export async function openCms(bytes: Uint8Array, held: readonly HeldKey[]): Promise<OpenedLayers> {
  const { kind } = readContentInfo(bytes);
  if (kind === 'signed') {
    const signed = readSignedData(bytes);
    if (signed.content === undefined) throw new CmsError('malformed');
    return { layers: [{ kind: 'signed', by: 'certificate', checks: await checkSigners(signed), certificates: signed.certificates }], inner: signed.content };
  }
  const envelope = readEnvelope(bytes);
  const opened = await openEnvelope(envelope, held);
  return { layers: [{ kind: 'encrypted', by: 'certificate', cipher: opened.cipher, authenticated: opened.authenticated, old: opened.old, openedWith: opened.openedWith, recipients: envelope.keys.length }], inner: opened.content };
}

/** The layer around this entity, whichever it is. @throws CmsError, EntityError */
export const openCmsLayer = (entity: Entity, held: readonly HeldKey[]): Promise<OpenedLayers> => (isCmsSigned(entity) ? checkedClear(entity) : openCms(decodedBody(entity), held));
