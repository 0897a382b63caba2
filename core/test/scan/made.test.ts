/** Files that other people’s programs wrote: what lies where nobody looks is found in them, too. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { concat, utf8 } from '../../src/bytes';
import { fileKind } from '../../src/scan/files/kind';
import { isUnread } from '../../src/scan/files/piece';
import { seenInFile } from '../../src/scan/message';
import { writeZip } from '../../src/zip/write';
import { readDamaged } from '../mutations';
import { THOROUGH } from '../thorough';
import { read, said } from './pieces';

let dir: string;
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'made-'));
});
afterAll(() => rmSync(dir, { recursive: true, force: true }));

function byPython(name: string, program: string): Uint8Array<ArrayBuffer> {
  execFileSync('/usr/bin/python3', ['-c', program, join(dir, name)], { stdio: ['ignore', 'ignore', 'inherit'] });
  return new Uint8Array(readFileSync(join(dir, name)));
}

const utf16 = (text: string): Buffer => Buffer.from(text, 'utf16le');

/** A compound file with these streams, by GNOME’s own writer of them. */
function byGsf(name: string, streams: Record<string, Uint8Array>): Uint8Array<ArrayBuffer> {
  const from = mkdtempSync(join(dir, 'streams-'));
  for (const [path, octets] of Object.entries(streams)) {
    mkdirSync(join(from, dirname(path)), { recursive: true });
    writeFileSync(join(from, path), octets);
  }
  const tops = [...new Set(Object.keys(streams).map((path) => path.split('/')[0]!))];
  execFileSync('/usr/bin/gsf', ['createole', join(dir, name), ...tops], { cwd: from, stdio: 'ignore' });
  return new Uint8Array(readFileSync(join(dir, name)));
}

const property = (number: string, type = '001F'): string => `__substg1.0_${number}${type}`;

/** [MS-OXMSG]: a mail with two files, one of them a mail of its own. */
const storedMail = (list: Uint8Array): Uint8Array<ArrayBuffer> => {
  const [first, second] = ['__attach_version1.0_#00000000', '__attach_version1.0_#00000001'];
  const within = `${second}/__substg1.0_3701000D`;
  return byGsf('mail.msg', {
    '__properties_version1.0': utf8('none'),
    [property('0037')]: utf16('Pay in June'),
    [property('1000')]: utf16(`As agreed. ${'The boat leaves at eight. '.repeat(400)}`),
    [`${first}/${property('3707')}`]: utf16('crew list.csv'),
    [`${first}/${property('3701', '0102')}`]: list,
    [`${second}/${property('3001')}`]: utf16('Earlier mail'),
    [`${within}/__properties_version1.0`]: utf8('none'),
    [`${within}/${property('0037')}`]: utf16('Before that'),
    [`${within}/${property('1013', '0102')}`]: utf8('<p>the old <b>account</b></p>'),
  });
};

const WORKBOOK = `
import sys, openpyxl
from openpyxl.comments import Comment
book = openpyxl.Workbook()
pay = book.active
pay.title = 'Pay'
pay['A1'] = 'Name'
pay['B1'] = 'IBAN'
pay['A2'] = 'Pell'
pay['B2'] = 'hidden in a row'
pay.row_dimensions[2].hidden = True
pay['C3'] = 'by a column'
pay.column_dimensions['C'].hidden = True
pay['A3'].comment = Comment('said in a comment', 'Maren')
pay.oddHeader.center.text = 'stands above each page'
old = book.create_sheet('Old')
old['D4'] = 'on a hidden sheet'
old.sheet_state = 'veryHidden'
book.properties.title = 'Pay of the crew'
book.save(sys.argv[1])
`;
const DOCUMENT = `
import sys, docx
paper = docx.Document()
paper.core_properties.title = 'Crew papers'
paper.core_properties.comments = 'a remark on the file'
paper.sections[0].header.paragraphs[0].text = 'stands above each page'
paper.sections[0].footer.paragraphs[0].text = 'stands below each page'
paper.add_paragraph('Dear Pell, ').add_run('said unseen').font.hidden = True
table = paper.add_table(rows=1, cols=2)
table.rows[0].cells[0].text = 'in a'
table.rows[0].cells[1].text = 'table'
paper.save(sys.argv[1])
`;
const SPREADSHEET = `
import sys
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableRow, TableCell
from odf.text import P
from odf.office import Annotation
from odf.style import Style, TableProperties
book = OpenDocumentSpreadsheet()
unseen = Style(name='unseen', family='table')
unseen.addElement(TableProperties(display='false'))
book.automaticstyles.addElement(unseen)
for name, words, style in (('Pay', 'seen by all', None), ('Old', 'on a hidden sheet', unseen)):
    table = Table(name=name) if style is None else Table(name=name, stylename=style)
    row = TableRow()
    cell = TableCell()
    cell.addElement(P(text=words))
    note = Annotation()
    note.addElement(P(text='said in a comment'))
    if style is None: cell.addElement(note)
    row.addElement(cell)
    table.addElement(row)
    book.spreadsheet.addElement(table)
book.save(sys.argv[1])
`;

test('a workbook of openpyxl: hidden rows, columns and sheets, comments, headers of pages, its title', async () => {
  const pieces = await read('pay.xlsx', byPython('pay.xlsx', WORKBOOK));
  const all = JSON.stringify(said(pieces));
  for (const words of [
    'hidden in a row',
    'by a column',
    'said in a comment',
    'stands above each page',
    'on a hidden sheet',
    'Pay of the crew',
  ])
    expect(all).toContain(words);
  const old = pieces.find((piece) => !isUnread(piece) && piece.text.includes('on a hidden sheet'));
  expect(old?.place).toMatchObject({ sheet: 'Old', part: 'hidden' });
  expect(old !== undefined && !isUnread(old) ? old.cellAt?.(old.text.indexOf('on a hidden')) : undefined).toBe('D4');
});

