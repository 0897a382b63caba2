/** A locked file as the next message would come, with nothing in it: whether it opens here is seen before it is chosen. */
import { type Bytes } from '../bytes';
import { ALL_RIGHTS } from '../handling/handling';
import { type Language } from '../language';
import { type Materials, lockedFile } from '../locks/file/seal';
import { type Container, OWN_EXTENSION, USUAL_WAY } from '../ways/file-way';

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

/** @throws RangeError on a password that can't be used */
export async function sampleFile(
  { container, password, officeName, language, subject, text, zone, now }: Sample,
  materials: Materials,
): Promise<{ name: string; bytes: Bytes }> {
  // Nobody's: it is never sent.
  const nobody = { name: officeName, address: 'sample@localhost' };
  const bytes = await lockedFile({
    message: {
      messageId: 'sample@localhost',
      from: nobody,
      to: [],
      cc: [],
      subject,
      date: now,
      reference: '',
      text,
      html: '',
      files: [],
    },
    way: { ...USUAL_WAY, container },
    password,
    recipient: nobody,
    language,
    officeName,
    templates: {},
    storedTypes: [],
    zone,
    neutralSubject: subject,
    rights: ALL_RIGHTS,
    materials,
  });
  return { name: `sample.${OWN_EXTENSION[container]}`, bytes };
}
