/** Sheets of a workbook (ISO/IEC 29500-1, 18): each as lines of cells parted by tabulators, with the names of its cells. */
import { type ZipFile } from '../../zip/write';
import { type Piece, type Place } from './piece';
import { walkXml } from './xml';

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

/** A sheet as text; cells are named by where they begin. */
function textOf(
  bytes: Uint8Array,
  strings: readonly string[],
): { text: string; cellAt: (offset: number) => string | undefined } {
  const out: string[] = [];
  const starts: number[] = [];
  const names: string[] = [];
  let length = 0;
  let cell: { name: string; type: string; value: string[] } | undefined;
  let within: 'value' | 'other' | undefined;
  const put = (text: string): void => {
    out.push(text);
    length += text.length;
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
        starts.push(length);
        names.push(cell.name);
        put(`${cell.type === 's' ? (strings[Number(raw)] ?? '') : written(raw)}\t`.replace(/\n/g, ' '));
        cell = undefined;
      } else if (name === 'row') put('\n');
    },
  });
  const cellAt = (offset: number): string | undefined => {
    let low = 0;
    let high = starts.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (starts[middle]! <= offset) low = middle + 1;
      else high = middle;
    }
    return names[low - 1];
  };
  return { text: out.join(''), cellAt };
}

function everyText(bytes: Uint8Array): string {
  const out: string[] = [];
  let within = 0;
  walkXml(bytes, {
    open: (name) => void (within += /^(?:t|a:t|text)$/.test(name) ? 1 : 0),
    text: (text) => void (within > 0 && out.push(text)),
    close(name) {
      if (/^(?:t|a:t|text)$/.test(name)) {
        within -= 1;
        out.push('\n');
      }
    },
  });
  return out.join('');
}

/** Hidden rows and columns are in their sheet like all others; a hidden sheet is said to be one. @throws XmlTooDeepError */
export function* sheetsOf(files: readonly string[], parts: readonly ZipFile[]): Generator<Piece> {
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
    yield { place, ...textOf(bytes, strings) };
  }
  for (const { name, bytes } of parts)
    if (/^xl\/(?:comments\d*|threadedComments\/.*|drawings\/drawing\d+|comments\/.*)\.xml$/.test(name))
      yield { place: { files, part: 'comment' }, text: everyText(bytes) };
}
