/**
 * Reads signed data and checks its signatures (RFC 5652 §5; attributes of RFC 8551 §2.5 and RFC 5035). Who the
 * signers are is judged elsewhere: this says whether these bytes were signed with that certificate's key.
 */
import { fieldsOf, is, isContext, timeOf } from '../asn1/fields';
import { Asn1Error, type Element, octetsOf, oidOf } from '../asn1/read';
import { type Bytes, concat, sameBytes, toHex } from '../bytes';
import { algorithmOf } from '../certificate/algorithm';
import { type Certificate, certificateOf } from '../certificate/certificate';
import { CertificateError } from '../certificate/errors';
import { smimeCapabilities } from '../certificate/extensions';
import { readRevocationList, type RevocationList } from '../certificate/revocation-list';
import { checkSignature, type Hash, hashNamed, schemeOf } from '../certificate/signature';
import { type HolderId, holderOf, isHolder, readContentInfo } from './content-info';
import { CmsError, reading } from './errors';
import { ATTRIBUTE, CONTENT } from './identifiers';

interface SignerInfo {
  id: HolderId;
  digest: string;
  algorithm: ReturnType<typeof algorithmOf>;
  signature: Uint8Array;
  /** As the signature was made over them; undefined when there are none and it is over the content itself. */
  attributes: { signed: Bytes; values: ReadonlyMap<string, readonly Element[]>; der: boolean } | undefined;
}

export interface SignedData {
  contentType: string;
  /** Undefined when the content stands elsewhere, as in clear-signed mail. */
  content: Uint8Array | undefined;
  certificates: readonly Certificate[];
  lists: readonly RevocationList[];
  signers: readonly SignerInfo[];
  /** Certificates and lists that were carried and can't be read. */
  unread: number;
}

export const MAX_CERTIFICATES = 100;
/** Bundles without a signature, as a whole house passes them on. */
const MAX_BUNDLED = 1000;
export const MAX_SIGNERS = 20;

/** Each attribute once (§11: must not stand twice). */
function attributesOf(element: Element): SignerInfo['attributes'] {
  const values = new Map<string, readonly Element[]>();
  for (const one of element.children) {
    const fields = fieldsOf(one);
    const type = oidOf(fields.next('oid'));
    if (values.has(type)) throw new CmsError('malformed');
    values.set(type, fields.next('set').children);
    fields.end();
  }
  // §5.4: signed as a SET OF, sent under [0].
  return { signed: concat(Uint8Array.of(0x31), element.bytes.subarray(1)), values, der: element.der };
}

function signerOf(element: Element): SignerInfo {
  const fields = fieldsOf(element);
  fields.next('integer');
  const id = holderOf(fields.any());
  const digest = algorithmOf(fields.any()).oid;
  const attributes = fields.context(0);
  const algorithm = algorithmOf(fields.any());
  const signature = octetsOf(fields.next('octetString'));
  fields.context(1);
  fields.end();
  return {
    id,
    digest,
    algorithm,
    signature,
    attributes: attributes === undefined ? undefined : attributesOf(attributes),
  };
}

function carried<T>(elements: readonly Element[], read: (element: Element) => T): { read: T[]; unread: number } {
  let unread = 0;
  const items = elements.flatMap((one) => {
    // Other kinds stand under a tag of their own; a damaged one must not hide the rest.
    if (!is(one, 'sequence')) return [];
    try {
      return [read(one)];
    } catch (error) {
      if (!(error instanceof CertificateError)) throw error;
      unread += 1;
      return [];
    }
  });
  return { read: items, unread };
}

/** From a whole ContentInfo, BER or DER. @throws CmsError */
export function readSignedData(bytes: Uint8Array): SignedData {
  const { kind, content } = readContentInfo(bytes);
  if (kind !== 'signed') throw new CmsError('unsupported');
  return reading(() => {
    const fields = fieldsOf(content);
    fields.next('integer');
    fields.next('set');
    const encapsulated = fieldsOf(fields.any());
    const contentType = oidOf(encapsulated.next('oid'));
    const inner = encapsulated.explicit(0);
    const carriedCertificates = fields.context(0)?.children ?? [];
    const carriedLists = fields.context(1)?.children ?? [];
    const signers = fields.next('set').children;
    fields.end();
    const most = signers.length === 0 ? MAX_BUNDLED : MAX_CERTIFICATES;
    if (signers.length > MAX_SIGNERS || carriedCertificates.length > most || carriedLists.length > MAX_CERTIFICATES)
      throw new CmsError('malformed');
    const certificates = carried(carriedCertificates, certificateOf);
    const lists = carried(carriedLists, ({ bytes: one }) => readRevocationList(one));
    return {
      contentType,
      content: inner === undefined ? undefined : octetsOf(inner),
      certificates: certificates.read,
      lists: lists.read,
      signers: signers.map(signerOf),
      unread: certificates.unread + lists.unread,
    };
  });
}

export type SignerCheck =
  /** Signed with this certificate's key, and unchanged since. */
  | {
      kind: 'signed';
      certificate: Certificate;
      hash: Hash;
      signingTime: Date | undefined;
      capabilities: readonly string[] | undefined;
      encryptionCertificate: HolderId | undefined;
    }
  /** The content is not what was signed. */
  | { kind: 'changed'; certificate: Certificate }
  /** The signature is not by this certificate's key, or contradicts itself. */
  | { kind: 'wrong'; certificate: Certificate }
  | { kind: 'unsupported'; certificate: Certificate | undefined }
  /** There is a signature, or what is left of one, and it can't be read or belongs to more than what is there. */
  | { kind: 'unreadable' }
  /** Nobody's certificate for it came along or is at hand. */
  | { kind: 'no-certificate'; id: HolderId };

