/** Passwords for locked files, made by the engine's random numbers. */
import { generateCharacters, generatePassphrase } from 'secure-password-utilities';
import { DEFAULT_WORDLIST } from 'secure-password-utilities/wordlists';
import { type PasswordKind } from '../ways/password-kind';

/** Words of the EFF's long list (7,776 words, 12.9 bits each): 64 bits, and easy to say on the phone. */
export const WORDS = 5;
/** 32 characters that nobody takes for another when they are read out or copied by hand (5 bits each): 80 bits. */
const CLEAR_CHARACTERS = 'abcdefghijkmnpqrstuvwxyz23456789';
export const CHARACTERS = 16;

/** Logarithm to base 10 of how many there could be, rounded down to tenths. */
export const GUESSES_OF_NEW: Record<PasswordKind, number> = {
  words: Math.floor(10 * WORDS * Math.log10(Object.keys(DEFAULT_WORDLIST).length)) / 10,
  characters: Math.floor(10 * CHARACTERS * Math.log10(CLEAR_CHARACTERS.length)) / 10,
};

/** In fours, so that they can be copied: `k3mw-x7tp-…`. */
export const newPassword = (kind: PasswordKind): string =>
  kind === 'words'
    ? generatePassphrase(WORDS, DEFAULT_WORDLIST, '-')
    : generateCharacters(CHARACTERS, CLEAR_CHARACTERS).match(/.{4}/g)!.join('-');
