/** Sheets of a workbook (ISO/IEC 29500-1, 18): each as lines of cells parted by tabulators, with the names of its cells. */
import { type ZipFile } from '../../zip/write';
import { lastBegun } from '../last-begun';
import { type Piece, type Place, TooLongError } from './piece';
import { textWithin, walkXml } from './xml';

/** Shared strings, in their order. */
function stringsOf(bytes: Uint8Array | undefined): string[] {
  const strings: string[] = [];
  if (bytes === undefined) return strings;
  let current: string[] | undefined;
  let within = false;
  walkXml(bytes, {
    open(name) {
      if (name === 'si') current = [];
      // How a word is read aloud is no second word.
      else if (name === 't') within = current !== undefined;
    },
    text: (text) => void (within && current?.push(text)),
    close(name) {
      if (name === 't') within = false;
      else if (name === 'si') {
        strings.push(current?.join('') ?? '');
        current = undefined;
      }
    },
  });
  return strings;
}

interface Sheet {
  name: string;
  hidden: boolean;
  path: string;
}

function sheetsIn(workbook: Uint8Array, relations: Uint8Array | undefined): Sheet[] {
  const targets = new Map<string, string>();
  if (relations !== undefined)
    walkXml(relations, {
      open(name, { Id = '', Target = '' }) {
        if (name === 'Relationship') targets.set(Id, Target.startsWith('/') ? Target.slice(1) : `xl/${Target}`);
      },
    });
  const sheets: Sheet[] = [];
  walkXml(workbook, {
    open(name, attributes) {
      if (!/(?:^|:)sheet$/.test(name)) return;
      const path = targets.get(attributes['r:id'] ?? '') ?? `xl/worksheets/sheet${sheets.length + 1}.xml`;
      const hidden = attributes['state'] === 'hidden' || attributes['state'] === 'veryHidden';
      sheets.push({ name: attributes['name'] ?? '', hidden, path });
    },
  });
  return sheets;
}

/** A whole number that a program wrote with a power of ten, in full; anything else as it stands. */
const written = (value: string): string =>
  /^-?\d(?:\.\d+)?E\+?\d{1,2}$/i.test(value) && Number.isSafeInteger(Number(value)) ? String(Number(value)) : value;

const MOST_EMPTY = 100;

/** From 0: `C5` is in column 2 (ISO/IEC 29500-1, 18.18.7). */
function columnOf(cell: string): number | undefined {
  const [letters] = /^[A-Z]{1,3}(?=\d)/.exec(cell) ?? [];
  return letters === undefined
    ? undefined
    : [...letters].reduce((column, letter) => column * 26 + letter.charCodeAt(0) - 64, 0) - 1;
}

/**
 * A sheet as text; cells are named by where they begin. A long string that many cells share is there once in the file,
 * and in the text as often as it is shared. @throws TooLongError
 */
function textOf(
  bytes: Uint8Array,
  strings: readonly string[],
  mostText: number,
): { text: string; cellAt: (offset: number) => string | undefined } {
  const out: string[] = [];
  const starts: number[] = [];
  const names: string[] = [];
  let length = 0;
  let cell: { name: string; type: string; value: string[] } | undefined;
  let within: 'value' | 'other' | undefined;
  // The row's column that comes next, from 0: what is empty is not in the file.
  let next = 0;
  const put = (text: string): void => {
    out.push(text);
    length += text.length;
    if (length > mostText) throw new TooLongError();
  };
  walkXml(bytes, {
    open(name, { r = '', t = 'n' }) {
      if (name === 'c') cell = { name: r, type: t, value: [] };
      else if (name === 'v' || name === 't') within = 'value';
      else if (/^(?:odd|even|first)(?:Header|Footer)$/.test(name)) within = 'other';
    },
    text(text) {
      if (within === 'value') cell?.value.push(text);
      else if (within === 'other') put(`${text}\n`);
    },
    close(name) {
      if (name === 'v' || name === 't' || /(?:Header|Footer)$/.test(name)) within = undefined;
      else if (name === 'c' && cell !== undefined) {
        const raw = cell.value.join('');
        const column = columnOf(cell.name) ?? next;
        if (column > next) put('\t'.repeat(Math.min(column - next, MOST_EMPTY)));
        next = column + 1;
        starts.push(length);
        names.push(cell.name);
        put(`${cell.type === 's' ? (strings[Number(raw)] ?? '') : written(raw)}\t`.replace(/\n/g, ' '));
        cell = undefined;
      } else if (name === 'row') {
        put('\n');
        next = 0;
      }
    },
  });
  const cellAt = (offset: number): string | undefined =>
    names[lastBegun(starts.length, (index) => starts[index]!, offset)];
  return { text: out.join(''), cellAt };
}

/** Hidden rows and columns are in their sheet like all others; a hidden sheet is said to be one. @throws XmlTooDeepError, TooLongError */
export function* sheetsOf(files: readonly string[], parts: readonly ZipFile[], mostText: number): Generator<Piece> {
  const byPath = new Map(parts.map(({ name, bytes }) => [name, bytes]));
  const workbook = byPath.get('xl/workbook.xml');
  if (workbook === undefined) {
    // The binary kind of workbook.
    yield { place: { files }, unread: 'unknown' };
    return;
  }
  const strings = stringsOf(byPath.get('xl/sharedStrings.xml'));
  for (const { name, hidden, path } of sheetsIn(workbook, byPath.get('xl/_rels/workbook.xml.rels'))) {
    const bytes = byPath.get(path);
    if (bytes === undefined) continue;
    const place: Place = { files, sheet: name, ...(hidden ? { part: 'hidden' as const } : {}) };
    yield { place, ...textOf(bytes, strings, mostText) };
  }
  for (const { name, bytes } of parts)
    if (/^xl\/(?:comments\d*|threadedComments\/.*|drawings\/drawing\d+|comments\/.*)\.xml$/.test(name))
      yield { place: { files, part: 'comment' }, text: textWithin(bytes, /^(?:t|a:t|text)$/) };
}
