/** The scan thread: looks into what is being written, away from the page, and tells nobody but the page. */
import { type Bytes, fromBase64Url } from '@under-lock/core/bytes';
import { otherNamed } from '@under-lock/core/doubts/named';
import { openContent } from '@under-lock/core/locks/room/content';
import { type DraftFile } from '@under-lock/core/outgoing/draft';
import { type Correspondent } from '@under-lock/core/people/address';
import { type Seen, type SeenInFile, seenInFile, seenInMessage, type Written } from '@under-lock/core/scan/message';
import { type ReadPorts } from '@under-lock/core/scan/files/read';
import { type OfficePattern } from '@under-lock/core/scan/listed';
import { patternProblem, type PatternProblem } from '@under-lock/core/scan/patterns';
import { type OfficeFinder, officeFinder, type OfficeLists } from '@under-lock/core/scan/text';
import { TextWords } from '@under-lock/core/scan/text-words';
import { expose } from 'comlink';
import '../errors';
import { download } from '../transfer';
import { PictureReader, unpackApart } from './helpers';
import { pdfPieces } from './pdf';

/** The words of files that were looked through, of the last ones only. */
const wordsIn = new Map<string, TextWords>();
const MOST_KEPT = 100;
function keep(blobId: string, words: TextWords): void {
  wordsIn.delete(blobId);
  wordsIn.set(blobId, words);
  const [oldest] = wordsIn.keys();
  if (wordsIn.size > MOST_KEPT) wordsIn.delete(oldest!);
}

const stopping = new Map<string, AbortController>();
const thisYear = (): number => new Date().getFullYear();

/** As it lies on the disk where it was just chosen, else as it was sealed and kept. */
async function bytesOf({ blobId, key }: DraftFile, chosen: Blob | undefined): Promise<Bytes> {
  if (chosen !== undefined) return new Uint8Array(await chosen.arrayBuffer());
  return openContent(await download(blobId), fromBase64Url(key.key));
}

/** What finds the office's own words and patterns, as it was last asked for. */
let finder: { spelled: string; office: OfficeFinder } | undefined;
function about(lists: OfficeLists): { thisYear: number; office: OfficeFinder } {
  const spelled = JSON.stringify(lists);
  if (finder?.spelled !== spelled) finder = { spelled, office: officeFinder(lists) };
  return { thisYear: thisYear(), office: finder.office };
}

const portsFor = (pictures: PictureReader | undefined): ReadPorts => ({
  pdf: (file) => pdfPieces(file, pictures && ((picture) => pictures.read(picture))),
  unpack: unpackApart,
  ...(pictures === undefined ? {} : { picture: (bytes) => pictures.readBytes(bytes) }),
});

const scan = {
  message: (written: Written, lists: OfficeLists): Promise<Seen[]> => seenInMessage(written, about(lists)),
  /** What is the matter with a pattern that an administrator writes; undefined for one that can be taken. */
  patternProblem: (one: Pick<OfficePattern, 'pattern' | 'exact'>): PatternProblem | undefined => patternProblem(one),
  /**
   * @param told How many of its pieces have been looked through.
   * @param toldPicture Where given, pictures are read, too: which one is being read.
   * @throws ApiProblem
   */
  async file(
    file: DraftFile,
    chosen: Blob | undefined,
    lists: OfficeLists,
    told: (pieces: number) => void,
    toldPicture?: (picture: number) => void,
  ): Promise<SeenInFile> {
    const control = new AbortController();
    stopping.set(file.blobId, control);
    const pictures = toldPicture === undefined ? undefined : new PictureReader(toldPicture);
    control.signal.addEventListener('abort', () => pictures?.stop());
    try {
      const bytes = await bytesOf(file, chosen);
      const words = new TextWords();
      const seen = await seenInFile({ name: file.name, bytes }, about(lists), {
        ports: portsFor(pictures),
        told,
        signal: control.signal,
        words,
      });
      keep(file.blobId, words);
      return seen;
    } finally {
      stopping.delete(file.blobId);
      pictures?.stop();
    }
  },
  /** Of whom each of these files speaks instead of those that get it (`otherNamed`); undefined where of nobody. */
  others: (
    blobIds: readonly string[],
    known: readonly Correspondent[],
    recipients: readonly Correspondent[],
    mailDomain: string,
  ): (Correspondent | undefined)[] =>
    blobIds.map((blobId) => {
      const words = wordsIn.get(blobId);
      return words && otherNamed(words, known, recipients, mailDomain);
    }),
  /** What is nobody's draft: an example that rules are tried on. */
  bytes: (file: { name: string; bytes: Bytes }, lists: OfficeLists): Promise<SeenInFile> =>
    seenInFile(file, about(lists), { ports: portsFor(undefined) }),
  stop: (blobId: string): void => stopping.get(blobId)?.abort(),
};
export type ScanDoor = typeof scan;

expose(scan);
