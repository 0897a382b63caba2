/** What a PKCS#10 request (RFC 2986) asks for. Its signature is the authority's to check. */
import { Fields, fieldsOf, is } from '../asn1/fields';
import { oidOf, readElement } from '../asn1/read';
import { reading } from './errors';
import { extension, extensionsOf, subjectAltName } from './extensions';

export const EXTENSION_REQUEST = '1.2.840.113549.1.9.14'; // RFC 2985 §5.4.2
export const MAX_REQUEST_BYTES = 16 * 1024;

/** The mail addresses it is to be good for. @throws CertificateError `malformed` */
export const requestedAddresses = (request: Uint8Array): readonly string[] =>
  reading('certificate request', () => {
    const outer = fieldsOf(readElement(request, { maxBytes: MAX_REQUEST_BYTES, maxElements: 2000 }));
    const body = fieldsOf(outer.any());
    body.next('integer');
    body.next('sequence');
    body.next('sequence');
    const attributes = body.context(0)?.children ?? [];
    return attributes.flatMap((one) => {
      const fields = new Fields(one.children);
      if (oidOf(fields.next('oid')) !== EXTENSION_REQUEST) return [];
      const [asked] = fields.next('set').children;
      const names =
        extension(extensionsOf(is(asked, 'sequence') ? asked : undefined), 'subjectAltName', subjectAltName) ?? [];
      return names.flatMap((name) => (name.kind === 'email' ? [name.value] : []));
    });
  });
