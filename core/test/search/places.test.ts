import { placesOf } from '../../src/search/fold';
import fc from 'fast-check';

const found = (text: string, phrase: string): string[] =>
  placesOf(text, phrase).map(({ from, to }) => text.slice(from, to));

test.each([
  ['The hull. The HULL', 'hull', ['hull', 'HULL']],
  ['Überführung nach Ålesund', 'alesund', ['Ålesund']],
  ['Cafe\u0301 and café', 'café', ['Cafe', 'café']],
  ['Straße', 'strasse', ['Straße']],
  ['straße', 'ass', ['aß']],
  ['line\n  break', 'line break', ['line\n  break']],
  ['aaaa', 'aa', ['aa', 'aa']],
  ['nothing here', 'nowhere', []],
  ['anything', '   ', []],
  ['𝔸 boat and a 🚢 ship', '🚢 SHIP', ['🚢 ship']],
])('in “%s”, “%s” is found', (text, phrase, expected) => {
  expect(found(text, phrase)).toEqual(expected);
});

test('what stands in a text is found where it stands, whatever is around it', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'binary' }),
      fc.stringMatching(/^[a-z]{3,8}$/),
      fc.string({ unit: 'binary' }),
      (before, word, after) => {
        const places = placesOf(`${before} ${word} ${after}`, word.toUpperCase());
        expect(places.some(({ from, to }) => `${before} ${word} ${after}`.slice(from, to) === word)).toBe(true);
      },
    ),
  );
});

test('no more than asked for, in order, none over another', () => {
  const places = placesOf('ab '.repeat(5000), 'ab', 100);
  expect(places).toHaveLength(100);
  for (const [index, { from }] of places.entries())
    if (index > 0) expect(from).toBeGreaterThanOrEqual(places[index - 1]!.to);
});
