/**
 * A message as OpenPGP mail: signed, encrypted, or both, by RFC 3156 with its header protected (RFC 9788); or, for
 * who can't read that, its text and each file as an armoured
 * message of its own.
 */
import { defined } from '../../defined';
import { type Bytes, utf8 } from '../../bytes';
import { base64Lines } from '../../message/base64';
import { headerFields, MIME_VERSION, multipart, type Part } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { distinctNames, safeFileName } from '../../file-name';
import { protectedPart, wholePart } from '../../message/protected';
import { armoured } from '../../openpgp/armour';
import { autocryptField } from '../../openpgp/discovery';
import { type OpenPgpKey, readOpenPgpKey } from '../../openpgp/key';
import { usableOpenPgpKeys } from '../../openpgp/usable';
import { type PrivateKey } from '../../openpgp/library';
import { sealMessage, signApart } from '../../openpgp/message';
import { type SealingMeans } from '../lock';
import { type OpenPgpMailForm } from '../../ways/mail-form';
import { type OpenPgpOrder } from './order';

export interface OpenPgpSealInput {
  message: MessageContent;
  /** Who signs; undefined for mail that is only encrypted. */
  signer: PrivateKey | undefined;
  /** Everybody it is encrypted to; empty for mail that is only signed. */
  recipients: readonly OpenPgpKey[];
  /** The sender's, for their own copy. */
  own?: OpenPgpKey | undefined;
  form: OpenPgpMailForm;
  /**
   * When it is signed and which keys are in force then: now, also where the message was begun before a key was made.
   */
  signedAt: Date;
  neutralSubject: string;
  /** The sender's own key, for who is to answer: in the Autocrypt field, as a file, or both. */
  carried?: { key: OpenPgpKey; field: boolean; file: boolean };
}

const boundaryOf = (prefix: string, { messageId }: MessageContent): string =>
  `${prefix}-${messageId.replace(/[^A-Za-z0-9]/g, '').slice(0, 40)}`;

function encryptedPart(sealed: Bytes, message: MessageContent): Part {
  const { headers, body } = multipart('encrypted', boundaryOf('e', message), [
    { headers: 'Content-Type: application/pgp-encrypted\r\n', body: [utf8('Version: 1\r\n')] },
    {
      headers:
        'Content-Type: application/octet-stream; name="encrypted.asc"\r\nContent-Disposition: inline; filename="encrypted.asc"\r\n',
      body: [armoured('MESSAGE', sealed)],
    },
  ]);
  return { headers: headers.replace(/\r\n$/, ';\r\n protocol="application/pgp-encrypted"\r\n'), body };
}

async function signedPart(part: Part, signer: PrivateKey, message: MessageContent, signedAt: Date): Promise<Part> {
  const { signature, micalg } = await signApart(wholePart(part), signer, signedAt);
  const { headers, body } = multipart('signed', boundaryOf('s', message), [
    part,
    {
      headers:
        'Content-Type: application/pgp-signature; name="signature.asc"\r\nContent-Disposition: attachment; filename="signature.asc"\r\n',
      body: [armoured('SIGNATURE', signature)],
    },
  ]);
  return {
    headers: headers.replace(/\r\n$/, `;\r\n protocol="application/pgp-signature";\r\n micalg=${micalg}\r\n`),
    body,
  };
}

/** The name says which key it is, and nothing of whose program made it. */
const keyFile = ({ fingerprint, bytes }: OpenPgpKey) => ({
  name: `openpgp-key-${fingerprint.slice(-16)}.asc`,
  type: 'application/pgp-keys',
  bytes: armoured('PUBLIC KEY BLOCK', bytes),
});

/** Text and files, each encrypted alone; the real subject heads the text, since nothing else protects it. */
async function asAttachments({ message, signer, recipients, own, signedAt }: OpenPgpSealInput): Promise<Part> {
  const seal = async (content: Bytes, fileName?: string): Promise<Bytes> =>
    armoured(
      'MESSAGE',
      await sealMessage(content, {
        signer,
        recipients,
        own,
        date: signedAt,
        ...defined({ fileName }),
      }),
    );
  const names = distinctNames(message.files.map(({ name }) => safeFileName(name)));
  const parts: Part[] = [
    {
      headers: 'Content-Type: text/plain; charset=us-ascii\r\nContent-Transfer-Encoding: 7bit\r\n',
      body: [await seal(utf8(`${message.subject}\r\n\r\n${message.text}`))],
    },
  ];
  for (const [index, { bytes }] of message.files.entries()) {
    // The name is sealed with the rest: outside stands a number.
    const outside = `file-${index + 1}.asc`;
    const named = await seal(bytes, names[index]!);
    parts.push({
      headers: `Content-Type: application/octet-stream; name="${outside}"\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment; filename="${outside}"\r\n`,
      body: [base64Lines(named)],
    });
  }
  return multipart('mixed', boundaryOf('m', message), parts);
}

/**
 * The whole mail as it leaves, RFC 5322 bytes. @throws HeaderInjectionError, OpenPgpError, RangeError when it would
 * neither be signed nor encrypted
 */
export async function sealForOpenPgp(input: OpenPgpSealInput): Promise<Bytes> {
  const { signer, recipients, own, form, signedAt, neutralSubject, carried } = input;
  if (signer === undefined && recipients.length === 0) throw new RangeError('A message without a lock');
  const message =
    carried?.file === true
      ? { ...input.message, files: [...input.message.files, keyFile(carried.key)] }
      : input.message;
  const encrypted = recipients.length > 0;
  const outer = headerFields(encrypted ? { ...message, subject: neutralSubject, reference: '' } : message);
  const field = carried?.field === true ? autocryptField(message.from.address, carried.key.bytes) : '';
  const head = `${outer.join('')}${field}${MIME_VERSION}`;
  if (encrypted && form === 'attachments') return wholePart(await asAttachments({ ...input, message }), head);
  const inside = protectedPart(message, encrypted ? 'cipher' : 'clear', outer);
  if (!encrypted) return wholePart(await signedPart(inside, signer!, message, signedAt), head);
  const sealed = await sealMessage(wholePart(inside), { signer, recipients, own, date: signedAt });
  return wholePart(encryptedPart(sealed, message), head);
}

/**
 * A copy as it was ordered: signed with the sender's key where there is one, encrypted to everybody's key and to the
 * sender's own. @throws OpenPgpError, RangeError when it would go neither signed nor encrypted
 */
export async function sealOpenPgpCopy(
  { recipients, form, neutralSubject }: OpenPgpOrder,
  message: MessageContent,
  { openPgpKeys, now }: SealingMeans,
): Promise<Bytes> {
  const kept = await openPgpKeys();
  const { address } = message.from;
  const signedAt = now();
  const [signer] = await usableOpenPgpKeys(kept, address, 'sign', signedAt);
  const [own] = await usableOpenPgpKeys(kept, address, 'encrypt', signedAt);
  const carried = signer?.value.carried ?? 'nothing';
  return sealForOpenPgp({
    message,
    signer: signer?.secret,
    recipients: recipients === 'clear' ? [] : await Promise.all(recipients.map(readOpenPgpKey)),
    own: own?.key,
    form,
    signedAt,
    neutralSubject,
    ...(signer === undefined || carried === 'nothing'
      ? {}
      : {
          carried: {
            key: signer.key,
            field: carried !== 'file',
            file: carried !== 'field' && recipients !== 'clear',
          },
        }),
  });
}
