/** What readers find inside files, also where nobody looks; and that nothing stops them but their limits. */
import { utf8 } from '../../src/bytes';
import { isUnread } from '../../src/scan/files/piece';
import { READ_LIMITS } from '../../src/scan/files/read';
import { read, said } from './pieces';
import { writeZip } from '../../src/zip/write';

const zip = (files: Record<string, string | Uint8Array>, password?: string) =>
  writeZip({
    files: Object.entries(files).map(([name, content]) => ({
      name,
      bytes: typeof content === 'string' ? utf8(content) : new Uint8Array(content),
    })),
    date: new Date('2026-11-24T10:00:00Z'),
    isPacked: () => false,
    lock: password === undefined ? undefined : { password, cipher: 'aes-256' },
  });

const W = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
const words = (text: string): string => `<w:p><w:r><w:t>${text}</w:t></w:r></w:p>`;

test('a document’s body, tables, headers, notes, comments, and what was deleted with changes tracked', async () => {
  const docx = await zip({
    'word/document.xml': `<?xml version="1.0"?><w:document ${W}><w:body>${words('Dear Pell &amp; crew')}<w:tbl><w:tr><w:tc>${words('Name')}</w:tc><w:tc>${words('IBAN')}</w:tc></w:tr></w:tbl><w:p><w:del><w:r><w:delText>the old account</w:delText></w:r></w:del></w:p></w:body></w:document>`,
    'word/header1.xml': `<w:hdr ${W}>${words('Confidential')}</w:hdr>`,
    'word/footnotes.xml': `<w:footnotes ${W}>${words('see the log')}</w:footnotes>`,
    'word/comments.xml': `<w:comments ${W}>${words('is this his?')}</w:comments>`,
    'docProps/core.xml':
      '<cp:coreProperties xmlns:cp="a" xmlns:dc="b"><dc:title>Crew papers</dc:title></cp:coreProperties>',
    'word/media/image1.png': 'no words',
  });
  expect(said(await read('papers.docx', docx))).toEqual([
    ['papers.docx', 'Dear Pell & crew Name IBAN'],
    ['papers.docx', 'deleted', 'the old account'],
    ['papers.docx', 'header', 'Confidential'],
    ['papers.docx', 'note', 'see the log'],
    ['papers.docx', 'comment', 'is this his?'],
    ['papers.docx', 'properties', 'Crew papers'],
  ]);
});

test('a workbook’s sheets with the names of their cells, hidden sheets and rows, shared and written strings, comments', async () => {
  const xlsx = await zip({
    'xl/workbook.xml':
      '<workbook xmlns:r="x"><sheets><sheet name="Pay" sheetId="1" r:id="rId1"/><sheet name="Old" state="veryHidden" sheetId="2" r:id="rId2"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels':
      '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Target="/xl/worksheets/sheet2.xml"/></Relationships>',
    'xl/sharedStrings.xml':
      '<sst><si><t>Name</t></si><si><r><t>Card </t></r><r><t>number</t></r></si><si><t>Ada</t></si></sst>',
    'xl/worksheets/sheet1.xml':
      '<worksheet><sheetData><row r="1"><c r="A1" t="s"><v>0</v></c><c r="B1" t="s"><v>1</v></c></row><row r="2" hidden="1"><c r="A2" t="s"><v>2</v></c><c r="B2"><v>4.111111111111111E15</v></c></row></sheetData><headerFooter><oddFooter>Pay office</oddFooter></headerFooter></worksheet>',
    'xl/worksheets/sheet2.xml':
      '<worksheet><sheetData><row r="1"><c r="C1" t="inlineStr"><is><t>kept out of sight</t></is></c></row></sheetData></worksheet>',
    'xl/comments1.xml':
      '<comments><commentList><comment><text><t>ask Ines</t></text></comment></commentList></comments>',
  });
  const pieces = await read('pay.xlsx', xlsx);
  expect(said(pieces)).toEqual([
    ['pay.xlsx', 'Pay', 'Name Card number Ada 4111111111111111 Pay office'],
    ['pay.xlsx', 'Old', 'hidden', 'kept out of sight'],
    ['pay.xlsx', 'comment', 'ask Ines'],
  ]);
  const [sheet] = pieces;
  if (sheet === undefined || isUnread(sheet)) throw new Error('No sheet');
  expect(sheet.cellAt?.(sheet.text.indexOf('4111'))).toBe('B2');
  expect(sheet.cellAt?.(0)).toBe('A1');
});

