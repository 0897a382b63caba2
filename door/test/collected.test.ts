/** A mail in one piece, whatever its program announced, and however it came. */
import { concat } from '@under-lock/core/bytes';
import fc from 'fast-check';
import { Collected } from '../src/collected';

const MOST = 300_000;

test('what comes is what there is, announced or not, in pieces of any size', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 90_000 }), { maxLength: 12 }),
      fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 4 * MOST })),
      (sizes, announced) => {
        const pieces = sizes.map((size, index) => new Uint8Array(size).fill(index + 1));
        const whole = concat(...pieces);
        const collected = new Collected(announced, MOST);
        const add = (): void => pieces.forEach((piece) => collected.add(piece));
        if (whole.length > MOST) return expect(add).toThrow(RangeError);
        add();
        return expect(Buffer.compare(collected.bytes, whole)).toBe(0);
      },
    ),
  );
});

test('who announces more than there may be has no more set aside, and who announces rightly has it once', () => {
  expect(new Collected(1e15, MOST).bytes.buffer.byteLength).toBe(MOST);
  const right = new Collected(200_000, MOST);
  const { buffer } = right.bytes;
  for (let count = 0; count < 200; count++) right.add(new Uint8Array(1_000));
  expect(right.bytes.buffer).toBe(buffer);
});

test('what was dropped is given back', () => {
  const collected = new Collected(200_000, MOST);
  collected.add(new Uint8Array(100_000));
  collected.drop();
  expect(collected.bytes.buffer.byteLength).toBe(0);
});
