/**
 * A message as S/MIME mail (RFC 8551): clear-signed, encrypted, or signed and then encrypted, with its header protected (RFC 9788): every field stands in the sealed payload,
 * and outside a neutral subject takes the real one's place.
 */
import { type Bytes, concat, utf8 } from '../../bytes';
import { type Certificate } from '../../certificate/certificate';
import { CIPHER, KEY_ENCRYPTION } from '../../cms/identifiers';
import { type EnvelopeRecipient, sealEnvelope } from '../../cms/enveloped-data';
import { signData, type Signer } from '../../cms/sign';
import { contentPart, headerFields, MIME_VERSION, multipart, type Part } from '../../message/build';
import { base64Lines } from '../../message/base64';
import { type MessageContent } from '../../message/content';

export interface KnownRecipient {
  certificate: Certificate;
  /** What their program reads, from a signed message or their certificate; undefined when nothing is known. */
  capabilities?: readonly string[] | undefined;
}

const reads = ({ capabilities = [], certificate }: KnownRecipient, algorithm: string): boolean => capabilities.includes(algorithm) || certificate.capabilities?.includes(algorithm) === true;

/** AES-256-GCM when everybody is known to read it, else the AES-256-CBC that every program of the last fifteen years reads (RFC 8551 §2.7). */
export const cipherFor = (recipients: readonly KnownRecipient[]): 'AES-256-GCM' | 'AES-256-CBC' =>
  recipients.every((recipient) => reads(recipient, CIPHER['AES-256-GCM'])) ? 'AES-256-GCM' : 'AES-256-CBC';

const transportFor = (recipient: KnownRecipient): EnvelopeRecipient['transport'] => (reads(recipient, KEY_ENCRYPTION.rsaOaep) ? 'oaep' : 'pkcs1');

export interface SealInput {
  message: MessageContent;
  /** Who signs; undefined for mail that is only encrypted. */
  signer: Signer | undefined;
  /** Everybody it is encrypted to, the sender among them; empty for mail that is only signed. */
  recipients: readonly KnownRecipient[];
  /** Stands outside in the subject's place when it is encrypted. */
  neutralSubject: string;
}

const withParameter = ({ headers, body }: Part, parameter: string): Part => ({ headers: headers.replace(/^(Content-Type: [^\r]*?;?(?:\r\n [^\r]*?;?)*)\r\n(?! )/, (_, type: string) => `${type.replace(/;$/, '')};\r\n ${parameter}\r\n`), body });

/** Payload with its header fields inside (RFC 9788 §2.1); `HP-Outer` says what stands outside, so that a changed outer field is noticed. */
function payload(message: MessageContent, protection: 'clear' | 'cipher', outer: readonly string[]): Part {
  const part = withParameter(contentPart(message), `hp="${protection}"`);
  const inner = headerFields(message);
  const stated = protection === 'cipher' ? outer.map((field) => `HP-Outer: ${field}`) : [];
  return { headers: `${inner.join('')}${stated.join('')}${part.headers}`, body: part.body };
}

const whole = ({ headers, body }: Part): Bytes => concat(utf8(`${headers}\r\n`), body);

const micalg = (certificate: Certificate): string => {
  const { key } = certificate.publicKey;
  return key.kind === 'ec' && key.curve === 'P-384' ? 'sha-384' : (key.kind === 'ec' && key.curve === 'P-521') || key.kind === 'ed25519' ? 'sha-512' : 'sha-256';
};

/** RFC 8551 §3.5.3: the part as it is, and beside it the signature over exactly its bytes. */
async function clearSigned(part: Part, signer: Signer, { messageId, date }: MessageContent): Promise<Part> {
  const content = whole(part);
  const signature = await signData({ content, signers: [signer], detached: true, signingTime: date });
  const boundary = `s-${messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40)}`;
  const beside: Part = {
    headers: 'Content-Type: application/pkcs7-signature; name="smime.p7s"\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename="smime.p7s"\r\n',
    body: base64Lines(signature),
  };
  const { headers, body } = multipart('signed', boundary, [part, beside]);
  return { headers: headers.replace(/\r\n$/, `;\r\n protocol="application/pkcs7-signature";\r\n micalg=${micalg(signer.certificate)}\r\n`), body };
}

/** The whole mail as it leaves, RFC 5322 bytes. @throws HeaderInjectionError, CmsError, RangeError when it would neither be signed nor encrypted */
export async function sealForCertificates({ message, signer, recipients, neutralSubject }: SealInput): Promise<Bytes> {
  if (signer === undefined && recipients.length === 0) throw new RangeError('A message without a lock');
  const encrypted = recipients.length > 0;
  const outer = headerFields(encrypted ? { ...message, subject: neutralSubject, reference: '' } : message);
  const inside = payload(message, encrypted ? 'cipher' : 'clear', outer);
  const signed = signer === undefined ? inside : await clearSigned(inside, signer, message);
  if (!encrypted) return concat(utf8(`${outer.join('')}${MIME_VERSION}`), whole(signed));
  const cipher = cipherFor(recipients);
  const sealed = await sealEnvelope(whole(signed), recipients.map((one) => ({ certificate: one.certificate, transport: transportFor(one) })), cipher);
  const type = cipher === 'AES-256-GCM' ? 'authEnveloped-data' : 'enveloped-data';
  const headers = `Content-Type: application/pkcs7-mime; smime-type=${type};\r\n name="smime.p7m"\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename="smime.p7m"\r\n`;
  return concat(utf8(`${outer.join('')}${MIME_VERSION}${headers}\r\n`), base64Lines(sealed));
}
