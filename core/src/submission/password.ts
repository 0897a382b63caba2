/**
 * What a mail program signs in with instead of its owner's password: 100 random bits in Crockford's base 32 (no I, L, O,
 * U), in groups of five. It is typed once, and by people: any case, blanks and dashes do.
 */
import { base32crockford } from '@scure/base';
import { type Bytes, randomBytes } from '../bytes';

const LETTERS = 20;

export function devicePassword(random: (length: number) => Bytes = randomBytes): string {
  // Thirteen octets are 104 bits; the last letter goes.
  const text = base32crockford.encode(random(13)).slice(0, LETTERS).toLowerCase();
  return text.match(/.{5}/g)!.join('-');
}

/** As it was made, however it was typed. */
export const spelledPlainly = (typed: string): string =>
  typed.toLowerCase().replace(/[\s-]/g, '').replace(/o/g, '0').replace(/[il]/g, '1');
