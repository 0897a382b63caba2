import { isCommonPassword } from './common-passwords';

/**
 * NIST SP 800-63B §5.1.1.2 asks for 8 at least and no composition rules; this office asks for 12. Apart from the
 * stretching, so that a page can know the rule without loading Argon2.
 */
export const PASSWORD_MIN_LENGTH = 12;
export const PASSWORD_MAX_LENGTH = 256;

/**
 * Guesses a new password for signing in has to stand, as their logarithm: the vault behind it is worth a stolen table's
 * while, and Argon2id makes each guess dear.
 */
export const ACCOUNT_GUESSES = 10;

export interface PasswordPair {
  first: string;
  second: string;
}
export type PasswordProblem = 'too-short' | 'too-long' | 'holds-address' | 'repeats' | 'common' | 'differ';

/**
 * What is wrong with a new password typed twice, or undefined. Length is what counts; the address is the first thing
 * anybody would try.
 */
export function passwordProblem({ first, second }: PasswordPair, address: string): PasswordProblem | undefined {
  if ([...first].length < PASSWORD_MIN_LENGTH) return 'too-short';
  if (first.length > PASSWORD_MAX_LENGTH) return 'too-long';
  const [local = ''] = address.toLowerCase().split('@');
  if (local.length > 3 && first.toLowerCase().includes(local)) return 'holds-address';
  if (new Set(first).size < 5) return 'repeats';
  if (isCommonPassword(first)) return 'common';
  return first === second ? undefined : 'differ';
}
