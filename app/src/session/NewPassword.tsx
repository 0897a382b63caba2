import { PASSWORD_MAX_LENGTH, PASSWORD_MIN_LENGTH } from '@under-lock/core/account/password-rules';
import { PasswordField, Stack } from '@under-lock/ui';

export interface PasswordPair { first: string; second: string }

/** What is wrong with a new password, or undefined. Length is what counts; the address is the first thing anybody would try. */
export function passwordProblem({ first, second }: PasswordPair, address: string): string | undefined {
  if ([...first].length < PASSWORD_MIN_LENGTH) return `Use at least ${PASSWORD_MIN_LENGTH} characters. Four or five unrelated words are easy to remember.`;
  if (first.length > PASSWORD_MAX_LENGTH) return `Use at most ${PASSWORD_MAX_LENGTH} characters.`;
  const [local = ''] = address.toLowerCase().split('@');
  if (local.length > 3 && first.toLowerCase().includes(local)) return 'Leave your address out of it.';
  if (new Set(first).size < 5) return 'That repeats itself too much. Use more different characters.';
  if (first !== second) return 'The two are not the same.';
  return undefined;
}

export function NewPassword({ pair, onChange, error }: { pair: PasswordPair; onChange: (pair: PasswordPair) => void; error?: string | undefined }) {
  return (
    <Stack>
      <PasswordField label="New password" value={pair.first} onChangeText={(first) => onChange({ ...pair, first })} autoComplete="new-password" hint={`At least ${PASSWORD_MIN_LENGTH} characters.`} />
      <PasswordField label="The same once more" value={pair.second} onChangeText={(second) => onChange({ ...pair, second })} autoComplete="new-password" error={error} />
    </Stack>
  );
}
