import { PASSWORD_MAX_LENGTH, PASSWORD_MIN_LENGTH, passwordProblem as problemOf, type PasswordPair, type PasswordProblem } from '@under-lock/core/account/password-rules';
import { PasswordField, Stack } from '@under-lock/ui';

const problems: Record<PasswordProblem, string> = {
  'too-short': `Use at least ${PASSWORD_MIN_LENGTH} characters. Four or five unrelated words are easy to remember.`,
  'too-long': `Use at most ${PASSWORD_MAX_LENGTH} characters.`,
  'holds-address': 'Leave your address out of it.',
  repeats: 'That repeats itself too much. Use more different characters.',
  differ: 'The two are not the same.',
};

/** What is wrong with a new password, or undefined. */
export function passwordProblem(pair: PasswordPair, address: string): string | undefined {
  const problem = problemOf(pair, address);
  return problem === undefined ? undefined : problems[problem];
}

export function NewPassword({ pair, onChange, error }: { pair: PasswordPair; onChange: (pair: PasswordPair) => void; error?: string | undefined }) {
  return (
    <Stack>
      <PasswordField label="New password" value={pair.first} onChangeText={(first) => onChange({ ...pair, first })} autoComplete="new-password" hint={`At least ${PASSWORD_MIN_LENGTH} characters.`} />
      <PasswordField label="The same once more" value={pair.second} onChangeText={(second) => onChange({ ...pair, second })} autoComplete="new-password" error={error} />
    </Stack>
  );
}