test('a document of python-docx: headers, footers, tables, what is not shown, its title and remarks', async () => {
  const all = JSON.stringify(said(await read('papers.docx', byPython('papers.docx', DOCUMENT))));
  for (const words of [
    'stands above each page',
    'stands below each page',
    'said unseen',
    'in a table',
    'Crew papers',
    'a remark on the file',
  ])
    expect(all).toContain(words);
});

test('a spreadsheet of odfpy: a sheet that is not shown, and a comment', async () => {
  const pieces = await read('pay.ods', byPython('pay.ods', SPREADSHEET));
  const all = JSON.stringify(said(pieces));
  for (const words of ['seen by all', 'said in a comment', 'on a hidden sheet']) expect(all).toContain(words);
});

test('a mail as one program keeps it: subject, text, files, and a mail within it', async () => {
  const bytes = storedMail(utf8('name;account\nPell;in a list\n'));
  expect(said(await read('mail.msg', bytes))).toEqual([
    ['mail.msg', 'header', 'Pay in June'],
    ['mail.msg', expect.stringMatching(/^As agreed\. The boat leaves.*at eight\.$/)],
    ['mail.msg > crew list.csv', 'name;account Pell;in a list'],
    ['mail.msg > Earlier mail', 'header', 'Before that'],
    ['mail.msg > Earlier mail', 'the old account'],
  ]);
  // By what it is, whatever it is called.
  expect(await fileKind({ name: 'mail.doc', bytes })).toBe('mail');
});

test('files of more than seven megabytes have a table of tables', async () => {
  const list = utf8(`${'a line of the crew list;12\n'.repeat(340_000)}the last line`);
  expect(list.length).toBeGreaterThan(8_000_000);
  const pieces = await read('mail.msg', storedMail(list));
  const text = pieces.find(({ place: { files } }) => files[1] === 'crew list.csv');
  expect(text !== undefined && !isUnread(text) && text.text.endsWith('the last line')).toBe(true);
});

test('a compound file of another kind is office’s and is not looked into; one that leads in circles is damaged', async () => {
  const bytes = byGsf('old.doc', { WordDocument: utf8('not for us'), '1Table': new Uint8Array(9_000) });
  expect(said(await read('old.doc', bytes))).toEqual([['old.doc', 'unknown']]);
  expect(await fileKind({ name: 'old.msg', bytes })).toBe('office');
  const circle = storedMail(utf8('a;b'));
  const view = new DataView(circle.buffer);
  // Every sector of the first table is followed by itself.
  const table = (view.getUint32(0x4c, true) + 1) * 512;
  for (let index = 0; index < 128; index++) view.setUint32(table + index * 4, index, true);
  expect(said(await read('circle.msg', circle))).toEqual([['circle.msg', 'damaged']]);
  expect(await fileKind({ name: 'circle.msg', bytes: circle })).toBe('office');
});

test('whatever is done to a file, its reader ends and says what it could not look into', async () => {
  const sound: [string, Uint8Array][] = [
    ['pay.xlsx', byPython('pay.xlsx', WORKBOOK)],
    ['papers.docx', byPython('papers.docx', DOCUMENT)],
    ['pay.ods', byPython('pay.ods', SPREADSHEET)],
    ['mail.msg', storedMail(utf8('a;b'))],
    ['note.rtf', utf8('{\\rtf1\\ansi{\\fonttbl{\\f0 Arial;}}Dear {\\b Pell}\\par the \\u233? account{\\*\\x unseen}}')],
    [
      'mail.eml',
      utf8(
        'From: a@b.example\r\nSubject: =?utf-8?q?pay?=\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n--x\r\nContent-Type: text/plain\r\n\r\nhere\r\n--x\r\nContent-Type: text/csv; name=a.csv\r\nContent-Transfer-Encoding: base64\r\n\r\nYTtiCg==\r\n--x--\r\n',
      ),
    ],
    [
      'all.zip',
      await writeZip({
        files: [{ name: 'in.html', bytes: concat(utf8('<!doctype html><p>words'), utf8('</p>')) }],
        date: new Date('2026-11-24T10:00:00Z'),
        isPacked: () => true,
        lock: undefined,
      }),
    ],
  ];
  for (const [name, bytes] of sound)
    await readDamaged(
      bytes,
      // A hundred thousand in all where everything is tried: each is a whole file to unpack.
      THOROUGH ? 15_000 : 2_000,
      async (damaged) => {
        await read(name, damaged);
        await fileKind({ name, bytes: damaged });
      },
      [],
    );
}, 600_000);

test('a cell stands under its column’s head though cells before it are empty, and rows end where nothing follows', async () => {
  const bytes = byPython(
    'gaps.xlsx',
    `
import sys, openpyxl
book = openpyxl.Workbook()
for row in (['Name', 'Order', 'Steuer-ID', 'Remark'], ['Brook', None, '95492076833'], ['Holm', '49323601372', None, 'x']):
    book.active.append(row)
book.save(sys.argv[1])
`,
  );
  const { seen } = await seenInFile({ name: 'gaps.xlsx', bytes }, { thisYear: 2026 });
  expect(seen.map(({ of, where }) => [of, where.in === 'file' && where.cell])).toEqual([['de-idnr', 'C2']]);
});
