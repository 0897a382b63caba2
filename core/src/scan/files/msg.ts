/**
 * Mail as one program keeps it ([MS-OXMSG]): a compound file in which each property is a stream named by its number and
 * type, attachments are storages, and a mail within it is a storage of the same form.
 */
import { decodeText } from '../../message/charset';
import { type Bytes } from '../../bytes';
import { type CompoundFile, readCompound } from './compound';

/** [MS-OXPROPS]: numbers of properties. */
const SUBJECT = '0037';
const BODY = '1000';
const HTML = '1013';
const RTF = '1009';
const DATA = '3701';
const LONG_NAME = '3707';
const SHORT_NAME = '3704';
const SHOWN_NAME = '3001';

export interface StoredMail {
  subject: string;
  text: string;
  html: string;
  /** Its text is there only in a form that is not read here. */
  isUnread: boolean;
  files: { name: string; bytes: Bytes }[];
  mails: { name: string; mail: StoredMail }[];
}

/** Mails within one another. */
const MOST_DEEP = 5;
const MOST_FILES = 500;

const looksLikeMsg = ({ streams }: Pick<CompoundFile, 'streams'>): boolean =>
  streams.includes('__properties_version1.0') && streams.some((path) => path.startsWith('__substg1.0_'));

/** A file with what lies directly in each of its storages, by the storage's path. */
interface Shelved {
  file: CompoundFile;
  within: ReadonlyMap<string, ReadonlySet<string>>;
}

function shelved(file: CompoundFile): Shelved {
  const within = new Map<string, Set<string>>();
  for (const path of file.streams) {
    let above = '';
    for (const name of path.split('/')) {
      const there = within.get(above) ?? new Set();
      within.set(above, there.add(name));
      above = `${above}${name}/`;
    }
  }
  return { file, within };
}

const NOTHING: ReadonlySet<string> = new Set();

function reader({ file, within }: Shelved, storage: string) {
  const there = within.get(storage) ?? NOTHING;
  const at = (property: string, type: string): string => `__substg1.0_${property}${type}`;
  const read = (name: string): Bytes => file.read(`${storage}${name}`);
  return {
    octets(property: string): Bytes | undefined {
      const name = at(property, '0102');
      return there.has(name) ? read(name) : undefined;
    },
    text(property: string): string {
      if (there.has(at(property, '001F'))) return decodeText(read(at(property, '001F')), 'utf-16le');
      return there.has(at(property, '001E')) ? decodeText(read(at(property, '001E')), undefined) : '';
    },
  };
}

function mailIn(all: Shelved, storage: string, depth: number): StoredMail {
  const own = reader(all, storage);
  const html = own.octets(HTML);
  const mail: StoredMail = {
    subject: own.text(SUBJECT),
    text: own.text(BODY),
    html: html === undefined ? own.text(HTML) : decodeText(html, undefined),
    isUnread: false,
    files: [],
    mails: [],
  };
  mail.isUnread = mail.text === '' && mail.html === '' && own.octets(RTF) !== undefined;
  const attached = [...(all.within.get(storage) ?? NOTHING)].filter((name) => name.startsWith('__attach_version1.0_'));
  for (const attachment of attached.sort().slice(0, MOST_FILES)) {
    const place = `${storage}${attachment}/`;
    const one = reader(all, place);
    const name = one.text(LONG_NAME) || one.text(SHORT_NAME) || one.text(SHOWN_NAME) || 'attachment';
    const bytes = one.octets(DATA);
    const within = `${place}__substg1.0_${DATA}000D/`;
    if (bytes !== undefined) mail.files.push({ name, bytes });
    else if (depth < MOST_DEEP && all.within.has(within))
      mail.mails.push({ name, mail: mailIn(all, within, depth + 1) });
    else mail.isUnread = true;
  }
  if (attached.length > MOST_FILES) mail.isUnread = true;
  return mail;
}

/** Undefined where it is a compound file of another kind. @throws CompoundError */
export function readMsg(bytes: Uint8Array): StoredMail | undefined {
  const file = readCompound(bytes);
  return looksLikeMsg(file) ? mailIn(shelved(file), '', 0) : undefined;
}
