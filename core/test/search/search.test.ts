/** Search: folding, marks, and finding, held against a plain reading of every message. */
import fc from 'fast-check';
import { fold, foldLetters, marksIn, wordsAsked } from '../../src/search/fold';
import { makeIndex, type SearchRecord } from '../../src/search/scan';
import { wordsOf, wordsSchema } from '../../src/search/words';

const record = (id: string, more: Partial<SearchRecord> = {}): SearchRecord => ({
  id,
  kind: 'sent',
  at: 0,
  subject: '',
  people: [],
  reference: '',
  files: [],
  text: '',
  worded: true,
  ...more,
});
const page = { offset: 0, limit: 50 };

test.each([
  ['Straße nach Århus', ' strasse nach arhus '],
  ['AR-2611-009', ' ar 2611 009 '],
  ['  mira.talvik@saltmarsh.example ', ' mira talvik saltmarsh example '],
  ['ﬁnal', ' final '],
  ['Łódź, Þórr, smørrebrød', ' lodz thorr smorrebrod '],
  ['', '  '],
  ['— … —', '  '],
])('%s is compared as %s', (text, folded) => expect(fold(text)).toBe(folded));

test('what is asked: each word once, twelve at most', () => {
  expect(wordsAsked('Teal  teal, TEAL!')).toEqual(['teal']);
  expect(wordsAsked('   ')).toEqual([]);
  expect(wordsAsked(Array.from({ length: 30 }, (_, index) => `w${index}`).join(' '))).toHaveLength(12);
});

describe('marks', () => {
  const marked = (text: string, query: string): string[] =>
    marksIn(text, wordsAsked(query)).map(({ from, to }) => text.slice(from, to));

  test.each([
    ['Accident report MV Teal', 'teal acc', ['Acc', 'Teal']],
    ['Straßen', 'stras', ['Straß']],
    ['A\u030arhus fru\u0301gal', 'arhus frug', ['A\u030arhus', 'fru\u0301g']],
    ['steal', 'teal', []],
    ['report-009', '00', ['00']],
  ])('%s, asked for %s', (text, query, expected) => expect(marked(text, query)).toEqual(expected));

  test('every mark begins a word, holds what was asked, and lies inside of the text', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 60 }),
        fc.string({ unit: 'grapheme', maxLength: 8 }),
        (text, query) => {
          const asked = wordsAsked(query);
          return marksIn(text, asked).every(
            ({ from, to }) =>
              from >= 0 &&
              to <= text.length &&
              from < to &&
              asked.some((word) => foldLetters(text.slice(from, to)).startsWith(word)),
          );
        },
      ),
    );
  });
});

