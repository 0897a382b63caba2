/**
 * A message as S/MIME mail (RFC 8551): clear-signed, encrypted, or signed and then encrypted, with its header
 * protected (RFC 9788): every field stands in the sealed payload,
 * and outside a neutral subject takes the real one's place.
 */
import { type Bytes, fromBase64Url, utf8 } from '../../bytes';
import { type Certificate, readCertificate } from '../../certificate/certificate';
import { CIPHER, KEY_ENCRYPTION } from '../../cms/identifiers';
import { envelopeInPieces, type EnvelopeRecipient } from '../../cms/enveloped-data';
import { signData, type Signer } from '../../cms/sign';
import { headerFields, MIME_VERSION, multipart, type Part } from '../../message/build';
import { protectedPart, wholePart } from '../../message/protected';
import { base64Lines, base64LinesOf } from '../../message/base64';
import { type MessageContent } from '../../message/content';
import { usableCertificates } from '../../certificate/usable';
import { type SealingMeans } from '../lock';
import { type CertificateOrder } from './order';

export interface KnownRecipient {
  certificate: Certificate;
  /** What their program reads, from a signed message or their certificate; undefined when nothing is known. */
  capabilities?: readonly string[] | undefined;
}

const reads = ({ capabilities = [], certificate }: KnownRecipient, algorithm: string): boolean =>
  capabilities.includes(algorithm) || certificate.capabilities?.includes(algorithm) === true;

/**
 * AES-256-GCM when everybody is known to read it, else the AES-256-CBC that every program of the last fifteen years
 * reads (RFC 8551 §2.7).
 */
export const cipherFor = (recipients: readonly KnownRecipient[]): 'AES-256-GCM' | 'AES-256-CBC' =>
  recipients.every((recipient) => reads(recipient, CIPHER['AES-256-GCM'])) ? 'AES-256-GCM' : 'AES-256-CBC';

const transportFor = (recipient: KnownRecipient): EnvelopeRecipient['transport'] =>
  reads(recipient, KEY_ENCRYPTION.rsaOaep) ? 'oaep' : 'pkcs1';

export interface SealInput {
  message: MessageContent;
  /** Who signs; undefined for mail that is only encrypted. */
  signer: Signer | undefined;
  /** Everybody it is encrypted to, the sender among them; empty for mail that is only signed. */
  recipients: readonly KnownRecipient[];
  /** Stands outside in the subject's place when it is encrypted. */
  neutralSubject: string;
}

const micalg = (certificate: Certificate): string => {
  const { key } = certificate.publicKey;
  return key.kind === 'ec' && key.curve === 'P-384'
    ? 'sha-384'
    : (key.kind === 'ec' && key.curve === 'P-521') || key.kind === 'ed25519'
      ? 'sha-512'
      : 'sha-256';
};

/** RFC 8551 §3.5.3: the part as it is, and beside it the signature over exactly its bytes. */
async function clearSigned(part: Part, signer: Signer, { messageId, date }: MessageContent): Promise<Part> {
  const content = wholePart(part);
  const signature = await signData({ content, signers: [signer], detached: true, signingTime: date });
  const boundary = `s-${messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40)}`;
  const beside: Part = {
    headers:
      'Content-Type: application/pkcs7-signature; name="smime.p7s"\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename="smime.p7s"\r\n',
    body: [base64Lines(signature)],
  };
  const { headers, body } = multipart('signed', boundary, [part, beside]);
  return {
    headers: headers.replace(
      /\r\n$/,
      `;\r\n protocol="application/pkcs7-signature";\r\n micalg=${micalg(signer.certificate)}\r\n`,
    ),
    body,
  };
}

/**
 * The whole mail as it leaves, RFC 5322 bytes. @throws HeaderInjectionError, CmsError, RangeError when it would neither
 * be signed nor encrypted
 */
export async function sealForCertificates({ message, signer, recipients, neutralSubject }: SealInput): Promise<Bytes> {
  if (signer === undefined && recipients.length === 0) throw new RangeError('A message without a lock');
  const encrypted = recipients.length > 0;
  const outer = headerFields(encrypted ? { ...message, subject: neutralSubject, reference: '' } : message);
  const inside = protectedPart(message, encrypted ? 'cipher' : 'clear', outer);
  const signed = signer === undefined ? inside : await clearSigned(inside, signer, message);
  const head = `${outer.join('')}${MIME_VERSION}`;
  if (!encrypted) return wholePart(signed, head);
  const cipher = cipherFor(recipients);
  const sealed = await envelopeInPieces(
    wholePart(signed),
    recipients.map((one) => ({ certificate: one.certificate, transport: transportFor(one) })),
    cipher,
  );
  const type = cipher === 'AES-256-GCM' ? 'authEnveloped-data' : 'enveloped-data';
  const headers = `Content-Type: application/pkcs7-mime; smime-type=${type};\r\n name="smime.p7m"\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename="smime.p7m"\r\n`;
  return base64LinesOf(sealed, utf8(`${head}${headers}\r\n`));
}

/**
 * A copy as it was ordered: signed with the sender's key where there is one, encrypted to everybody's certificate and
 * to the sender's own. @throws CmsError, RangeError when it would go neither signed nor encrypted
 */
export async function sealCertificateCopy(
  { recipients, neutralSubject }: CertificateOrder,
  message: MessageContent,
  { certificates }: SealingMeans,
): Promise<Bytes> {
  const kept = await certificates();
  const { address } = message.from;
  const [signer] = usableCertificates(kept, address, 'sign', message.date);
  const [own] = usableCertificates(kept, address, 'encrypt', message.date);
  const known: KnownRecipient[] =
    recipients === 'clear'
      ? []
      : [
          ...recipients.map(({ certificate, capabilities }) => ({
            certificate: readCertificate(certificate),
            capabilities,
          })),
          ...(own === undefined ? [] : [{ certificate: own.certificate, capabilities: own.certificate.capabilities }]),
        ];
  return sealForCertificates({
    message,
    recipients: known,
    neutralSubject,
    signer:
      signer === undefined
        ? undefined
        : {
            certificate: signer.certificate,
            privateKey: fromBase64Url(signer.value.privateKey),
            chain: signer.value.chain.map((one) => readCertificate(fromBase64Url(one))),
          },
  });
}
