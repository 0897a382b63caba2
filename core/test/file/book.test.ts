import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { bookAsCsv, type BookLine, compareBook, MAX_LINES, readBook } from '../../src/passwords/book';

const line = (over: Partial<BookLine> = {}): BookLine => ({
  address: 'pell.anders@postbox.example',
  direction: 'out',
  password: 'tide-harbour',
  note: '',
  ...over,
});
const read = (text: string): BookLine[] => {
  const book = readBook(text);
  if (!book.ok) throw new Error(book.problem);
  expect(book.problems).toEqual([]);
  return book.lines;
};

test('what is written is read again, whatever the passwords are made of', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(
        fc.tuple(
          fc.string({ minLength: 1, maxLength: 60 }).filter((one) => one.normalize('NFC') === one),
          fc.string({ maxLength: 60 }),
          fc.constantFrom('out' as const, 'in' as const),
        ),
        { maxLength: 12 },
      ),
      (rows) => {
        const lines = rows.map(([password, note, direction], index) =>
          line({ address: `p${index}@a.example`, password, note, direction }),
        );
        expect(read(bookAsCsv(lines))).toEqual(lines);
      },
    ),
  );
});

test('python’s csv module reads the same, and a spreadsheet finds no formula', () => {
  const lines = [
    line({ password: '=1+1', note: 'says "hello", and\nmore' }),
    line({ direction: 'in', password: "it's ü;x" }),
  ];
  const csv = bookAsCsv(lines);
  const rows = JSON.parse(
    execFileSync('python3', ['-c', 'import csv,sys,json;print(json.dumps(list(csv.reader(sys.stdin))))'], {
      input: csv,
      env: { ...process.env, PYTHONIOENCODING: 'utf-8', LC_ALL: 'C.UTF-8' },
    }).toString(),
  ) as string[][];
  expect(rows).toEqual([
    ['address', 'direction', 'password', 'note'],
    ['pell.anders@postbox.example', 'we send', "'=1+1", 'says "hello", and\nmore'],
    ['pell.anders@postbox.example', 'they send', "it's ü;x", ''],
  ]);
  for (const cell of rows.flat()) expect(cell).not.toMatch(/^[=+\-@\t\r]/);
});

test.each([
  ['semicolons', 'Password;Address\r\nabc;a@b.example\r\n'],
  ['tabs', 'address\tpassword\nA@B.example\tabc\n'],
  ['a mark at the beginning', '\ufeffaddress,password\na@b.example,abc'],
])('%s', (_, text) => expect(read(text)).toMatchObject([{ password: 'abc', direction: 'out' }]));

test('lines that can’t be used are said by their number, and the others are taken', () => {
  expect(
    readBook(
      'address,direction,password\nnobody,we send,x\na@b.example,sideways,x\na@b.example,they send,\na@b.example,we send,good-one\nA@b.example,we send,other\n',
    ),
  ).toEqual({
    ok: true,
    lines: [{ address: 'a@b.example', direction: 'out', password: 'good-one', note: '' }],
    problems: [
      { line: 2, problem: 'address' },
      { line: 3, problem: 'direction' },
      { line: 4, problem: 'no-password' },
      { line: 6, problem: 'twice' },
    ],
  });
});

test.each([
  ['no heading', 'a@b.example,x', 'columns-missing'],
  ['quotes that don’t end', 'address,password\n"a@b.example,x\n', 'not-a-table'],
  ['nothing', '', 'columns-missing'],
  ['too many lines', `address,password\n${'a@b.example,x\n'.repeat(MAX_LINES + 1)}`, 'too-large'],
])('%s: refused', (_, text, problem) => expect(readBook(text)).toEqual({ ok: false, problem }));

test('it is compared with what is known', () => {
  const known = [line(), line({ direction: 'in', password: 'old' })];
  const fresh = line({ address: 'new@a.example' });
  const other = line({ direction: 'in', password: 'new' });
  expect(compareBook(known, [line({ address: 'PELL.anders@postbox.example' }), other, fresh])).toEqual({
    fresh: [fresh],
    same: 1,
    differing: [other],
  });
});
