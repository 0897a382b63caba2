/** The office's own words and patterns: found as offices write, refused with their place, never running away. */
import fc from 'fast-check';
import { scanText, officeFinder } from '../../src/scan/text';
import { type OfficePattern } from '../../src/scan/listed';
import { patternProblem } from '../../src/scan/patterns';

const list = (words: string[]) => ({ id: '8f5a2f5e-0d8e-4a8e-9d57-3f3c5b8e2a11', name: 'Bids', words });
const pattern = (text: string, exact = false): OfficePattern => ({
  id: '0d1a6e1c-5b1e-4a9e-8a57-1f3c5b8e2a22',
  name: 'Berth',
  pattern: text,
  exact,
});
const seen = (text: string, words: string[], patterns: OfficePattern[] = []): string[] => {
  const office = officeFinder({ words: [list(words)], patterns });
  return scanText(text, { thisYear: 2026, office }).map(({ kind, from, to }) => `${kind}: ${text.slice(from, to)}`);
};

test('words are found whole, whatever their case, accents, endings and what parts them', () => {
  expect(seen('The SEALED BIDS, a sealed-bid and sealed\nbid', ['sealed bid'])).toEqual([
    'word: sealed-bid',
    'word: sealed\nbid',
  ]);
  expect(seen('Vertragsstrafen, VERTRAGSSTRAFE; vertragsstrafrechtlich', ['Vertragsstrafe'])).toEqual([
    'word: Vertragsstrafen',
    'word: VERTRAGSSTRAFE',
  ]);
  expect(seen('résumé Resumes RÉSUMÉ', ['resume'])).toEqual(['word: résumé', 'word: Resumes', 'word: RÉSUMÉ']);
  expect(seen('a bidet, a forbidden bid', ['bid'])).toEqual(['word: bid']);
  expect(seen('C++ and c.+', ['c++'])).toEqual(['word: C++']);
});

test('patterns are found, with case or without, by their lines', () => {
  expect(seen('Berth B-12 and b-7', [], [pattern(String.raw`\bB-\d{1,3}\b`)])).toEqual([
    'pattern: B-12',
    'pattern: b-7',
  ]);
  expect(seen('Berth B-12 and b-7', [], [pattern(String.raw`\bB-\d{1,3}\b`, true)])).toEqual(['pattern: B-12']);
  expect(seen('x\nTender 9', [], [pattern('^Tender')])).toEqual(['pattern: Tender']);
});

test.each([
  ['(open', 'A bracket ( is not closed', '(open'],
  ['closed)', 'A bracket ) was not opened', 'closed)'],
  ['[a-', 'A bracket [ is not closed', '[a-'],
  ['*x', 'A sign of repetition has nothing to repeat', '*'],
  ['a(?=b)', 'It looks ahead, looks behind or refers back, which no pattern may here', '(?='],
  [String.raw`(a)\1`, 'A sign after \\ that means nothing here', String.raw`\1`],
  ['[z-a]', 'A range from a later sign to an earlier one', 'z-a'],
  ['x{2000}', 'Something is to be repeated more often than a thousand times', '{2000}'],
  ['a*', 'It fits where nothing stands, so it would be found everywhere', undefined],
])('%s can’t be taken', (text, what, where) => {
  expect(patternProblem(pattern(text))).toEqual({ what, ...(where === undefined ? {} : { where }) });
});

test('patterns built to run away take no longer than others', () => {
  const evil = ['(a+)+$', '(a|aa)+$', '(a|a?)+b', String.raw`(\w+\s?)*!`, '(x+x+)+y', '(.*)*z'];
  const text = `${'a'.repeat(50_000)} ${'x'.repeat(50_000)}`;
  for (const one of evil)
    scanText(text, { thisYear: 2026, office: officeFinder({ words: [], patterns: [pattern(one)] }) });
}, 20_000);

test('whatever words an office lists, its list is taken', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ minLength: 2, maxLength: 30 })), fc.string(), (words, text) => {
      seen(text, words);
    }),
  );
});
