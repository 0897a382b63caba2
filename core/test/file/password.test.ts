import { newPassword } from '../../src/passwords/generate';
import { GUESSES, passwordProblem } from '../../src/passwords/minimum';
import { passwordFinder } from '../../src/passwords/place';
import { isWords, spelt } from '../../src/passwords/spell';
import { guessesOf } from '../../src/passwords/strength';

test('what is generated keeps to what is asked of passwords, and is never the same', () => {
  for (const kind of ['words', 'characters'] as const) {
    const made = Array.from({ length: 8 }, () => newPassword(kind));
    expect(new Set(made).size).toBe(8);
    for (const one of made) {
      expect(passwordProblem(one)).toBeUndefined();
      expect(guessesOf(one, [])).toBeGreaterThanOrEqual(GUESSES.usual);
    }
  }
  expect(newPassword('words')).toMatch(/^[a-z]+(-[a-z-]+){4}$/);
  // Nothing that is taken for another when it is copied by hand.
  expect(newPassword('characters')).toMatch(/^(?:[a-km-np-z2-9]{4}-){3}[a-km-np-z2-9]{4}$/);
});

test.each([
  ['Sommer2026', 8],
  ['Larkmoor1', 8],
  ['passw0rd', 3],
  ['qwertzuiop', 6],
])('%s is guessed within 10^%d tries', (password, most) => {
  expect(guessesOf(password, ['Larkmoor'])).toBeLessThanOrEqual(most);
});

test('names of the two who share it make it weaker', () => {
  expect(guessesOf('Saltmarsh-Talvik', ['Saltmarsh', 'Talvik'])).toBeLessThan(guessesOf('Saltmarsh-Talvik', []));
});

test('a password of any length is judged', () => expect(guessesOf('x7'.repeat(5_000), [])).toBeGreaterThan(0));

test.each([
  ['short', 'too-short'],
  ['ü'.repeat(60), 'too-long'],
  ['x'.repeat(65), 'too-long'],
  ['tide\u200bharbour', 'control-characters'],
  ['tide\tharbour', 'control-characters'],
  [' tide harbour', 'blank-ends'],
  ['tide-harbour', undefined],
] as const)('%j: %s', (password, problem) => expect(passwordProblem(password)).toBe(problem));

describe('a password that stands in the mail is found', () => {
  const mail = { subject: 'Papers', text: 'Here they are.', fileNames: ['crew.pdf'] };
  test.each([
    ['tide-harbour-lantern', { ...mail, text: 'The password is tide-harbour-lantern.' }, 'text'],
    ['tide-harbour-lantern', { ...mail, text: 'It is Tide Harbour Lantern!' }, 'text'],
    ['tide-harbour-lantern', { ...mail, text: 'tide–harbour–\nlantern' }, 'text'],
    ['Größe-7', { ...mail, subject: 'Größe-7'.normalize('NFD') }, 'subject'],
    ['k3mw-x7tp', { ...mail, fileNames: ['a.pdf', 'pw k3mwx7tp.zip'] }, 'file-name'],
    ['tide-harbour-lantern', mail, undefined],
    ['tide-harbour', { ...mail, text: 'The tide in the harbour' }, undefined],
    ['a-b', { ...mail, text: 'ab' }, undefined],
  ] as const)('%s', (password, said, place) => expect(passwordFinder(said)(password)).toBe(place));
});

test('it is spelt so that capitals, digits and signs can be told apart', () => {
  expect(spelt('Kj7-ü').map(({ said }) => said)).toEqual(['capital Kilo', 'Juliett', '7', 'dash', 'ü']);
  expect(isWords('tide-harbour-lantern')).toBe(true);
  expect(isWords('k3mw-x7tp')).toBe(false);
});
