import { withClosingWords } from '../src/vault/closing-words';

test('a message begins with an empty line to write in, and the words below, as text and nothing else', () => {
  expect(withClosingWords('Maren Oduya\nCrew records <pier>\n')).toBe(
    '<p></p><p></p><p>Maren Oduya<br>Crew records &#60;pier&#62;</p>',
  );
  expect(withClosingWords(' \n ')).toBe('');
});
