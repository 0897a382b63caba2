/** What the scan sees in a message's head and text, and in its files, each finding with its place and what stands around. */
import { type Bytes, sha256, toHex, utf8 } from '../bytes';
import { type Finding } from './finding';
import { type FileKind } from '../rules/facts';
import { fileKind } from './files/kind';
import { isUnread, type Place, type UnreadPiece } from './files/piece';
import { type FileToScan, readFile, type ReadPorts } from './files/read';
import { type OfficeFinder, scanText } from './text';
import { type TextWords } from './text-words';

export type Where =
  | { in: 'subject' }
  | { in: 'text' }
  | { in: 'name'; file: string }
  | ({ in: 'file'; cell?: string; line?: number } & Place);

export interface Seen extends Finding {
  /** The same for the same value of the same kind: what was called harmless once is so wherever it stands in a draft. */
  id: string;
  where: Where;
  /** What stands before and behind it, for whoever looks at the place. Never leaves the sender's browser. */
  around: { before: string; value: string; after: string };
}

export interface SeenInFile {
  seen: Seen[];
  unread: UnreadPiece[];
  /** There is more than is told. */
  more: boolean;
  kind: FileKind;
  /** It asks for a password itself. */
  isLocked: boolean;
}

/** Nobody goes through more of one file. */
const MOST_OF_ONE = 200;
const AROUND = 60; // characters
const MOST_SHOWN = 120;

const idOf = async ({ of }: Finding, value: string): Promise<string> =>
  `${of}:${toHex(await sha256(utf8(value.replace(/[\s.-]+/g, '').toLowerCase()))).slice(0, 16)}`;

const oneLine = (text: string): string => text.replace(/\s+/g, ' ');

/** What stands before and behind, in whole words; “…” where there is more of it. */
function aroundOf(text: string, { from, to }: Finding): Seen['around'] {
  const [begin, end] = [Math.max(0, from - AROUND), to + AROUND];
  const before = text.slice(begin, from);
  const value = text.slice(from, to);
  const after = text.slice(to, end);
  return {
    before: oneLine(begin === 0 ? before : before.replace(/^(?:\S*\s)?/, '… ')),
    value: oneLine(value.length > MOST_SHOWN ? `${value.slice(0, MOST_SHOWN)}…` : value),
    after: oneLine(end >= text.length ? after : after.replace(/(?:\s\S*)?$/, ' …')),
  };
}

async function seenIn(text: string, findings: readonly Finding[], where: (finding: Finding) => Where): Promise<Seen[]> {
  return Promise.all(
    findings.map(async (finding) => {
      const value = text.slice(finding.from, finding.to);
      return {
        ...finding,
        id: await idOf(finding, finding.kind === 'list' ? '' : value),
        where: where(finding),
        around: aroundOf(text, finding),
      };
    }),
  );
}

export interface Written {
  subject: string;
  text: string;
  fileNames: readonly string[];
}

/** In head, text and names of files, in this order. */
export async function seenInMessage(
  { subject, text, fileNames }: Written,
  about: { thisYear: number; office?: OfficeFinder },
): Promise<Seen[]> {
  return [
    ...(await seenIn(subject, scanText(subject, about), () => ({ in: 'subject' }))),
    ...(await seenIn(text, scanText(text, about), () => ({ in: 'text' }))),
    ...(
      await Promise.all(
        fileNames.map((file) => seenIn(file, scanText(file.replace(/_/g, ' '), about), () => ({ in: 'name', file }))),
      )
    ).flat(),
  ];
}

/** Lines from 1, asked for in the order of the text: each of its ends is passed once. */
function linesOf(text: string): (offset: number) => number {
  let line = 1;
  let end = text.indexOf('\n');
  return (offset) => {
    for (; end !== -1 && end < offset; end = text.indexOf('\n', end + 1)) line += 1;
    return line;
  };
}

/**
 * Everything that is seen inside a file, up to two hundred findings. Whoever wants it stopped aborts it: what was seen
 * until then is given.
 *
 * @param told How many pieces have been looked through.
 * @param words Gets those of its text.
 */
export async function seenInFile(
  file: FileToScan & { bytes: Bytes },
  about: { thisYear: number; office?: OfficeFinder },
  {
    ports,
    told,
    signal,
    words,
  }: { ports?: ReadPorts; told?: (pieces: number) => void; signal?: AbortSignal; words?: TextWords } = {},
): Promise<SeenInFile> {
  const found: SeenInFile = { seen: [], unread: [], more: false, kind: await fileKind(file), isLocked: false };
  let pieces = 0;
  for await (const piece of readFile(file, ports)) {
    if (signal?.aborted === true) break;
    told?.((pieces += 1));
    if (isUnread(piece)) {
      found.unread.push(piece);
      found.isLocked ||= piece.unread === 'locked' && piece.place.files.length === 1;
      continue;
    }
    const { text, place, cellAt } = piece;
    words?.add(text);
    const room = MOST_OF_ONE - found.seen.length;
    const all = scanText(text, about);
    const lineOf = linesOf(text);
    found.more ||= all.length > room;
    found.seen.push(
      ...(await seenIn(text, all.slice(0, room), ({ from }) => {
        const cell = cellAt?.(from);
        return { in: 'file', ...place, ...(cell === undefined ? { line: lineOf(from) } : { cell }) };
      })),
    );
    if (found.more) break;
  }
  return found;
}
