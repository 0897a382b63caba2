/**
 * A copy that is a mail around a locked file, judged by its octets: what is inside nobody here can read, and what
 * stands beside is the office's own note or, where the handling
 * lets the text stay readable, whatever the sender wrote.
 */
import { isCover } from '@under-lock/core/locks/file/cover';
import { lockedKind } from '@under-lock/core/locks/file/recognise';
import { type FileRules } from '@under-lock/core/locks/file/rules';
import { outerSubject } from '@under-lock/core/notice/notice';
import { type NoticeLook } from '@under-lock/core/notice/look';
import { decodedBody, type Entity, fieldNamed, partsOf, readEntity } from '@under-lock/core/message/entity';
import { readMessage } from '@under-lock/core/message/read';
import { LANGUAGES } from '@under-lock/core/people/language';
import { type Correspondent } from '@under-lock/core/people/address';

/** `locked`: all of it. `text-open`: the files are, and the text can be read. `packed`: nothing is. */
export type FileSeal = 'locked' | 'text-open' | 'packed';

export interface AboutFile {
  sender: Correspondent;
  recipient: Correspondent;
  officeName: string;
  look: NoticeLook;
  rules: FileRules;
  /** The self-opening page as this server gives it out, without its content. */ template: string;
}

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

/** Undefined for what is no such mail. `legacy`: only the weak cipher locks it. */
export async function fileSealOf(
  entity: Entity,
  { sender, recipient, officeName, look, rules, template }: AboutFile,
): Promise<{ seal: FileSeal; legacy: boolean } | undefined> {
  if (!isTextAndFile(entity)) return undefined;
  const { text, subject, files } = await readMessage(entity.bytes.slice());
  const [file] = files;
  if (file === undefined || files.length !== 1) return undefined;
  const bytes = decodedBody(readEntity(partsOf(entity)[1]!));
  const kind = lockedKind(bytes);
  // A page that is not ours could show anything beside what it has sealed.
  if (kind === undefined || (kind.template !== undefined && kind.template !== template))
    return { seal: 'packed', legacy: false };
  const isNeutral = LANGUAGES.some((language) => outerSubject(language, officeName, look) === subject);
  const isNote = isCover(text, {
    sender,
    recipient,
    officeName,
    fileName: file.name,
    container: kind.container,
    templates: rules.templates,
  });
  return { seal: isNeutral && isNote ? 'locked' : 'text-open', legacy: kind.legacy };
}
