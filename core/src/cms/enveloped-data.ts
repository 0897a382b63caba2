/** Encrypts for many and opens for one: enveloped data (RFC 5652 §6) and authenticated enveloped data (RFC 5083). */
import { Fields, fieldsOf, is, isContext } from '../asn1/fields';
import { type Element, octetsOf, oidOf } from '../asn1/read';
import {
  explicit,
  implicit,
  inPieces,
  integer,
  octetString,
  oid,
  sequence,
  sequenceInPieces,
  setOf,
} from '../asn1/write';
import { type Bytes, concat, type Pieces, randomBytes, toHex } from '../bytes';
import { type Algorithm, algorithmOf } from '../certificate/algorithm';
import { type Certificate } from '../certificate/certificate';
import {
  cipherOf,
  type Cipher,
  decrypt,
  encrypt,
  isAuthenticated,
  isOld,
  KEY_BYTES,
  type SealingCipher,
} from './ciphers';
import { contentInfoInPieces, type HolderId, holderId, holderOf, isHolder, readContentInfo } from './content-info';
import { CmsError, reading } from './errors';
import { type CipherName, CONTENT } from './identifiers';
import { unwrapByEc, wrapForEc } from './key-agreement';
import { type Transport, unwrapByRsa, wrapForRsa } from './key-transport';

export interface EnvelopeRecipient {
  certificate: Certificate;
  /** For RSA keys: OAEP where the other program is known to read it. */
  transport: Transport;
}

export const MAX_RECIPIENTS = 2000;

async function recipientInfo({ certificate, transport }: EnvelopeRecipient, contentKey: Bytes): Promise<Bytes> {
  const { publicKey } = certificate;
  if (publicKey.key.kind === 'rsa') {
    const { algorithm, encrypted } = await wrapForRsa(publicKey, contentKey, transport);
    return sequence(integer(0), holderId(certificate), algorithm, octetString(encrypted));
  }
  const { originator, algorithm, encrypted } = await wrapForEc(publicKey, contentKey);
  return implicit(
    1,
    concat(
      integer(3),
      explicit(0, originator),
      algorithm,
      sequence(sequence(holderId(certificate), octetString(encrypted))),
    ),
    true,
  );
}

/**
 * A whole ContentInfo in DER, opened by each recipient's private key. @throws CmsError `unsupported` for a key that
 * encrypts nothing; RangeError without recipients
 */
export async function envelopeInPieces(
  plain: Uint8Array,
  recipients: readonly EnvelopeRecipient[],
  cipher: SealingCipher,
): Promise<Pieces> {
  if (recipients.length === 0 || recipients.length > MAX_RECIPIENTS)
    throw new RangeError('One recipient at least, and no more than the limit');
  const contentKey = randomBytes(KEY_BYTES[cipher]);
  const infos: Bytes[] = [];
  for (const recipient of recipients) infos.push(await recipientInfo(recipient, contentKey));
  const { algorithm, body, tag } = await encrypt(cipher, contentKey, plain);
  contentKey.fill(0);
  const encrypted = sequenceInPieces(oid(CONTENT.data), algorithm, ...inPieces('context', 0, false, [body]));
  if (tag !== undefined)
    return contentInfoInPieces(
      'authEnveloped',
      ...sequenceInPieces(integer(0), setOf(...infos), ...encrypted, octetString(tag)),
    );
  // §6.1: version 2 as soon as somebody's key is agreed on.
  const version = recipients.some(({ certificate }) => certificate.publicKey.key.kind !== 'rsa') ? 2 : 0;
  return contentInfoInPieces('enveloped', ...sequenceInPieces(integer(version), setOf(...infos), ...encrypted));
}

/** In one piece. */
export const sealEnvelope = async (...given: Parameters<typeof envelopeInPieces>): Promise<Bytes> =>
  concat(...(await envelopeInPieces(...given)));

type KeyFor =
  | { kind: 'transport'; holder: HolderId; algorithm: Algorithm; encrypted: Uint8Array }
  | {
      kind: 'agreement';
      holder: HolderId;
      algorithm: Algorithm;
      originator: Element;
      ukm: Uint8Array | undefined;
      encrypted: Uint8Array;
    };

export interface Envelope {
  keys: readonly KeyFor[];
  contentType: string;
  cipher: Cipher;
  body: Uint8Array;
  tag: Uint8Array;
  additionalData: Uint8Array;
}

