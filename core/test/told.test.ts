/** One-time passwords that a sender tells: how they are made, typed and proved. */
import { randomBytes, toHex } from '../src/bytes';
import { makeTold, readTold, toldProof } from '../src/identity/told';

test('eight digits in two groups, and not the same twice', () => {
  const made = Array.from({ length: 500 }, makeTold);
  for (const one of made) expect(one).toMatch(/^\d{4} \d{4}$/);
  expect(new Set(made).size).toBe(made.length);
  // Every digit in every place.
  for (const place of [0, 1, 2, 3, 5, 6, 7, 8]) expect(new Set(made.map((one) => one[place])).size).toBe(10);
});

test('is read however it was typed, and nothing else is', () => {
  for (const typed of ['48210937', '4821 0937', ' 4821-0937 ', '48.21.09.37', '４８２１ ０９３７'])
    expect(readTold(typed)).toBe('48210937');
  for (const typed of ['', '4821', '482109371', 'abcdefgh', '4821 093x']) expect(readTold(typed)).toBeUndefined();
});

test('its proof needs the link too', async () => {
  const share = randomBytes(32);
  const proof = toHex(await toldProof('4821 0937', share));
  expect(toHex(await toldProof('48210937', share))).toBe(proof);
  expect(toHex(await toldProof('4821 0938', share))).not.toBe(proof);
  expect(toHex(await toldProof('4821 0937', randomBytes(32)))).not.toBe(proof);
});