describe('finding', () => {
  const index = makeIndex([
    record('1', {
      at: 1,
      subject: 'Accident report MV Teal',
      people: [{ name: 'Mira Talvik', address: 'mira@yard.example' }],
    }),
    record('2', { at: 2, kind: 'held', subject: 'Crew list', text: 'The crew of the Teal changes on Monday.' }),
    record('3', { at: 3, kind: 'mail', subject: 'Survey', files: ['teal-hull.pdf'], reference: 'SV-2611-003' }),
  ]);
  const ids = (asked: Partial<Parameters<typeof index.find>[0]>) =>
    index.find({ query: '', ...asked }, page).hits.map(({ id }) => id);

  test('by subject, text and names of files, the newest first; every word has to be there', () => {
    expect(ids({ query: 'teal' })).toEqual(['3', '2', '1']);
    expect(ids({ query: 'teal crew' })).toEqual(['2']);
    expect(ids({ query: 'talv' })).toEqual(['1']);
    expect(ids({ query: '2611-003' })).toEqual(['3']);
    expect(ids({ query: 'eal' })).toEqual([]);
  });

  test('narrowed by kind, person, firm, time and a given choice', () => {
    expect(ids({ kinds: ['held', 'mail'] })).toEqual(['3', '2']);
    expect(ids({ person: 'MIRA@yard.example' })).toEqual(['1']);
    expect(ids({ person: '@yard.example' })).toEqual(['1']);
    expect(ids({ from: 2, until: 3 })).toEqual(['2']);
    expect(ids({ query: 'teal', ids: new Set(['1']) })).toEqual(['1']);
  });

  test('a hit outside of the subject shows where', () => {
    const [inFile, inText, inSubject] = index.find({ query: 'teal' }, page).hits;
    expect(inSubject!.excerpt).toBeUndefined();
    expect(inText!.excerpt?.text).toBe('The crew of the Teal changes on Monday.');
    expect(inText!.excerpt?.marks).toEqual([{ from: 16, to: 20 }]);
    expect(inFile!.excerpt?.text).toBe('teal-hull.pdf');
  });

  test('put again takes the place of the one before; dropped is gone; pages follow one another', () => {
    const own = makeIndex([record('a', { at: 1, subject: 'one' }), record('b', { at: 2, subject: 'one' })]);
    own.put(record('a', { at: 3, subject: 'two' }));
    expect(own.find({ query: 'one' }, page)).toMatchObject({ total: 1, hits: [{ id: 'b' }] });
    own.drop('b');
    expect(own.find({ query: 'one' }, page).total).toBe(0);
    expect(own.size).toBe(1);
    for (let at = 10; at < 20; at++) own.put(record(`c${at}`, { at }));
    expect(own.find({ query: '' }, { offset: 2, limit: 3 })).toMatchObject({
      total: 11,
      hits: [{ id: 'c17' }, { id: 'c16' }, { id: 'c15' }],
    });
  });
});

test('2,000 random messages: found is what a plain reading of all of them finds', () => {
  const vocabulary = [
    'Teal',
    'teal',
    'Fähre',
    'fahre',
    'Straße',
    'strasse',
    'hull',
    'hulls',
    'AR-26',
    '2611',
    'crew',
    'Crewe',
    'naïve',
    'Ørsted',
  ];
  const text = fc.array(fc.constantFrom(...vocabulary), { maxLength: 12 }).map((words) => words.join(' '));
  const messages = fc.sample(fc.record({ subject: text, body: text, file: text, name: text }), {
    numRuns: 2_000,
    seed: 2611,
  });
  const index = makeIndex(
    messages.map(({ subject, body, file, name }, at) =>
      record(String(at), { at, subject, text: body, files: [file], people: [{ name, address: 'a@b.example' }] }),
    ),
  );
  // Another way: all words of a message taken apart, each compared from its beginning.
  const plain = (query: string): string[] => {
    const asked = query
      .split(/[^\p{L}\p{N}]+/u)
      .filter(Boolean)
      .map(foldLetters);
    return messages
      .map(({ subject, body, file, name }, at) => ({
        at,
        words: [subject, body, file, name, 'a b example']
          .join(' ')
          .split(/[^\p{L}\p{N}]+/u)
          .map(foldLetters),
      }))
      .filter(({ words }) => asked.every((one) => words.some((word) => word.startsWith(one))))
      .map(({ at }) => String(at))
      .reverse();
  };
  for (const query of [
    't',
    'teal',
    'TEAL fahr',
    'strass hull',
    '26',
    'ar 2611',
    'crewe',
    'orst naiv',
    'nothing',
    'a b',
    '',
  ])
    expect(index.find({ query }, { offset: 0, limit: 5_000 }).hits.map(({ id }) => id)).toEqual(plain(query));
});

test('words are shortened, never inside of a character, and stay what the schema takes', () => {
  const long = wordsOf({
    text: `${'x'.repeat(23_999)}🚢 and more`,
    files: Array.from({ length: 90 }, () => ({ name: 'n'.repeat(300) })),
  });
  expect(long.text).toBe('x'.repeat(23_999));
  expect(long.files).toHaveLength(60);
  expect(wordsSchema.parse(long)).toEqual(long);
});