/** The one value of an attribute that must have one. */
const only = (values: readonly Element[] | undefined): Element | undefined =>
  values?.length === 1 ? values[0] : undefined;

/** RFC 5035 §3: names the certificate meant, so that another one for the same key can't be put in its place. */
async function namesCertificate(attribute: Element, { bytes }: Certificate, version: 1 | 2): Promise<boolean> {
  const fields = fieldsOf(fieldsOf(attribute).next('sequence').children[0]);
  const algorithm = version === 2 ? fields.optional('sequence') : undefined;
  const hash = version === 1 ? 'SHA-1' : algorithm === undefined ? 'SHA-256' : hashNamed(algorithmOf(algorithm).oid);
  if (hash === undefined) return false;
  return (
    toHex(fields.next('octetString').content) ===
    toHex(new Uint8Array(await globalThis.crypto.subtle.digest(hash, bytes as Bytes)))
  );
}

function preferenceOf(element: Element | undefined): HolderId | undefined {
  // [0] IMPLICIT IssuerAndSerialNumber; the other two forms are not seen in use.
  if (element === undefined || !isContext(element, 0)) return undefined;
  return holderOf({ ...element, class: 'universal', tag: 16 });
}

/** Digests of one content, each made once. */
export class Digests {
  private readonly known = new Map<Hash, Promise<Bytes>>();
  constructor(private readonly content: Uint8Array) {}
  of(hash: Hash): Promise<Bytes> {
    const known =
      this.known.get(hash) ??
      globalThis.crypto.subtle.digest(hash, this.content as Bytes).then((digest) => new Uint8Array(digest));
    this.known.set(hash, known);
    return known;
  }
}

/** Where the signature says which certificate it goes with, it is this one (RFC 5035). */
async function namesNoOther(
  values: ReadonlyMap<string, readonly Element[]>,
  certificate: Certificate,
): Promise<boolean> {
  for (const [name, version] of [
    [ATTRIBUTE.signingCertificateV2, 2],
    [ATTRIBUTE.signingCertificate, 1],
  ] as const) {
    const named = only(values.get(name));
    if (named !== undefined && !(await namesCertificate(named, certificate, version))) return false;
  }
  return true;
}

async function checkOne(
  signer: SignerInfo,
  contentType: string,
  content: Uint8Array,
  digests: Digests,
  certificate: Certificate,
): Promise<SignerCheck> {
  const digest = hashNamed(signer.digest);
  const scheme = schemeOf(signer.algorithm, digest);
  if (digest === undefined || scheme === undefined) return { kind: 'unsupported', certificate };
  const { attributes } = signer;
  if (attributes === undefined) {
    // §5.3: without attributes only plain data may be signed, or one kind of content could be passed off as another.
    if (contentType !== CONTENT.data) return { kind: 'wrong', certificate };
    const checked = await checkSignature(scheme, certificate.publicKey, content, signer.signature);
    return checked === 'valid'
      ? {
          kind: 'signed',
          certificate,
          hash: digest,
          signingTime: undefined,
          capabilities: undefined,
          encryptionCertificate: undefined,
        }
      : { kind: checked === 'invalid' ? 'changed' : 'unsupported', certificate };
  }
  const type = only(attributes.values.get(ATTRIBUTE.contentType));
  const stated = only(attributes.values.get(ATTRIBUTE.messageDigest));
  if (!attributes.der || !is(type, 'oid') || oidOf(type) !== contentType || !is(stated, 'octetString'))
    return { kind: 'wrong', certificate };
  const checked = await checkSignature(scheme, certificate.publicKey, attributes.signed, signer.signature);
  if (checked !== 'valid') return { kind: checked === 'invalid' ? 'wrong' : 'unsupported', certificate };
  if (!(await namesNoOther(attributes.values, certificate))) return { kind: 'wrong', certificate };
  if (toHex(stated.content) !== toHex(await digests.of(digest))) return { kind: 'changed', certificate };
  const time = only(attributes.values.get(ATTRIBUTE.signingTime));
  const capabilities = only(attributes.values.get(ATTRIBUTE.capabilities));
  return {
    kind: 'signed',
    certificate,
    hash: digest,
    signingTime: time === undefined ? undefined : timeOf(time),
    capabilities: capabilities === undefined ? undefined : smimeCapabilities(capabilities),
    encryptionCertificate: preferenceOf(only(attributes.values.get(ATTRIBUTE.encryptionKeyPreference))),
  };
}

/**
 * Checks every signature over a content.
 * @param content The exact bytes signed; the data's own when it carries them.
 * @param known Certificates at hand besides those that came along.
 * @throws CmsError `malformed` when no content is given or carried
 */
export async function checkSigners(
  signed: SignedData,
  content: Uint8Array | undefined = signed.content,
  known: readonly Certificate[] = [],
): Promise<SignerCheck[]> {
  // Both given and not the same: one of the two would be shown and the other checked.
  if (
    content === undefined ||
    (signed.content !== undefined && content !== signed.content && !sameBytes(content, signed.content))
  )
    throw new CmsError('malformed');
  const digests = new Digests(content);
  const checks: SignerCheck[] = [];
  for (const signer of signed.signers) {
    const certificate = [...signed.certificates, ...known].find((one) => isHolder(signer.id, one));
    if (certificate === undefined) {
      checks.push({ kind: 'no-certificate', id: signer.id });
      continue;
    }
    try {
      checks.push(await checkOne(signer, signed.contentType, content, digests, certificate));
    } catch (error) {
      if (!(error instanceof Asn1Error) && !(error instanceof CmsError)) throw error;
      checks.push({ kind: 'wrong', certificate });
    }
  }
  return checks;
}
