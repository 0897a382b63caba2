/**
 * A fingerprint to compare by phone: as words of a published list of 2048, eleven bits each, none like another in its
 * first four letters.
 */
import { wordlist } from '@scure/bip39/wordlists/english.js';
import { hex } from '@scure/base';

/** Every bit of it, filled up with noughts at the end: fifteen words for version 4, twenty-four for version 6. */
export function inWords(fingerprint: string): string[] {
  const bits = [...hex.decode(fingerprint.toLowerCase())].map((octet) => octet.toString(2).padStart(8, '0')).join('');
  const words: string[] = [];
  for (let at = 0; at < bits.length; at += 11)
    words.push(wordlist[parseInt(bits.slice(at, at + 11).padEnd(11, '0'), 2)]!);
  return words;
}

/** What a QR picture of it says: the form that key programs scan (a URI of the scheme `openpgp4fpr`). */
export const asUri = (fingerprint: string): string => `openpgp4fpr:${fingerprint.toUpperCase()}`;
