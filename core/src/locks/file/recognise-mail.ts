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
import { type LockedKind, lockedKind } from './recognise';

const MOST_FILES = 100;

interface TextAndFiles {
  /** Nothing but letters: what it shows is what it says. */
  isPlain: boolean;
  files: Entity[];
}

const isPlainAndFormatted = (entity: Entity): boolean =>
  entity.contentType.type === 'multipart/alternative' &&
  partsOf(entity)
    .map((part) => readEntity(part).contentType.type)
    .join() === 'text/plain,text/html';

/** A text and files, and nothing else that a mail program could show. */
function textAndFilesIn(entity: Entity): TextAndFiles | undefined {
  if (entity.contentType.type !== 'multipart/mixed') return undefined;
  const [text, ...files] = partsOf(entity).map(readEntity);
  const isFile = (part: Entity): boolean => /^attachment\b/i.test(fieldNamed(part, 'content-disposition') ?? '');
  if (text === undefined || files.length === 0 || files.length > MOST_FILES || !files.every(isFile)) return undefined;
  const isPlain = text.contentType.type === 'text/plain';
  return isPlain || isPlainAndFormatted(text) ? { isPlain, files } : undefined;
}

/** Undefined for what is no such mail: among several files, one that is not locked is enough for that. */
export async function recogniseFileMail(
  mail: Entity,
  { sender, recipients, officeName, look, fileRules, template }: Leaving,
): Promise<Recognised | undefined> {
  const [recipient] = recipients;
  const parts = textAndFilesIn(mail);
  if (recipient === undefined || parts === undefined) return undefined;
  const { text, subject, files } = await readMessage(mail.bytes.slice());
  const [file] = files;
  if (file === undefined || files.length !== parts.files.length) return undefined;
  const kinds = parts.files.map((part) => lockedKind(decodedBody(part)));
  // A page that is not ours could show anything beside what it has sealed.
  const isOurs = (kind: LockedKind | undefined): kind is LockedKind =>
    kind !== undefined && (kind.template === undefined || kind.template === template);
  // What is only packed is one file beside its text: anything else is no mail of this lock.
  if (!kinds.every(isOurs)) return files.length === 1 ? { keeps: 'nothing', weak: false } : undefined;
  const isNeutral = LANGUAGES.some((language) => outerSubject(language, officeName, look) === subject);
  const isNote = isCover(text, {
    sender,
    recipient,
    officeName,
    fileName: file.name,
    container: kinds[0]!.container,
    templates: fileRules.templates,
  });
  const isAll = parts.isPlain && files.length === 1 && isNeutral && isNote;
  return {
    keeps: isAll ? 'all' : 'files',
    weak: kinds.some(({ legacy }) => legacy),
    containers: kinds.map(({ container }) => container),
  };
}
