/** Base64 in lines as Node's own coder has it, at every length and with whatever stands between. */
import fc from 'fast-check';
import { concat } from '../src/bytes';
import { base64Lines, base64LinesOf, fromBase64Lines } from '../src/message/base64';

const asNode = (bytes: Uint8Array): string =>
  Buffer.from(bytes)
    .toString('base64')
    .replace(/.{1,76}/g, '$&\r\n');
const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString('latin1');

test.each(Array.from({ length: 130 }, (_, length) => length))('%d octets', (length) => {
  const bytes = Uint8Array.from({ length }, (_, index) => (index * 37 + length) & 255);
  expect(text(base64Lines(bytes))).toBe(asNode(bytes));
  expect([...fromBase64Lines(base64Lines(bytes))]).toEqual([...bytes]);
});

test('any octets, also from the middle of a buffer', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 3000 }), fc.nat(7), (octets, offset) => {
      const bytes = new Uint8Array(octets).subarray(Math.min(offset, octets.length));
      expect(text(base64Lines(bytes))).toBe(asNode(bytes));
      const lines = base64Lines(bytes);
      const shifted = new Uint8Array(lines.length + offset);
      shifted.set(lines, offset);
      expect(Buffer.from(fromBase64Lines(shifted.subarray(offset))).equals(Buffer.from(bytes))).toBe(true);
    }),
  );
});

test('pieces as if they were one, below a head of any length', () => {
  fc.assert(
    fc.property(
      fc.array(fc.uint8Array({ maxLength: 200 }), { maxLength: 8 }),
      fc.uint8Array({ maxLength: 9 }),
      (pieces, head) => {
        const whole = concat(...pieces);
        expect(text(base64LinesOf(pieces, head))).toBe(text(head) + asNode(whole));
      },
    ),
  );
});

test('what is no character of it is passed over, and nothing after the padding counts', () => {
  fc.assert(
    fc.property(
      fc.uint8Array({ minLength: 1, maxLength: 300 }),
      fc.array(fc.tuple(fc.nat(400), fc.constantFrom(' ', '\n', '\r\n', '\t', '-', '\u0000', 'é'))),
      (octets, noise) => {
        let coded = Buffer.from(octets).toString('base64').replace(/=+$/, '');
        for (const [at, what] of noise)
          coded = `${coded.slice(0, at % (coded.length + 1))}${what}${coded.slice(at % (coded.length + 1))}`;
        expect(Buffer.from(fromBase64Lines(Buffer.from(`${coded}=AAAA`, 'latin1'))).equals(Buffer.from(octets))).toBe(
          true,
        );
      },
    ),
  );
  expect(fromBase64Lines(new Uint8Array())).toHaveLength(0);
  expect(fromBase64Lines(Buffer.from('A'))).toHaveLength(0);
});
