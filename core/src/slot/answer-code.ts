/**
 * What a receipt has for reading the answer, and the numbers of receipts: Crockford's base 32 (no I, L, O, U), in
 * groups that can be read out.
 */
import { base32crockford } from '@scure/base';
import { type Bytes, randomBytes } from '../bytes';

const grouped = (bytes: Bytes, length: number): string =>
  base32crockford
    .encode(bytes)
    .slice(0, length)
    .replace(/.{5}(?=.)/g, '$&-');

/** 50 bits. It is asked for under limits of the access, and proves nothing anywhere else. */
export const makeAnswerCode = (random: (length: number) => Bytes = randomBytes): string => grouped(random(7), 10);

/** 40 bits: no receipt's number tells how many there are. */
export const makeReceiptNumber = (random: (length: number) => Bytes = randomBytes): string => {
  const text = base32crockford.encode(random(5));
  return `${text.slice(0, 4)}-${text.slice(4)}`;
};
