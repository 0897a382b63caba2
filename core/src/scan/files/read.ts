/**
 * What is inside a file, as pieces of text with their places; a file that can't be looked into, or not as far as it goes,
 * is a piece that says so. Nothing is thrown for what a file is: whoever sends it has made it so.
 */
import { type Bytes } from '../../bytes';
import { decodeText } from '../../message/charset';
import { readMessage } from '../../message/read';
import { looksLikeZip, readDirectory } from '../../zip/directory';
import { ZipError, type ZipErrorCode } from '../../zip/errors';
import { unzip } from '../../zip/read';
import { looksLikeCompound } from './compound';
import { saidIn, wordsOfHtml } from './html';
import { readMsg, type StoredMail } from './msg';
import { officeKind, readOffice } from './office';
import { isUnread, type Piece, type Place, TooLongError, type Unread } from './piece';
import { looksLikeRtf, wordsOfRtf } from './rtf';
import { charsetOf, isArchive, isText, looksLikeMail, mimeOf, startsWith } from './signs';

export interface FileToScan {
  name: string;
  bytes: Bytes;
}

/** What the scan can't do by itself. */
export interface ReadPorts {
  /** A PDF's pages and forms, in their order; `locked` and `damaged` as they are found. */
  pdf?: (file: FileToScan) => AsyncIterable<Piece>;
  /** Files of an archive that is no ZIP. @throws ZipError */
  unpack?: (archive: FileToScan) => Promise<FileToScan[]>;
  /** The words in a picture; undefined for one more than are read. Only where somebody asked for it. */
  picture?: (bytes: Bytes) => Promise<string | undefined>;
}

export interface ReadLimits {
  /** Archives within archives, mails within mails. */
  depth: number;
  /** Files in all archives together. */
  files: number;
  /** UTF-16 units of all text together. */
  text: number;
}
export const READ_LIMITS: ReadLimits = { depth: 5, files: 2_000, text: 40_000_000 };

class Reading {
  private filesSeen = 0;
  private textSeen = 0;

  constructor(
    private readonly ports: ReadPorts,
    private readonly limits: ReadLimits,
  ) {}

  async *file({ name, bytes }: FileToScan, above: readonly string[] = []): AsyncGenerator<Piece> {
    const files = [...above, name];
    const place = { files };
    this.filesSeen += 1;
    if (this.filesSeen > this.limits.files) return yield { place, unread: 'too-large' };
    if (above.length > this.limits.depth) return yield { place, unread: 'too-deep' };
    try {
      for await (const piece of this.inside({ name, bytes }, files)) {
        if (!isUnread(piece)) this.textSeen += piece.text.length;
        if (this.textSeen > this.limits.text) return yield { place, unread: 'too-long' };
        if (isUnread(piece) || piece.text.trim() !== '') yield piece;
      }
    } catch (error) {
      yield { place, unread: whyNot(error) };
    }
  }

  private async *inside({ name, bytes }: FileToScan, files: readonly string[]): AsyncGenerator<Piece> {
    const place = { files };
    if (looksLikeZip(bytes)) return yield* this.archive(bytes, files);
    if (startsWith(bytes, '%PDF-')) return yield* this.pdf({ name, bytes }, files);
    if (looksLikeRtf(bytes)) return yield { place, text: wordsOfRtf(bytes) };
    if (looksLikeCompound(bytes)) return yield* this.stored(readMsg(bytes), files);
    const mime = await mimeOf(bytes);
    if (mime?.startsWith('image/') === true) return yield await this.picture(bytes, place);
    if (mime !== undefined && isArchive(mime)) return yield* this.unpacked({ name, bytes }, files);
    if (!isText(bytes)) return yield { place, unread: 'unknown' };
    if (/\.eml$/i.test(name) || looksLikeMail(bytes)) return yield* this.mail(bytes, files);
    const text = decodeText(bytes, charsetOf(bytes));
    yield {
      place,
      text: /\.x?html?$/i.test(name) || /^\s{0,200}<(?:!doctype html|html)/i.test(text) ? wordsOfHtml(text) : text,
    };
  }

  private async *pdf(file: FileToScan, files: readonly string[]): AsyncGenerator<Piece> {
    if (this.ports.pdf === undefined) return yield { place: { files }, unread: 'unknown' };
    for await (const piece of this.ports.pdf(file)) yield { ...piece, place: { ...piece.place, files } };
  }

  private async *archive(bytes: Bytes, files: readonly string[]): AsyncGenerator<Piece> {
    const paths = readDirectory(bytes).map(({ name }) => name);
    const kind = officeKind(paths);
    const entries = await unzip(bytes, undefined, (path) => kind === undefined || /\.xml$|\.rels$/i.test(path));
    if (kind !== undefined) return yield* readOffice(files, kind, entries, this.limits.text - this.textSeen);
    for (const entry of entries) yield* this.file(entry, files);
  }

  private async *unpacked(archive: FileToScan, files: readonly string[]): AsyncGenerator<Piece> {
    if (this.ports.unpack === undefined) return yield { place: { files }, unread: 'unknown' };
    for (const file of await this.ports.unpack(archive)) yield* this.file(file, files);
  }

  private async picture(bytes: Bytes, place: Place): Promise<Piece> {
    const text = await this.ports.picture?.(bytes);
    return text === undefined ? { place, unread: 'picture' } : { place: { ...place, part: 'picture' }, text };
  }

  /** A mail as one program keeps it; old office files lie in the same container and are not read. */
  private async *stored(mail: StoredMail | undefined, files: readonly string[]): AsyncGenerator<Piece> {
    if (mail === undefined || mail.isUnread) yield { place: { files }, unread: 'unknown' };
    if (mail === undefined) return;
    yield { place: { files, part: 'header' }, text: mail.subject };
    yield { place: { files }, text: saidIn(mail) };
    for (const file of mail.files) yield* this.file(file, files);
    for (const { name, mail: within } of mail.mails) yield* this.stored(within, [...files, name]);
  }

  private async *mail(bytes: Bytes, files: readonly string[]): AsyncGenerator<Piece> {
    const mail = await readMessage(bytes);
    yield { place: { files, part: 'header' }, text: mail.subject };
    yield { place: { files }, text: saidIn(mail) };
    for (const file of mail.files) yield* this.file({ name: file.name, bytes: file.bytes }, files);
  }
}

/** In the order of the file. Stops by itself at the limits; whoever stops asking stops it. */
export const readFile = (
  file: FileToScan,
  ports: ReadPorts = {},
  limits: ReadLimits = READ_LIMITS,
): AsyncGenerator<Piece> => new Reading(ports, limits).file(file);

const ZIP_UNREAD: Record<ZipErrorCode, Unread> = {
  locked: 'locked',
  'wrong-password': 'locked',
  'too-large': 'too-large',
  unsupported: 'unknown',
  malformed: 'damaged',
};

function whyNot(error: unknown): Unread {
  if (error instanceof ZipError) return ZIP_UNREAD[error.code];
  return error instanceof TooLongError ? 'too-long' : 'damaged';
}
