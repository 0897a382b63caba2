/**
 * A message as a mail around a locked file: a note that says how to open it, and the file. The text is inside with the
 * files, or stays readable where the handling lets it.
 */
import { type Bytes } from '../../bytes';
import { escapeHtml } from '../../escape-html';
import { buildMessage } from '../../message/build';
import { type MessageContent } from '../../message/content';
import { type Correspondent } from '../../people/address';
import { type Language } from '../../language';
import { writeZip } from '../../zip/write';
import { type Rights } from '../../handling/handling';
import { type Paper, type PaperFonts } from '../../pdf/setter';
import { contentsOf } from './contents';
import { coverText, coverWords } from './cover';
import { type CoverTemplates } from './cover-rules';
import { setLetter } from './letter';
import { isPackedAlready, lockedFileName } from './name';
import { sealPage } from './page/seal-page';
import { lockedKind } from './recognise';
import { type FileWay, MEDIA_TYPE, OWN_EXTENSION } from '../../ways/file-way';

export interface FileSealInput {
  message: MessageContent;
  way: FileWay;
  /** Undefined for files that are only packed. */
  password: string | undefined;
  /** Files that are locked already, by nothing weaker, go along beside it as they are. */
  lockedStay?: boolean;
  recipient: Correspondent;
  language: Language;
  officeName: string;
  templates: CoverTemplates;
  /** File types that are packed without compression besides those that never get smaller. */
  storedTypes: readonly string[];
  zone: string;
  /** What stands in the place of the subject when that is locked away. */
  neutralSubject: string;
  /** A PDF's rights flags follow it. */
  rights: Rights;
  materials: Materials;
}

/** What a container is made of besides the message; fetched by who seals. */
export interface Materials {
  fonts: () => Promise<PaperFonts>;
  paper: Paper;
  /** The self-opening page without its content. */
  template: () => Promise<string>;
}

/** Names are readable in the directory of a ZIP: packed once more they are as locked as the rest. */
const CONTENTS = 'contents.zip';

async function lockedZip({
  message,
  way,
  password,
  language,
  zone,
  storedTypes,
  materials: { fonts, paper },
}: FileSealInput): Promise<Bytes> {
  const settings = { language, zone };
  const letter = async (): Promise<Bytes> =>
    setLetter({
      message,
      scope: 'everything',
      settings,
      fonts: await fonts(),
      paper,
      lock: undefined,
      withFiles: false,
    });
  const files = await contentsOf(message, way, settings, letter);
  const lock = password === undefined ? undefined : { cipher: way.cipher, password };
  const isPacked = (name: string): boolean => isPackedAlready(name, storedTypes);
  if (lock === undefined || !way.hideNames) return writeZip({ files, lock, date: message.date, isPacked });
  const inner = await writeZip({ files, lock: undefined, date: message.date, isPacked });
  return writeZip({ files: [{ name: CONTENTS, bytes: inner }], lock, date: message.date, isPacked: () => true });
}

/** The locked file by itself, without the mail around it. @throws RangeError on a password that can't be used */
export async function lockedFile(input: FileSealInput): Promise<Bytes> {
  const {
    message,
    way,
    password,
    language,
    zone,
    rights,
    materials: { fonts, paper, template },
  } = input;
  if (way.container === 'zip' || password === undefined) return lockedZip(input);
  const settings = { language, zone };
  if (way.container === 'page') return sealPage(message, password, way.scope, settings, await template());
  return setLetter({
    message,
    scope: way.scope,
    settings,
    fonts: await fonts(),
    paper,
    lock: { password, rights },
    withFiles: true,
  });
}

/** A page that is not ours may show what it likes; a cipher that is broken is no lock. */
function isLockedWell(bytes: Bytes): boolean {
  const kind = lockedKind(bytes);
  return kind !== undefined && kind.template === undefined && !kind.legacy;
}

const withNote = (text: string, note: string): string =>
  text.trim() === '' ? note : `${text.trimEnd()}\n\n--\n${note}`;

/**
 * The whole mail as it leaves, RFC 5322 bytes. @throws HeaderInjectionError, RangeError on a password that can't be
 * used, or when nothing would be locked
 */
export async function sealInFile(input: FileSealInput): Promise<Bytes> {
  const { password, recipient, language, officeName, templates, zone, neutralSubject } = input;
  const way = password === undefined ? { ...input.way, container: 'zip' as const, scope: 'files' as const } : input.way;
  const stay = input.lockedStay === true ? input.message.files.filter(({ bytes }) => isLockedWell(bytes)) : [];
  const message = { ...input.message, files: input.message.files.filter((file) => !stay.includes(file)) };
  if (way.scope === 'files' && message.files.length === 0) throw new RangeError('No file to lock');
  const name = lockedFileName(way, { date: message.date, zone, reference: message.reference });
  const { from: sender } = message;
  const note =
    password === undefined
      ? coverWords(language).packed
      : coverText({
          sender,
          recipient,
          officeName,
          fileName: name,
          container: way.container,
          telling: way.telling,
          language,
          templates,
        });
  const isOpen = way.scope === 'files';
  const bytes = await lockedFile({ ...input, message, way });
  return buildMessage({
    ...message,
    subject: isOpen ? message.subject : neutralSubject,
    reference: isOpen ? message.reference : '',
    text: isOpen ? withNote(message.text, note) : note,
    html: isOpen && message.html !== '' ? `${message.html}<hr><p>${escapeHtml(note).replace(/\n/g, '<br>')}</p>` : '',
    files: [
      {
        name,
        bytes,
        type: name.endsWith(`.${OWN_EXTENSION[way.container]}`)
          ? MEDIA_TYPE[way.container]
          : 'application/octet-stream',
      },
      ...stay,
    ],
  });
}
