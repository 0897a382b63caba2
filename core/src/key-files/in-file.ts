/**
 * Certificates in the files people pass on: DER, PEM (RFC 7468), PKCS#7 bundles (.p7b, .p7c), contact cards (vCard
 * `KEY`, RFC 6350 §6.8.1).
 */
import { base64 } from '@scure/base';
import { type Bytes } from '../bytes';
import { Asn1Error, firstElement } from '../asn1/read';
import { readContentInfo } from '../cms/content-info';
import { CmsError } from '../cms/errors';
import { readSignedData } from '../cms/signed-data';
import { type Certificate, readCertificate } from '../certificate/certificate';
import { trimmedEnd } from '../trim-end';
import { CertificateError } from '../certificate/errors';
import { MAX_FOUND } from '../certificate/max-found';

export const MAX_FILE_BYTES = 4 * 1024 * 1024;

/** Base64 of a PEM block or the like, whatever white space stands in it; undefined when it is none. */
export function decoded(text: string): Bytes | undefined {
  const packed = trimmedEnd(text.replace(/\s+/g, ''), '=');
  try {
    return base64.decode(packed + '='.repeat((4 - (packed.length % 4)) % 4)) as Bytes;
  } catch {
    return undefined;
  }
}

/**
 * A certificate that OpenSSL has put its own notes behind (`TRUSTED CERTIFICATE`): its first element, which says its
 * own length.
 */
function withoutNotes(bytes: Bytes): Uint8Array {
  try {
    return firstElement(bytes);
  } catch (error) {
    if (!(error instanceof Asn1Error)) throw error;
    return bytes;
  }
}

function inDer(bytes: Uint8Array): Certificate[] {
  try {
    return [readCertificate(bytes)];
  } catch (error) {
    if (!(error instanceof CertificateError)) throw error;
  }
  try {
    return readContentInfo(bytes).kind === 'signed' ? [...readSignedData(bytes).certificates] : [];
  } catch (error) {
    if (!(error instanceof CmsError)) throw error;
    return [];
  }
}

const PEM = /-----BEGIN (X509 |TRUSTED )?(?:CERTIFICATE|PKCS7|CMS)-----([A-Za-z0-9+/=\s]*)-----END/g;
/** Folded lines are joined first. */
const CARD_KEY =
  /^(?:[\w-]+\.)?KEY[^:\r\n]*?:(?:data:application\/(?:pkix-cert|x-x509-[\w-]+);base64,)?([A-Za-z0-9+/=]+)\s*$/gim;

/** Everything that can be read as a certificate, once each; none when there is nothing. */
export function certificatesIn(bytes: Uint8Array): Certificate[] {
  if (bytes.length > MAX_FILE_BYTES) return [];
  const found = inDer(bytes);
  if (found.length === 0) {
    const text = new TextDecoder('latin1').decode(bytes);
    const blocks = [...text.matchAll(PEM)]
      .slice(0, MAX_FOUND)
      .map(([, label, body]) => ({ body: body!, hasNotes: label === 'TRUSTED ' }));
    const cards = [...text.replace(/\r?\n[ \t]/g, '').matchAll(CARD_KEY)].map(([, body]) => ({
      body: body!,
      hasNotes: false,
    }));
    const texts = [...blocks, ...cards].slice(0, MAX_FOUND);
    for (const { body, hasNotes } of texts) {
      const der = decoded(body);
      if (der !== undefined) found.push(...inDer(hasNotes ? withoutNotes(der) : der));
    }
    // The octets in base64 and nothing else, as some programs save them.
    if (texts.length === 0 && /^[A-Za-z0-9+/=\s]+$/.test(text))
      found.push(...inDer(decoded(text) ?? new Uint8Array(0)));
  }
  const once = new Map(found.map((one) => [`${one.issuer.key} ${one.serial} ${one.signature.length}`, one]));
  return [...once.values()].slice(0, MAX_FOUND);
}
