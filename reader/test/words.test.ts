/**
 * Every language says everything: the same keys, whole sentences, what they are given, and not English by oversight.
 */
import { english } from '../src/words/en';
import { german } from '../src/words/de';
import { portuguese } from '../src/words/pt';
import { english as englishList } from '../src/words/list/en';
import { german as germanList } from '../src/words/list/de';
import { portuguese as portugueseList } from '../src/words/list/pt';
import { english as englishSlot } from '../src/slot/words/en';
import { german as germanSlot } from '../src/slot/words/de';
import { portuguese as portugueseSlot } from '../src/slot/words/pt';
import { english as englishChoose } from '../src/words/choose/en';
import { german as germanChoose } from '../src/words/choose/de';
import { portuguese as portugueseChoose } from '../src/words/choose/pt';
import { rightsSentences } from '../src/rights';
import { ALL_RIGHTS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { language, speak, words } from '../src/words/words';

type Catalogue = Record<string, unknown>;
/** Every sentence with its path; functions are given numbers and words in turn and must show what they say they do. */
function sentences(catalogue: Catalogue, path = ''): [string, string][] {
  return Object.entries(catalogue).flatMap(([key, value]): [string, string][] => {
    const at = `${path}${key}`;
    if (typeof value === 'string') return [[at, value]];
    if (typeof value === 'object' && value !== null) return sentences(value as Catalogue, `${at}.`);
    const say = value as (...given: unknown[]) => string;
    for (const given of [['Word', 'Word'], [3, false], [['A', 'B']]]) {
      try {
        const said = say(...given);
        if (typeof said === 'string') return [[at, said]];
      } catch {
        // It takes something else.
      }
    }
    throw new Error(`${at} says nothing`);
  });
}

/** The same in more than one language, rightly. */
const alike = new Set(['cancel', 'passcode', 'sender', 'arrived', 'reference', 'cc', 'to']);

describe.each([
  ['the room', english, german, portuguese],
  ['the list', englishList, germanList, portugueseList],
  ['choosing', englishChoose, germanChoose, portugueseChoose],
  ['the mail slot', englishSlot, germanSlot, portugueseSlot],
] as unknown as [string, Catalogue, Catalogue, Catalogue][])('%s', (_, en, de, pt) => {
  const own = sentences(en);
  test.each([
    ['German', de],
    ['Portuguese', pt],
  ])('%s has every sentence, and its own', (_language, other) => {
    const theirs = new Map(sentences(other));
    expect([...theirs.keys()]).toEqual(own.map(([key]) => key));
    const same = own.filter(
      ([key, said]) => theirs.get(key) === said && !alike.has(key) && /[a-z]{4}/.test(said.replace(/Word/g, '')),
    );
    expect(same).toEqual([]);
    for (const [key, said] of theirs)
      expect([key, said]).toEqual([key, expect.not.stringMatching(/undefined|NaN|\[object|^\s*$/)]);
  });
  test('no sentence has a gap', () => {
    for (const [key, said] of own)
      expect([key, said]).toEqual([key, expect.not.stringMatching(/undefined|NaN|\[object| {2}|^\s*$/)]);
  });
});

test('what the mail slot fills in stands in every language', () => {
  const places = (words: Catalogue) =>
    Object.entries(words).map(([key, said]) => [key, [...String(said).matchAll(/\{\w+\}/g)].map(String).sort()]);
  for (const other of [germanSlot, portugueseSlot]) expect(places(other)).toEqual(places(englishSlot));
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
  expect([portugueseList.searched(1), portugueseList.searched(2)]).toEqual([
    '1 mensagem procurada.',
    '2 mensagens procuradas.',
  ]);
});

test('the language asked for last is the one spoken, whichever comes first, and English where a catalogue can’t be had', async () => {
  const late: (() => void)[] = [];
  const from = {
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
