/**
 * A locked file, or a mail under a certificate or key, as the next message would come, with nothing in it: whether it
 * opens here is seen before it is chosen.
 */
import { type Bytes, fromBase64Url } from '../bytes';
import { readCertificate } from '../certificate/certificate';
import { ALL_RIGHTS } from '../handling/handling';
import { type Language } from '../language';
import { sealForCertificates } from '../locks/certificate/seal';
import { type Materials, lockedFile } from '../locks/file/seal';
import { sealForOpenPgp } from '../locks/openpgp/seal';
import { type MessageContent } from '../message/content';
import { readOpenPgpKey } from '../openpgp/key';
import { type Container, OWN_EXTENSION, USUAL_WAY } from '../ways/file-way';
import { type OwnChoice } from './choice';

export interface Sample {
  container: Container;
  password: string;
  officeName: string;
  language: Language;
  subject: string;
  text: string;
  zone: string;
  now: Date;
}

export interface SampleMail extends Pick<Sample, 'officeName' | 'subject' | 'text' | 'now'> {
  choice: OwnChoice;
  address: string;
}

/** From nobody: it is never sent. */
const messageOf = ({
  officeName,
  subject,
  text,
  now,
}: Pick<Sample, 'officeName' | 'subject' | 'text' | 'now'>): MessageContent => ({
  messageId: 'sample@localhost',
  from: { name: officeName, address: 'sample@localhost' },
  to: [],
  cc: [],
  subject,
  date: now,
  reference: '',
  text,
  html: '',
  files: [],
});

/** @throws RangeError on a password that can't be used */
export async function sampleFile(
  { container, password, language, zone, ...said }: Sample,
  materials: Materials,
): Promise<{ name: string; bytes: Bytes }> {
  const message = messageOf(said);
  const bytes = await lockedFile({
    message,
    way: { ...USUAL_WAY, container },
    password,
    recipient: message.from,
    language,
    officeName: said.officeName,
    templates: {},
    storedTypes: [],
    zone,
    neutralSubject: said.subject,
    rights: ALL_RIGHTS,
    materials,
  });
  return { name: `sample.${OWN_EXTENSION[container]}`, bytes };
}

/** Encrypted to what they chose and signed by nobody: a file that their mail program opens. @throws CmsError, OpenPgpError */
export async function sampleMail({ choice, address, ...said }: SampleMail): Promise<{ name: string; bytes: Bytes }> {
  const message: MessageContent = { ...messageOf(said), to: [{ name: '', address }] };
  const common = { message, signer: undefined, neutralSubject: said.subject };
  const bytes =
    choice.way === 'certificate'
      ? await sealForCertificates({
          ...common,
          recipients: [{ certificate: readCertificate(fromBase64Url(choice.certificate)) }],
        })
      : await sealForOpenPgp({
          ...common,
          recipients: [await readOpenPgpKey(fromBase64Url(choice.key))],
          form: 'mime',
          signedAt: said.now,
        });
  return { name: 'sample.eml', bytes };
}
