/** The way off S/MIME (RFC 8551), a step at a time. */
import { decodedBody } from '../../message/entity';
import { type Unwrapping } from '../layer';
import { cmsOctets, isCms, isCmsSigned, isOnlyCertificates, openCms, openCmsLayer } from './layers';

const latin = new TextDecoder('latin1');
/** A CMS object as text: PEM, or base64 and nothing else. */
const isArmoured = (bytes: Uint8Array): boolean =>
  /^\s{0,20}(?:-----BEGIN (?:PKCS7|CMS)-----|M[A-Za-z0-9+/=\s]+$)/.test(latin.decode(bytes.subarray(0, 4096)));

export const unwrapping: Unwrapping = {
  async bare(bytes, { held }) {
    const octets = isArmoured(bytes) ? cmsOctets(bytes) : bytes;
    // 0x30: a SEQUENCE, and no header field begins with a nought.
    const isObject = octets[0] === 0x30 && octets[1] !== undefined && (octets[1] & 0x80) !== 0;
    return isObject && !isOnlyCertificates(octets) ? openCms(octets, held) : undefined;
  },
  async next(entity, { held }) {
    return isCmsSigned(entity) || (isCms(entity) && !isOnlyCertificates(decodedBody(entity)))
      ? openCmsLayer(entity, held)
      : undefined;
  },
  isPart: (part) => isCms(part) || isCmsSigned(part),
  isWithin: () => false,
};
