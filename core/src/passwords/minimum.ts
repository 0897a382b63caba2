/**
 * What an office asks of a password for locked files. A stolen file can be tried without limit: the ZIP format's
 * 1,000 rounds let one rented machine try a hundred million passwords a
 * second, which makes 10^12 guesses a matter of hours and 10^16 one of years.
 */
export const GUESSES = { least: 8, usual: 12, most: 20 } as const;

export const PASSWORD_LENGTH = { min: 8, max: 64 } as const;

export type PasswordProblem = 'too-short' | 'too-long' | 'control-characters' | 'blank-ends';

/** What no strength makes up for: other programs refuse it, or a person copying it gets it wrong. */
export function passwordProblem(password: string): PasswordProblem | undefined {
  const normal = password.normalize('NFC');
  if ([...normal].length < PASSWORD_LENGTH.min) return 'too-short';
  // 99 octets is what ZIP programs take; PDF takes 127.
  if ([...normal].length > PASSWORD_LENGTH.max || new TextEncoder().encode(normal).length > 99) return 'too-long';
  if (/[\p{Cc}\p{Cf}]/u.test(normal)) return 'control-characters';
  return normal.trim() === normal ? undefined : 'blank-ends';
}
