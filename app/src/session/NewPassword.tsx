import {
  ACCOUNT_GUESSES,
  PASSWORD_MAX_LENGTH,
  PASSWORD_MIN_LENGTH,
  passwordProblem as problemOf,
  type PasswordPair,
  type PasswordProblem,
} from '@under-lock/core/account/password-rules';
import { PasswordField, Stack } from '@under-lock/ui';
import { keysDoor } from '../threads/keys/door';

const problems: Record<PasswordProblem, string> = {
  'too-short': `Use at least ${PASSWORD_MIN_LENGTH} characters. Four or five unrelated words are easy to remember.`,
  'too-long': `Use at most ${PASSWORD_MAX_LENGTH} characters.`,
  'holds-address': 'Leave your address out of it.',
  common:
    'Many people have this one, so it is among the first to be tried. Four or five unrelated words are easy to remember.',
  repeats: 'That repeats itself too much. Use more different characters.',
  differ: 'The two are not the same.',
};

/** What is wrong with a new password, or undefined. */
export function passwordProblem(pair: PasswordPair, address: string): string | undefined {
  const problem = problemOf(pair, address);
  return problem === undefined ? undefined : problems[problem];
}

/**
 * Likewise, and whether it would stand up to somebody who has all the time there is. The estimator's word lists are
 * fetched only here.
 */
export async function weakPasswordProblem(
  pair: PasswordPair,
  address: string,
  known: readonly string[] = [],
): Promise<string | undefined> {
  const problem = passwordProblem(pair, address);
  if (problem !== undefined) return problem;
  const guesses = await keysDoor().file.guesses(pair.first, [address, ...address.split(/[@.]/), ...known]);
  return guesses < ACCOUNT_GUESSES
    ? 'This would be guessed too quickly. Four or five unrelated words are easy to remember.'
    : undefined;
}

export function NewPassword({
  pair,
  onChange,
  error,
}: {
  pair: PasswordPair;
  onChange: (pair: PasswordPair) => void;
  error?: string | undefined;
}) {
  // It stands where it is put right: only of two that are not the same the second is asked for again.
  const [first, second] = error === problems.differ ? [undefined, error] : [error, undefined];
  return (
    <Stack>
      <PasswordField
        label="New password"
        value={pair.first}
        onChangeText={(typed) => onChange({ ...pair, first: typed })}
        autoComplete="new-password"
        hint={`At least ${PASSWORD_MIN_LENGTH} characters.`}
        error={first}
      />
      <PasswordField
        label="The same once more"
        value={pair.second}
        onChangeText={(typed) => onChange({ ...pair, second: typed })}
        autoComplete="new-password"
        error={second}
      />
    </Stack>
  );
}
