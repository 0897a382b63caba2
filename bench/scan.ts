/**
 * All detectors with a list of a thousand words over what Debian's packages bring as documentation, and fifty patterns of
 * an office; what is said of it is wrong. A PDF's words, against the program that is nothing but that.
 */
import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { type Kind } from '../core/src/scan/finding';
import { officeFinder, scanText } from '../core/src/scan/text';
import { readers } from '../door/src/readers';
import { median } from './measured';
import { type Row } from './row';

const WANTED = 20_000_000; // characters
const CHECKED: readonly Kind[] = ['card', 'account', 'national', 'health', 'passport', 'credential'];

function* allIn(folder = '/usr/share/doc'): Generator<string> {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* allIn(path);
    else if (entry.isFile()) {
      const bytes = readFileSync(path);
      const plain = path.endsWith('.gz') ? gunzipSync(bytes) : bytes;
      if (!plain.includes(0)) yield plain.toString('utf8');
    }
  }
}

export interface Documentation {
  texts: string[];
  /** Characters in all. */
  length: number;
}

/** What Debian’s packages bring, some twenty megabytes of it. */
export function documentation(): Documentation {
  const texts: string[] = [];
  let length = 0;
  for (const text of allIn()) {
    texts.push(text);
    length += text.length;
    if (length > WANTED) break;
  }
  return { texts, length };
}

/** Characters a second, in millions. */
const speed = (length: number, from: number): string => (length / (performance.now() - from) / 1e3).toFixed(1);

function byGrep({ texts, length }: Documentation): string {
  const file = join(tmpdir(), `documentation-${process.pid}.txt`);
  writeFileSync(file, texts.join('\n'));
  const from = performance.now();
  execFileSync('/bin/grep', ['-caP', String.raw`(?<!\d)(?:\d[ -]?){12,18}\d(?!\d)`, file]);
  const said = speed(length, from);
  rmSync(file);
  return said;
}

function detectors(all: Documentation): Row[] {
  const words = Array.from({ length: 1_000 }, (_, index) => `quay ${index.toString(36)} berth`);
  const office = officeFinder({ words: [{ id: 'berths', name: 'Berths', words }], patterns: [] });
  const wrong: string[] = [];
  const from = performance.now();
  for (const text of all.texts)
    for (const finding of scanText(text, { thisYear: new Date().getFullYear(), office }))
      if (CHECKED.includes(finding.kind)) wrong.push(finding.of);
  const value = `${speed(all.length, from)} MB/s`;
  return [
    {
      what: `${(all.length / 1e6).toFixed(0)} MB of documentation, all detectors and 1,000 words (one pattern by grep -P: ${byGrep(all)} MB/s)`,
      value,
      aim: '≥ 15',
    },
    {
      what: `Said of it that is wrong${wrong.length === 0 ? '' : ` (${[...new Set(wrong)].join(', ')})`}`,
      value: String(wrong.length),
      aim: '0',
    },
  ];
}

/** As offices number their papers; a few are found again and again, as dates are. */
const PATTERNS: readonly ((index: number) => string)[] = [
  (index) => `BTH${index}-[0-9]{4}`,
  (index) => `PO ${index}[0-9]{5}`,
  (index) => `[A-Z]{3}${index}-[0-9]{5}`,
  (index) => `quay ${index}[a-z]+ berth`,
  (index) => (index % 10 === 4 ? `20${10 + (index >> 2)}-[0-9]{2}-[0-9]{2}` : `[0-9]{4}-${index}-[A-Z]{2}`),
];

function patterns({ texts, length }: Documentation): Row {
  const find = officeFinder({
    words: [],
    patterns: Array.from({ length: 50 }, (_, index) => ({
      id: String(index),
      name: `Pattern ${index}`,
      pattern: PATTERNS[index % PATTERNS.length]!(index),
      exact: index % 2 === 0,
    })),
  });
  const from = performance.now();
  let found = 0;
  for (const text of texts) found += find(text, text).length;
  return {
    what: `50 patterns of an office in it, found ${found} times`,
    value: `${speed(length, from)} MB/s`,
    aim: '≥ 20',
  };
}

/** Pages of nothing but words, not compressed. */
export function wordsAsPdf(size: number): Uint8Array<ArrayBuffer> {
  const line = '(The ferry leaves the quay at eight, and whoever has a ticket stands at the bow.) Tj 0 -13 Td\n';
  const page = `BT /F 11 Tf 50 780 Td\n${line.repeat(55)}ET`;
  const count = Math.ceil(size / page.length);
  const objects = [
    '<< /Type /Catalog /Pages 2 0 R >>',
    `<< /Type /Pages /Count ${count} /Kids [${Array.from({ length: count }, (_, index) => `${4 + 2 * index} 0 R`).join(' ')}] >>`,
    '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>',
    ...Array.from({ length: count }, (_, index) => [
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents ${5 + 2 * index} 0 R /Resources << /Font << /F 3 0 R >> >> >>`,
      `<< /Length ${page.length} >>\nstream\n${page}\nendstream`,
    ]).flat(),
  ];
  let text = '%PDF-1.7\n';
  const offsets = objects.map((object, index) => {
    const at = text.length;
    text += `${index + 1} 0 obj\n${object}\nendobj\n`;
    return at;
  });
  const lines = offsets.map((at) => `${String(at).padStart(10, '0')} 00000 n \n`).join('');
  const end = `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${lines}trailer << /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${text.length}\n%%EOF\n`;
  return new Uint8Array(Buffer.from(text + end, 'latin1'));
}

async function pdf(): Promise<Row> {
  const bytes = wordsAsPdf(5_000_000);
  const file = join(tmpdir(), `words-${process.pid}.pdf`);
  writeFileSync(file, bytes);
  const ratios: number[] = [];
  for (let turn = 0; turn < 3; turn++) {
    const begun = performance.now();
    execFileSync('pdftotext', [file, '-'], { maxBuffer: 100_000_000 });
    const alone = performance.now() - begun;
    const from = performance.now();
    let length = 0;
    for await (const piece of readers.pdf!({ name: 'words.pdf', bytes }))
      length += 'text' in piece ? piece.text.length : 0;
    if (length < 4_000_000) throw new Error('Its words were not read');
    ratios.push((performance.now() - from) / alone);
  }
  rmSync(file);
  return { what: '5 MB of words as PDF ÷ pdftotext', value: median(ratios).toFixed(1), aim: '≤ 2' };
}

export async function scanning(): Promise<Row[]> {
  const all = documentation();
  return [...detectors(all), patterns(all), await pdf()];
}