test('slides with their notes, and an open document', async () => {
  const pptx = await zip({
    'ppt/presentation.xml': '<p/>',
    'ppt/slides/slide2.xml': '<p:sld xmlns:p="p" xmlns:a="a"><a:p><a:r><a:t>Bids</a:t></a:r></a:p></p:sld>',
    'ppt/notesSlides/notesSlide2.xml':
      '<p:notes xmlns:p="p" xmlns:a="a"><a:p><a:r><a:t>say nothing yet</a:t></a:r></a:p></p:notes>',
  });
  expect(said(await read('bids.pptx', pptx))).toEqual([
    ['bids.pptx', 2, 'Bids'],
    ['bids.pptx', 'note', 2, 'say nothing yet'],
  ]);
  const odt = await zip({
    mimetype: 'application/vnd.oasis.opendocument.text',
    'content.xml':
      '<office:document-content xmlns:office="o" xmlns:text="t"><text:p>One<text:s text:c="2"/>two<text:tab/>three</text:p><office:annotation><text:p>a remark</text:p></office:annotation></office:document-content>',
    'styles.xml':
      '<office:document-styles xmlns:office="o" xmlns:text="t"><text:p>Page head</text:p></office:document-styles>',
  });
  expect(said(await read('note.odt', odt))).toEqual([
    ['note.odt', 'One two three a remark'],
    ['note.odt', 'header', 'Page head'],
  ]);
});

test('RTF in its code page and beyond it, without fonts and pictures', async () => {
  const rtf = utf8(
    String.raw`{\rtf1\ansi\ansicpg1252\uc1{\fonttbl{\f0 Arial;}}{\*\generator None;}\f0 F\'e4hre \u322?ukasz\par Konto:\tab 12{\pict 00ff}\{x\}}`,
  );
  expect(said(await read('brief.rtf', rtf))).toEqual([['brief.rtf', 'Fähre łukasz Konto: 12{x}']]);
});

test('text in any charset, HTML, mail with its files, archives within archives', async () => {
  expect(said(await read('a.txt', new Uint8Array([0xff, 0xfe, 0x41, 0, 0x42, 0])))).toEqual([
    ['a.txt', '\ufeffAB'.replace('\ufeff', '')],
  ]);
  expect(said(await read('b.csv', new Uint8Array([0x4d, 0xfc, 0x6c, 0x3b, 0x31])))).toEqual([['b.csv', 'Mül;1']]);
  expect(said(await read('c.html', utf8('<!doctype html><p>One</p><p>two</p>')))).toEqual([['c.html', 'One two']]);
  const mail = utf8(
    'From: a@b.example\r\nSubject: Forwarded\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=x\r\n\r\n--x\r\nContent-Type: text/plain\r\n\r\nBody\r\n--x\r\nContent-Type: text/csv; name=list.csv\r\nContent-Disposition: attachment; filename=list.csv\r\n\r\none;two\r\n--x--\r\n',
  );
  const inner = await zip({ 'sub/d.txt': 'deep', 'mail.eml': mail });
  expect(said(await read('outer.zip', await zip({ 'inner.zip': inner })))).toEqual([
    ['outer.zip > inner.zip > sub/d.txt', 'deep'],
    ['outer.zip > inner.zip > mail.eml', 'header', 'Forwarded'],
    ['outer.zip > inner.zip > mail.eml', 'Body'],
    ['outer.zip > inner.zip > mail.eml > list.csv', 'one;two'],
  ]);
});

