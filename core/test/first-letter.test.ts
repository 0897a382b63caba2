/** Words put into a sentence. */
import { firstLower } from '../src/first-letter';

test.each([
  ['A question besides', 'a question besides'],
  ['Self-opening page', 'self-opening page'],
  ['PDF', 'PDF'],
  ['S/MIME', 'S/MIME'],
  ['OpenPGP key', 'OpenPGP key'],
  ['', ''],
])('“%s” stands in a sentence as “%s”', (text, within) => expect(firstLower(text)).toBe(within));
