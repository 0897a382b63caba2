/**
 * Every language says everything: the same sentences with the same places, and not English by oversight.
 */
import { isLanguage, LANGUAGES, type Language } from '@under-lock/core/language';
import { faultsIn } from '../../core/test/catalogue';
import { lockedPageWords } from '../src/locked-page/words';
import { rightsSentences } from '../src/rights';
import { ALL_RIGHTS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { backTo, language, speak, words } from '../src/words/words';
import { catalogue as english } from '../src/words/room/en';
import { catalogue as german } from '../src/words/room/de';
import { catalogue as portuguese } from '../src/words/room/pt';
import { catalogue as polishList } from '../src/words/list/pl';
import { catalogue as arabicList } from '../src/words/list/ar';
import { catalogue as germanList } from '../src/words/list/de';

const AREAS = ['room', 'list', 'choose', 'slot', 'carried'] as const;
const catalogueOf = (area: (typeof AREAS)[number], spoken: Language): object =>
  // By name: one that is missing is a failure of its own.
  (jest.requireActual(`../src/words/${area}/${spoken}`) as { catalogue: object }).catalogue;

/** The same in more than one language, rightly. */
const alike = new Set([
  'cancel',
  'passcode',
  'sender',
  'arrived',
  'reference',
  'cc',
  'to',
  'paperDate',
  'page',
  'files',
  'text',
  'password',
  'Code',
]);

describe.each(LANGUAGES)('%s', (spoken) => {
  test.each(AREAS)('%s', (area) => {
    expect(faultsIn(spoken, catalogueOf(area, 'en'), catalogueOf(area, spoken), alike)).toEqual([]);
  });
  test('the self-opening page', () => {
    expect(faultsIn(spoken, lockedPageWords.en, lockedPageWords[spoken], alike)).toEqual([]);
  });
});

test('numbers have their own forms', () => {
  expect([english.wrongPasscode(1), english.wrongPasscode(2)].map((said) => /(\d tr\w+) left/.exec(said)![1])).toEqual([
    '1 try',
    '2 tries',
  ]);
  expect([germanList.digitsWrong(1), germanList.digitsWrong(3)].map((said) => /Noch (\d \w+)/.exec(said)![1])).toEqual([
    '1 Versuch',
    '3 Versuche',
  ]);
  expect([1, 2, 5, 22].map((left) => /(\S+ \d+ \S+),/.exec(polishList.digitsWrong(left))![1])).toEqual([
    'Została 1 próba',
    'Zostały 2 próby',
    'Zostało 5 prób',
    'Zostały 22 próby',
  ]);
  expect([1, 2, 3, 11].map(arabicList.searched)).toEqual([
    'بُحث في رسالة واحدة.',
    'بُحث في رسالتين.',
    'بُحث في 3 رسائل.',
    'بُحث في 11 رسالة.',
  ]);
});

const notAsked = (): Promise<typeof english> => Promise.reject(new Error('not asked for'));
const noneElse = { pt: notAsked, fr: notAsked, es: notAsked, it: notAsked, nl: notAsked, pl: notAsked, ar: notAsked };

test('the language asked for last is the one spoken, whichever comes first, and English where a catalogue can’t be had', async () => {
  const late: (() => void)[] = [];
  const from = {
    ...noneElse,
    de: () => new Promise<typeof english>((done) => late.push(() => done(german))),
    pt: async () => portuguese,
  };
  const first = speak('de', from);
  await speak('pt', from);
  late[0]!();
  await first;
  expect([language, words.open]).toEqual(['pt', portuguese.open]);
  await speak('de', { ...from, de: () => Promise.reject(new Error('no line')) });
  expect([language, words.open]).toEqual(['en', english.open]);
});

test('what a reader may do, in sentences', () => {
  expect(rightsSentences({ rights: { ...NO_RIGHTS, reply: true, copy: true }, watermark: false })).toEqual([
    'You may reply and copy text.',
    'The sender has switched off: reply to all, forward, print and save the files.',
  ]);
  expect(rightsSentences({ rights: NO_RIGHTS, watermark: true })).toEqual([
    'You may only look.',
    'Your name and the time lie over it.',
  ]);
  expect(rightsSentences({ rights: ALL_RIGHTS, watermark: false })).toHaveLength(1);
});

test('the way back points to where lines begin', async () => {
  await speak('ar', { de: notAsked, ...noneElse, ar: async () => english });
  expect(backTo('x')).toBe('› x');
  await speak('en');
  expect(backTo('x')).toBe('‹ x');
  expect(isLanguage(language)).toBe(true);
});
