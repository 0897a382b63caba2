/** Nine languages: what is said in each of them by the core, with the forms that numbers take. */
import { directionOf, firstSpoken, LANGUAGES, REGIONS, spokenIn } from '../src/language';
import { coverWords } from '../src/locks/file/cover';
import { noticeWords } from '../src/notice/words';
import { counting, listing, PLURAL_FORMS } from '../src/wording';
import { faultsIn } from './catalogue';

const COUNTS = [...Array(201).keys(), 1_000, 1_001, 1_002];

describe.each(LANGUAGES)('%s', (language) => {
  test('says everything a notice says', () => {
    const alike = new Set(['language']);
    expect(faultsIn(language, noticeWords('en'), noticeWords(language), alike)).toEqual([]);
  });

  test('says everything a note around a file says', () => {
    const alike = new Set(['date', 'messageName', 'from', 'cc', 'nobody']);
    expect(
      faultsIn(language, { ...coverWords('en'), nobody: '' }, { ...coverWords(language), nobody: '' }, alike),
    ).toEqual([]);
  });

  test('has the forms that its numbers take', () => {
    const rules = new Intl.PluralRules(REGIONS[language]);
    const needed: readonly string[] = PLURAL_FORMS[language];
    expect(COUNTS.filter((count) => !needed.includes(rules.select(count)))).toEqual([]);
    expect([...new Set(COUNTS.map((count) => rules.select(count)))].sort()).toEqual([...needed].sort());
  });

  test('is told apart from others by its tag, and has its dates by region', () => {
    expect(firstSpoken([`${language}-XX`])).toBe(language);
    expect(new Intl.DateTimeFormat(REGIONS[language]).resolvedOptions()).toMatchObject({
      locale: expect.stringMatching(new RegExp(`^${language}`)) as string,
      numberingSystem: 'latn',
    });
  });
});

test.each([
  ['pl', (count: number) => counting('pl')(count, { one: '# minuta', few: '# minuty', many: '# minut' })],
  ['en', (count: number) => counting('en')(count, { one: '# minute', other: '# minutes' })],
] as const)('a count stands in its form: %s', (language, say) => {
  expect([0, 1, 2, 5, 12, 22, 25, 1_000_000].map(say)).toEqual(
    language === 'pl'
      ? ['0 minut', '1 minuta', '2 minuty', '5 minut', '12 minut', '22 minuty', '25 minut', '1000000 minut']
      : [
          '0 minutes',
          '1 minute',
          '2 minutes',
          '5 minutes',
          '12 minutes',
          '22 minutes',
          '25 minutes',
          '1000000 minutes',
        ],
  );
});

test('all six forms of Arabic', () => {
  const forms = { zero: 'zero', one: 'one', two: 'two', few: 'few', many: 'many', other: 'other' };
  expect([0, 1, 2, 3, 11, 100].map((count) => counting('ar')(count, forms))).toEqual(Object.values(forms));
});

test('whole millions, which some languages count apart, read like the rest', () => {
  for (const language of ['fr', 'es', 'it', 'pt'] as const) {
    expect(new Intl.PluralRules(REGIONS[language]).select(1_000_000)).toBe('many');
    expect(counting(language)(1_000_000, { one: '#', other: '# x' })).toBe('1000000 x');
  }
});

test('a list is joined as its language joins one', () => {
  expect(LANGUAGES.map((language) => listing(language)(['a', 'b', 'c']))).toEqual([
    'a, b and c',
    'a, b und c',
    'a, b e c',
    'a, b et c',
    'a, b y c',
    'a, b e c',
    'a, b en c',
    'a, b i c',
    'a وb وc',
  ]);
});

test('Arabic runs from right to left, and a page says so', () => {
  expect(LANGUAGES.filter((one) => directionOf(one) === 'rtl')).toEqual(['ar']);
  expect([spokenIn('ar'), spokenIn('pl')]).toEqual(['lang="ar" dir="rtl"', 'lang="pl"']);
});

test('a language we do not speak is not taken for one that begins alike', () => {
  expect(firstSpoken(['arn-CL', 'est', 'PL_pl'])).toBe('pl');
  expect(firstSpoken(['fil'])).toBe('en');
});

test('what is wrong with a catalogue is found', () => {
  const english = {
    said: 'The whole sentence',
    to: (name: string, date: string) => `To ${name} on ${date}`,
    gap: 'x',
    deep: { one: 'y' },
  };
  const wrong = { said: 'The whole sentence', to: (name: string) => `An ${name}`, gap: ' ', more: 'z', deep: {} };
  expect(faultsIn('de', english, wrong, new Set())).toEqual([
    'deep.one is missing',
    'said is English: The whole sentence',
    'to names GivenA and not GivenA,GivenB',
    'gap has a gap:  ',
    'more is nothing that English says',
  ]);
});
