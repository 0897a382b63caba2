/**
 * A mail around a locked file, judged by its octets: what is inside nobody but its readers can open, and what stands
 * beside is the office's own note or, where the handling lets the text stay readable, whatever the sender wrote.
 */
import { outerSubject } from '../../notice/notice';
import { decodedBody, type Entity, fieldNamed, partsOf, readEntity } from '../../message/entity';
import { readMessage } from '../../message/read';
import { LANGUAGES } from '../../language';
import { type Leaving, type Recognised } from '../lock';
import { isCover } from './cover';
import { lockedKind } from './recognise';

/** A text and one file, and nothing else that a mail program could show. */
function isTextAndFile(entity: Entity): boolean {
  if (entity.contentType.type !== 'multipart/mixed') return false;
  const parts = partsOf(entity).map(readEntity);
  return (
    parts.length === 2 &&
    parts[0]!.contentType.type === 'text/plain' &&
    /^attachment\b/i.test(fieldNamed(parts[1]!, 'content-disposition') ?? '')
  );
}

/** Undefined for what is no such mail. */
export async function recogniseFileMail(
  mail: Entity,
  { sender, recipients, officeName, look, fileRules, template }: Leaving,
): Promise<Recognised | undefined> {
  const [recipient] = recipients;
  if (recipient === undefined || !isTextAndFile(mail)) return undefined;
  const { text, subject, files } = await readMessage(mail.bytes.slice());
  const [file] = files;
  if (file === undefined || files.length !== 1) return undefined;
  const kind = lockedKind(decodedBody(readEntity(partsOf(mail)[1]!)));
  // A page that is not ours could show anything beside what it has sealed.
  if (kind === undefined || (kind.template !== undefined && kind.template !== template))
    return { keeps: 'nothing', weak: false };
  const isNeutral = LANGUAGES.some((language) => outerSubject(language, officeName, look) === subject);
  const isNote = isCover(text, {
    sender,
    recipient,
    officeName,
    fileName: file.name,
    container: kind.container,
    templates: fileRules.templates,
  });
  return { keeps: isNeutral && isNote ? 'all' : 'files', weak: kind.legacy };
}
