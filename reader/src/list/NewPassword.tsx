import {
  PASSWORD_MAX_LENGTH,
  PASSWORD_MIN_LENGTH,
  passwordProblem,
  type PasswordPair,
} from '@under-lock/core/account/password-rules';
import { PasswordField } from '@under-lock/ui';
import { listWords } from './words';

/** What is wrong with a new password, in words, or undefined. */
export function newPasswordProblem(pair: PasswordPair, address: string): string | undefined {
  const problem = passwordProblem(pair, address);
  return problem === undefined
    ? undefined
    : listWords.passwordProblems[problem](problem === 'too-long' ? PASSWORD_MAX_LENGTH : PASSWORD_MIN_LENGTH);
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
  return (
    <>
      <PasswordField
        show={listWords.show}
        hide={listWords.hidePassword}
        label={listWords.newPassword}
        value={pair.first}
        onChangeText={(first) => onChange({ ...pair, first })}
        autoComplete="new-password"
        hint={listWords.passwordHint(PASSWORD_MIN_LENGTH)}
      />
      <PasswordField
        show={listWords.show}
        hide={listWords.hidePassword}
        label={listWords.onceMore}
        value={pair.second}
        onChangeText={(second) => onChange({ ...pair, second })}
        autoComplete="new-password"
        error={error}
      />
    </>
  );
}
