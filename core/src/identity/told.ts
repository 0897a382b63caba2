/**
 * A one-time password that the sender tells by another way than mail: eight digits, read out and typed like a telephone
 * number. It opens one session; nine wrong tries in the life of an access leave a chance below one in ten million.
 */
import { type Bytes, randomBytes, utf8 } from '../bytes';
import { hkdf } from '../sealing';

const DIGITS = 8;
const RANGE = 10 ** DIGITS;

/** Two groups of four digits. */
export function makeTold(): string {
  for (;;) {
    const number = new DataView(randomBytes(4).buffer).getUint32(0);
    // What is beyond the last whole range would make some of them likelier.
    if (number >= Math.floor(2 ** 32 / RANGE) * RANGE) continue;
    const digits = String(number % RANGE).padStart(DIGITS, '0');
    return `${digits.slice(0, 4)} ${digits.slice(4)}`;
  }
}

/** The digits of what was typed, with spaces or signs between; undefined when there are not eight. */
export function readTold(typed: string): string | undefined {
  const digits = typed.normalize('NFKC').replace(/[\s.\-–/]/g, '');
  return new RegExp(`^\\d{${DIGITS}}$`).test(digits) ? digits : undefined;
}

/** 16 octets that prove it to the server and tell it nothing: without the link a copied database can't be tried. */
export const toldProof = (told: string, readerShare: Bytes): Promise<Bytes> =>
  hkdf(readerShare, 'under-lock/room/told/v1', 16, utf8(readTold(told) ?? ''));
