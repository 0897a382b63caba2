/**
 * What a receipt has for reading the answer, and the numbers of receipts: Crockford's base 32 (no I, L, O, U), in
 * groups that can be read out.
 */
import { base32crockford } from '@scure/base';
import { type Bytes, randomBytes } from '../bytes';

const inTwo = (bytes: Bytes, half: number): string => {
  const text = base32crockford.encode(bytes);
  return `${text.slice(0, half)}-${text.slice(half, 2 * half)}`;
};

/** 50 bits. It is asked for under limits of the access, and proves nothing anywhere else. */
export const makeAnswerCode = (random: (length: number) => Bytes = randomBytes): string => inTwo(random(7), 5);

/** 40 bits: no receipt's number tells how many there are. */
export const makeReceiptNumber = (random: (length: number) => Bytes = randomBytes): string => inTwo(random(5), 4);
