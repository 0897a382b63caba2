/**
 * Office files of ISO/IEC 29500 (docx, xlsx, pptx) and ISO/IEC 26300 (odt, ods, odp): every part that holds words, also
 * those that are not seen when the file is opened: headers, comments, notes, hidden sheets, rows and columns, what was
 * deleted with changes tracked.
 */
import { type ZipFile } from '../../zip/write';
import { type Piece, type Place } from './piece';
import { sheetsOf } from './sheets';
import { textWithin, walkXml } from './xml';

type Part = Place['part'];

const TABLE = /^(?:w:tbl|a:tbl|table:table)$/;
const CELL = /^(?:w:tc|a:tc|table:table-cell|table:covered-table-cell)$/;
/** Of empty cells before one that holds something; a sheet's rows go on behind it for thousands. */
const MOST_EMPTY = 100;

/** The words of a part, paragraphs in lines, cells parted by tabulators, rows in lines. */
function wordsOf(bytes: Uint8Array): string {
  const out: string[] = [];
  let within = 0;
  let cells = 0;
  // Cells of a row that were empty since the last that was not.
  let empty = 0;
  let repeated = 1;
  const put = (text: string): void => {
    if (empty > 0) out.push('\t'.repeat(Math.min(empty, MOST_EMPTY)));
    empty = 0;
    repeated = 0;
    out.push(text);
  };
  walkXml(bytes, {
    open(name, attributes) {
      if (/^(?:w:t|a:t|w:instrText|t)$/.test(name)) within += 1;
      else if (/^(?:text:p|text:h|office:value)$/.test(name)) within += 1;
      else if (/^(?:w:tab|text:tab)$/.test(name)) out.push('\t');
      else if (CELL.test(name)) repeated = Number(attributes['table:number-columns-repeated'] ?? 1) || 1;
      else if (/^(?:w:br|w:cr|a:br|text:line-break)$/.test(name)) out.push('\n');
      else if (name === 'text:s') out.push(' '.repeat(Math.min(Number(attributes['text:c'] ?? 1), 20)));
      else if (TABLE.test(name)) cells += 1;
    },
    text(text) {
      if (within > 0) put(text);
    },
    close(name) {
      if (/^(?:w:t|a:t|w:instrText|t)$/.test(name)) within -= 1;
      else if (/^(?:text:p|text:h)$/.test(name)) {
        within -= 1;
        out.push(cells > 0 ? ' ' : '\n');
      } else if (/^(?:w:p|a:p)$/.test(name)) out.push(cells > 0 ? ' ' : '\n');
      else if (CELL.test(name)) {
        if (repeated === 0) out.push('\t');
        empty += repeated;
      } else if (/^(?:w:tr|a:tr|table:table-row)$/.test(name)) {
        out.push('\n');
        empty = 0;
      } else if (TABLE.test(name)) cells -= 1;
    },
  });
  return out.join('');
}

const PARTS_OF_DOCX: readonly [RegExp, Part][] = [
  [/^word\/document\d*\.xml$/, undefined],
  [/^word\/header\d*\.xml$/, 'header'],
  [/^word\/footer\d*\.xml$/, 'footer'],
  [/^word\/(?:footnotes|endnotes)\d*\.xml$/, 'note'],
  [/^word\/comments\d*\.xml$/, 'comment'],
  [/^word\/(?:glossary\/document|diagrams\/data\d*|charts\/chart\d*)\.xml$/, undefined],
];
const PARTS_OF_PPTX: readonly [RegExp, Part][] = [
  [/^ppt\/slides\/slide\d+\.xml$/, undefined],
  [/^ppt\/notesSlides\/notesSlide\d+\.xml$/, 'note'],
  [/^ppt\/comments\/.*\.xml$/, 'comment'],
  [/^ppt\/slideMasters\/slideMaster\d+\.xml$/, 'header'],
  [/^ppt\/diagrams\/data\d*\.xml$/, undefined],
];
/** Title, subject, keywords, and what an office adds of its own. */
const PROPERTIES = /^docProps\/(?:core|app|custom)\.xml$|^meta\.xml$/;

const place = (files: readonly string[], part: Part, page?: number): Place => ({
  files,
  ...(part === undefined ? {} : { part }),
  ...(page === undefined ? {} : { page }),
});

/** All text of a part, whatever its elements are called. */
const everyWord = (bytes: Uint8Array): string => textWithin(bytes, /./).replace(/\n{2,}/g, '\n');

const deletedOnly = (bytes: Uint8Array): string => textWithin(bytes, /^w:delText$/, /^w:p$/).trim();

const pageIn = (path: string): number | undefined => {
  const [, number] = /(?:slide|notesSlide)(\d+)\.xml$/i.exec(path) ?? [];
  return number === undefined ? undefined : Number(number);
};

function* wordParts(
  files: readonly string[],
  parts: readonly ZipFile[],
  known: readonly [RegExp, Part][],
): Generator<Piece> {
  for (const { name, bytes } of parts) {
    const [, part] = known.find(([path]) => path.test(name)) ?? [undefined, null];
    if (part === null) continue;
    yield { place: place(files, part, pageIn(name)), text: wordsOf(bytes) };
    const deleted = deletedOnly(bytes);
    if (deleted !== '') yield { place: place(files, 'deleted'), text: deleted };
  }
}

function* openDocument(files: readonly string[], parts: readonly ZipFile[]): Generator<Piece> {
  for (const { name, bytes } of parts) {
    if (/^(?:Object \d+\/)?content\.xml$/.test(name)) yield { place: place(files, undefined), text: wordsOf(bytes) };
    else if (name === 'styles.xml') yield { place: place(files, 'header'), text: wordsOf(bytes) };
  }
}

/** Which office file an archive is, by what lies in it; undefined for any other archive. */
export function officeKind(paths: readonly string[]): 'docx' | 'xlsx' | 'pptx' | 'open-document' | undefined {
  if (paths.includes('word/document.xml')) return 'docx';
  if (paths.includes('xl/workbook.xml') || paths.includes('xl/workbook.bin')) return 'xlsx';
  if (paths.includes('ppt/presentation.xml')) return 'pptx';
  return paths.includes('content.xml') && paths.includes('mimetype') ? 'open-document' : undefined;
}

/** @throws XmlTooDeepError, TooLongError */
export function* readOffice(
  files: readonly string[],
  kind: NonNullable<ReturnType<typeof officeKind>>,
  parts: readonly ZipFile[],
  mostText: number,
): Generator<Piece> {
  if (kind === 'docx') yield* wordParts(files, parts, PARTS_OF_DOCX);
  else if (kind === 'pptx') yield* wordParts(files, parts, PARTS_OF_PPTX);
  else if (kind === 'xlsx') yield* sheetsOf(files, parts, mostText);
  else yield* openDocument(files, parts);
  for (const { name, bytes } of parts)
    if (PROPERTIES.test(name)) yield { place: place(files, 'properties'), text: everyWord(bytes) };
}
