/** What is typed or given on the way to a choice, and what is wrong with it. */
import { isPortablePassword } from '@under-lock/core/key-files/pkcs12/password';
import { PASSWORD_LENGTH, passwordProblem } from '@under-lock/core/passwords/minimum';
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { isProblem } from '@under-lock/contract/problem';
import { momentInWords } from '@under-lock/core/when';
import { language } from '../words/words';
import { chooseWords } from './words';
import { zone } from '../zone';

/** What is wrong with a password for locked files, before it is known how hard it is to guess. */
export function filePasswordProblem({ first, second }: PasswordPair): string | undefined {
  const said = chooseWords.passwordProblems;
  const problem = passwordProblem(first);
  if (problem === 'too-short') return said['too-short'](PASSWORD_LENGTH.min);
  if (problem === 'too-long') return said['too-long'](PASSWORD_LENGTH.max);
  if (problem !== undefined) return said[problem]();
  return first === second ? undefined : said.differs();
}

/** The same for a file of keys, which other programs ask it for. */
export const keyPasswordProblem = (pair: PasswordPair): string | undefined =>
  filePasswordProblem(pair) ??
  (isPortablePassword(pair.first) ? undefined : chooseWords.passwordProblems['not-portable']());

/** What went wrong while choosing; what was typed is kept. */
export function sayProblem(error: unknown): string {
  if (error instanceof RangeError || (error instanceof Error && error.name === 'RangeError'))
    return chooseWords.notAscii;
  if (!isProblem(error)) return chooseWords.failed;
  const { code, details } = error;
  switch (code) {
    case 'unreachable':
      return details.status === 502 ? chooseWords.authorityAway : chooseWords.offline;
    case 'too-many-tries':
      return chooseWords.tooOften(momentInWords(new Date(details.until ?? Date.now()), new Date(), zone, language));
    default:
      return chooseWords.failed;
  }
}