test('what is formatted is read whole: letters by their names, cells apart, words of its own fields, nothing twice', async () => {
  const page =
    '<!doctype html><style>p{color:#123456}</style><title>Pay</title><p>M&auml;rz &#52;<b>2</b></p>' +
    '<table><tr><td>41</td><td>17</td></tr></table><textarea>kept here</textarea><input value="and here">';
  expect(said(await read('d.html', utf8(page)))).toEqual([['d.html', 'Pay März 42 41 17 kept here and here']]);
  const crowd = `<html>${'<p>word</p>'.repeat(30_000)}<p>last</p>`;
  expect(JSON.stringify(said(await read('e.html', utf8(crowd))))).toMatch(/ last"\]\]$/);
  const mail = (plain: string): Uint8Array =>
    utf8(
      'From: a@b.example\r\nSubject: Two forms\r\nMIME-Version: 1.0\r\nContent-Type: multipart/alternative; boundary=x\r\n\r\n' +
        `--x\r\nContent-Type: text/plain\r\n\r\n${plain}\r\n--x\r\nContent-Type: text/html\r\n\r\n<p>Fit for <i>duty</i></p>\r\n--x--\r\n`,
    );
  const textsOf = async (plain: string) => said(await read('f.eml', mail(plain))).slice(1);
  expect(await textsOf('Fit for duty')).toEqual([['f.eml', 'Fit for duty']]);
  expect(await textsOf('Another program is needed')).toEqual([['f.eml', 'Fit for duty Another program is needed']]);
});

test('what can’t be looked into is said, and why; the rest is read all the same', async () => {
  const locked = await zip({ 'x.txt': 'secret' }, 'a password');
  const mixed = await zip({
    'locked.zip': locked,
    'torn.zip': 'PK\u0003\u0004nothing',
    'photo.jpg': new Uint8Array([0xff, 0xd8, 0xff, 0xe0]),
    'tool.exe': new Uint8Array(400),
    'old.doc': new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]),
    'read.txt': 'me',
  });
  expect(said(await read('all.zip', mixed))).toEqual([
    ['all.zip > locked.zip', 'locked'],
    ['all.zip > torn.zip', 'damaged'],
    ['all.zip > photo.jpg', 'picture'],
    ['all.zip > tool.exe', 'unknown'],
    ['all.zip > old.doc', 'unknown'],
    ['all.zip > read.txt', 'me'],
  ]);
  let nested: Uint8Array = await zip({ 'core.txt': 'x' });
  for (let level = 0; level < 8; level += 1) nested = await zip({ 'more.zip': nested });
  expect(said(await read('deep.zip', nested)).at(-1)).toContain('too-deep');
  expect(
    said(
      await read(
        'many.zip',
        await zip(Object.fromEntries(Array.from({ length: 20 }, (_, index) => [`${index}.txt`, 'x']))),
        { ...READ_LIMITS, files: 5 },
      ),
    ).at(-1),
  ).toContain('too-large');
  expect(said(await read('long.txt', utf8('x'.repeat(500)), { ...READ_LIMITS, text: 100 }))).toEqual([
    ['long.txt', 'too-long'],
  ]);
  // A string that is there once, and shared by many cells.
  const shared = await zip({
    'xl/workbook.xml': '<workbook xmlns:r="x"><sheets><sheet name="S" r:id="r"/></sheets></workbook>',
    'xl/sharedStrings.xml': `<sst><si><t>${'x'.repeat(1_000)}</t></si></sst>`,
    'xl/worksheets/sheet1.xml': `<worksheet><sheetData><row>${'<c t="s"><v>0</v></c>'.repeat(200)}</row></sheetData></worksheet>`,
  });
  expect(said(await read('shared.xlsx', shared, { ...READ_LIMITS, text: 100_000 }))).toEqual([
    ['shared.xlsx', 'too-long'],
  ]);
  expect(said(await read('bm.txt', utf8('BMW of the harbour master')))).toEqual([
    ['bm.txt', 'BMW of the harbour master'],
  ]);
  const entities = `<!DOCTYPE lolz [<!ENTITY a "aaaaaaaaaa">]><w:document ${W}>${words('&a;&a;&a;')}</w:document>`;
  expect(said(await read('e.docx', await zip({ 'word/document.xml': entities })))).toEqual([['e.docx', '&a;&a;&a;']]);
});
