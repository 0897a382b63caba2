/** Reads a certificate (RFC 5280 §4) whole and once; what is inside is not judged here. */
import { Fields, fieldsOf, timeOf } from '../asn1/fields';
import { bitsOf, type Element, integerOf, readElement } from '../asn1/read';
import { sha256, toHex } from '../bytes';
import { type Algorithm, algorithmOf, type PublicKeyInfo, publicKeyOf } from './algorithm';
import { CertificateError, reading } from './errors';
import * as read from './extensions';
import { attributeOf, type GeneralName, type Name, nameOf } from './name';

export interface Certificate {
  bytes: Uint8Array;
  /** What the issuer signed. */
  signed: Uint8Array;
  version: 1 | 2 | 3;
  serial: bigint;
  algorithm: Algorithm;
  signature: Uint8Array;
  issuer: Name;
  subject: Name;
  notBefore: Date;
  notAfter: Date;
  publicKey: PublicKeyInfo;
  extensions: read.Extensions;
  basicConstraints: read.BasicConstraints | undefined;
  keyUsage: ReadonlySet<read.KeyUsage> | undefined;
  extendedKeyUsage: readonly string[] | undefined;
  altNames: readonly GeneralName[];
  subjectKeyId: Uint8Array | undefined;
  authorityKeyId: read.AuthorityKeyIdentifier | undefined;
  nameConstraints: read.NameConstraints | undefined;
  policies: readonly string[] | undefined;
  policyMappings: readonly read.PolicyMapping[];
  policyConstraints: read.PolicyConstraints | undefined;
  inhibitAnyPolicy: number | undefined;
  distributionPoints: readonly read.DistributionPoint[];
  freshest: readonly read.DistributionPoint[];
  infoAccess: read.InfoAccess;
  capabilities: readonly string[] | undefined;
}

/** A few kilobytes are usual; the largest of the test material has 7. */
export const MAX_CERTIFICATE_BYTES = 256 * 1024;

/** From DER. @throws CertificateError `malformed` */
export const readCertificate = (bytes: Uint8Array): Certificate =>
  reading('certificate', () =>
    certificateOf(readElement(bytes, { maxBytes: MAX_CERTIFICATE_BYTES, maxElements: 10_000 })),
  );

/** From an element inside something larger. @throws CertificateError `malformed` */
export const certificateOf = (element: Element): Certificate => reading('certificate', () => certificateIn(element));

function certificateIn(element: Element): Certificate {
  const outer = fieldsOf(element);
  const body = outer.next('sequence');
  const algorithm = algorithmOf(outer.any());
  const { bytes: signature } = bitsOf(outer.next('bitString'));
  outer.end();

  const fields = new Fields(body.children);
  const versionAt = fields.explicit(0);
  const version = versionAt === undefined ? 1 : Number(integerOf(versionAt, 1)) + 1;
  if (version !== 1 && version !== 2 && version !== 3) throw new CertificateError('unsupported', 'certificate');
  const serial = integerOf(fields.next('integer'), 64);
  const inner = algorithmOf(fields.any());
  // §4.1.1.2: the two must be the same, or the unsigned one decides how the signature is read.
  if (toHex(inner.bytes) !== toHex(algorithm.bytes)) throw new CertificateError('malformed', 'certificate');
  const issuer = nameOf(fields.any());
  const validity = fieldsOf(fields.any());
  const [notBefore, notAfter] = [timeOf(validity.any()), timeOf(validity.any())];
  validity.end();
  const subject = nameOf(fields.any());
  const publicKey = publicKeyOf(fields.any());
  fields.context(1);
  fields.context(2);
  const extensions = read.extensionsOf(fields.explicit(3));
  fields.end();
  return {
    bytes: element.bytes,
    signed: body.bytes,
    version,
    serial,
    algorithm,
    signature,
    issuer,
    subject,
    notBefore,
    notAfter,
    publicKey,
    extensions,
    ...saidIn(extensions),
  };
}

/** What its extensions say, each by its reader. */
function saidIn(extensions: ReturnType<typeof read.extensionsOf>) {
  const of = <T>(name: keyof typeof read.EXTENSION, reader: (element: Element) => T): T | undefined =>
    read.extension(extensions, name, reader);
  return {
    basicConstraints: of('basicConstraints', read.basicConstraints),
    keyUsage: of('keyUsage', read.keyUsage),
    extendedKeyUsage: of('extendedKeyUsage', read.extendedKeyUsage),
    altNames: of('subjectAltName', read.subjectAltName) ?? [],
    subjectKeyId: of('subjectKeyIdentifier', read.keyIdentifier),
    authorityKeyId: of('authorityKeyIdentifier', read.authorityKeyIdentifier),
    nameConstraints: of('nameConstraints', read.nameConstraints),
    policies: of('certificatePolicies', read.certificatePolicies),
    policyMappings: of('policyMappings', read.policyMappings) ?? [],
    policyConstraints: of('policyConstraints', read.policyConstraints),
    inhibitAnyPolicy: of('inhibitAnyPolicy', read.inhibitAnyPolicy),
    distributionPoints: of('crlDistributionPoints', read.distributionPoints) ?? [],
    freshest: of('freshestCrl', read.distributionPoints) ?? [],
    infoAccess: of('authorityInfoAccess', read.authorityInfoAccess) ?? { ocsp: [], issuers: [] },
    capabilities: of('smimeCapabilities', read.smimeCapabilities),
  };
}

/**
 * Every mail address it was issued for (RFC 8550 §3): from the alternative names; from the subject only where there are
 * none.
 */
export function addressesOf({ altNames, subject }: Certificate): readonly string[] {
  const named = altNames.flatMap((one) => (one.kind === 'email' ? [one.value] : []));
  if (named.length > 0) return named;
  const old = attributeOf(subject, 'emailAddress');
  return old === undefined ? [] : [old];
}

/** Its own issuer by name (§6.1: "self-issued"), which needn't mean signed by its own key. */
export const isSelfIssued = ({ issuer, subject }: Certificate): boolean => issuer.key === subject.key;

/** SHA-256 over all of it, in lower-case hex. */
export const fingerprintOf = async ({ bytes }: Pick<Certificate, 'bytes'>): Promise<string> =>
  toHex(await sha256(bytes));
