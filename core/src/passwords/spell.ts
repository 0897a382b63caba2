/** A password as it is read out on the phone: character by character where it is no words. */

/** The spelling alphabet of the ITU and ICAO (Radio Regulations, Appendix 14), as most of the world knows it. */
const LETTERS: Record<string, string> = {
  a: 'Alfa',
  b: 'Bravo',
  c: 'Charlie',
  d: 'Delta',
  e: 'Echo',
  f: 'Foxtrot',
  g: 'Golf',
  h: 'Hotel',
  i: 'India',
  j: 'Juliett',
  k: 'Kilo',
  l: 'Lima',
  m: 'Mike',
  n: 'November',
  o: 'Oscar',
  p: 'Papa',
  q: 'Quebec',
  r: 'Romeo',
  s: 'Sierra',
  t: 'Tango',
  u: 'Uniform',
  v: 'Victor',
  w: 'Whiskey',
  x: 'X-ray',
  y: 'Yankee',
  z: 'Zulu',
};
const SIGNS: Record<string, string> = {
  '-': 'dash',
  ' ': 'blank',
  '.': 'full stop',
  ',': 'comma',
  _: 'underscore',
  '/': 'slash',
  '\\': 'backslash',
  '@': 'at sign',
  '#': 'hash',
  '!': 'exclamation mark',
  '?': 'question mark',
  '+': 'plus',
  '*': 'star',
  '&': 'ampersand',
  '%': 'per cent',
  $: 'dollar',
  '=': 'equals',
  ':': 'colon',
  ';': 'semicolon',
  '(': 'opening bracket',
  ')': 'closing bracket',
  "'": 'apostrophe',
  '"': 'quotation mark',
  '~': 'tilde',
  '^': 'caret',
  '<': 'less than',
  '>': 'greater than',
  '|': 'bar',
  '[': 'opening square bracket',
  ']': 'closing square bracket',
  '{': 'opening brace',
  '}': 'closing brace',
  '`': 'grave accent',
  '€': 'euro',
  '£': 'pound',
};

export interface Spelt {
  character: string;
  said: string;
}

function saidOf(character: string): string {
  const letter = LETTERS[character.toLowerCase()];
  if (letter !== undefined) return character === character.toLowerCase() ? letter : `capital ${letter}`;
  return SIGNS[character] ?? character;
}

/** Every character with how it is said. */
export const spelt = (password: string): Spelt[] =>
  [...password.normalize('NFC')].map((character) => ({ character, said: saidOf(character) }));

/** Words in small letters with dashes are said as words; everything else is spelt. */
export const isWords = (password: string): boolean => /^[a-z]{2,}(?:-[a-z]{2,})+$/.test(password);