function agreed(element: Element): KeyFor[] {
  const fields = new Fields(element.children);
  fields.next('integer');
  const originator = fields.explicit(0);
  const ukmAt = fields.explicit(1);
  const algorithm = algorithmOf(fields.any());
  const keys = fields.next('sequence').children;
  // Only ephemeral keys: what is agreed on with the sender's own key (static-static) is not seen in mail.
  if (!isContext(originator, 1)) return [];
  return keys.map((one) => {
    const parts = fieldsOf(one);
    const holder = parts.any();
    const encrypted = octetsOf(parts.next('octetString'));
    const id: HolderId = isContext(holder, 0)
      ? { kind: 'key', id: toHex(new Fields(holder.children).next('octetString').content) }
      : holderOf(holder);
    return {
      kind: 'agreement',
      holder: id,
      algorithm,
      originator,
      ukm: ukmAt === undefined ? undefined : octetsOf(ukmAt),
      encrypted,
    };
  });
}

/** Kinds other than transport and agreement (passwords, keys agreed on before) hold nothing for a certificate. */
function keysOf(element: Element): KeyFor[] {
  if (isContext(element, 1)) return agreed(element);
  if (!is(element, 'sequence')) return [];
  const fields = fieldsOf(element);
  fields.next('integer');
  return [
    {
      kind: 'transport',
      holder: holderOf(fields.any()),
      algorithm: algorithmOf(fields.any()),
      encrypted: octetsOf(fields.next('octetString')),
    },
  ];
}

/** From a whole ContentInfo, BER or DER. @throws CmsError */
export function readEnvelope(bytes: Uint8Array): Envelope {
  const { kind, content } = readContentInfo(bytes);
  if (kind !== 'enveloped' && kind !== 'authEnveloped') throw new CmsError('unsupported');
  return reading(() => {
    const fields = fieldsOf(content);
    fields.next('integer');
    fields.context(0);
    const infos = fields.next('set').children;
    if (infos.length > MAX_RECIPIENTS) throw new CmsError('malformed');
    const encrypted = fieldsOf(fields.any());
    const contentType = oidOf(encrypted.next('oid'));
    const cipher = cipherOf(algorithmOf(encrypted.any()));
    const bodyAt = encrypted.context(0);
    if (bodyAt === undefined || isAuthenticated(cipher.name) !== (kind === 'authEnveloped'))
      throw new CmsError('malformed');
    const attributes = kind === 'authEnveloped' ? fields.context(1) : undefined;
    const tag = kind === 'authEnveloped' ? octetsOf(fields.next('octetString')) : new Uint8Array(0);
    // RFC 5083 §2.2: authenticated as a SET OF, sent under [1].
    const additionalData =
      attributes === undefined ? new Uint8Array(0) : concat(Uint8Array.of(0x31), attributes.bytes.subarray(1));
    return { keys: infos.flatMap(keysOf), contentType, cipher, body: octetsOf(bodyAt), tag, additionalData };
  });
}

export interface HeldKey {
  certificate: Certificate;
  /** PKCS#8. */
  privateKey: Uint8Array;
}

export interface Opened {
  content: Uint8Array;
  cipher: CipherName;
  /**
   * Changed bytes would have been noticed. Without it, nothing may be believed, loaded or followed that a signature
   * inside doesn't vouch for.
   */
  authenticated: boolean;
  /** An old cipher, to be said. */
  old: boolean;
  openedWith: Certificate;
}

/** @throws CmsError `not-for-us` when it is encrypted to none of these; `not-opened`; `unsupported` */
export async function openEnvelope(envelope: Envelope, held: readonly HeldKey[]): Promise<Opened> {
  const { keys, cipher, body, tag, additionalData } = envelope;
  const fitting = keys.flatMap((key) =>
    held.filter(({ certificate }) => isHolder(key.holder, certificate)).map((one) => ({ key, ...one })),
  );
  const [first] = fitting;
  if (first === undefined) throw new CmsError('not-for-us');
  const expected = KEY_BYTES[cipher.name];
  let failure: unknown;
  for (const { key, certificate, privateKey } of fitting) {
    try {
      const contentKey =
        key.kind === 'transport'
          ? await unwrapByRsa(
              privateKey,
              key.algorithm,
              key.encrypted,
              cipher.name === 'RC2-CBC' ? Math.max(5, Math.ceil(cipher.effectiveBits / 8)) : expected,
            )
          : await unwrapByEc(privateKey, key.algorithm, key.originator, key.ukm, key.encrypted);
      if (cipher.name !== 'RC2-CBC' && contentKey.length !== expected) throw new CmsError('not-opened');
      const content = await decrypt(cipher, contentKey, body, tag, additionalData);
      return {
        content,
        cipher: cipher.name,
        authenticated: isAuthenticated(cipher.name),
        old: isOld(cipher.name),
        openedWith: certificate,
      };
    } catch (error) {
      if (!(error instanceof CmsError)) throw error;
      failure = error;
    }
  }
  throw failure;
}
