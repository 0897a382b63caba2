import {
  PASSWORD_MAX_LENGTH,
  PASSWORD_MIN_LENGTH,
  passwordProblem,
  type PasswordPair,
} from '@under-lock/core/account/password-rules';
import { type ComponentProps } from 'react';
import { PasswordPairFields } from '../PasswordPairFields';
import { listWords } from './words';

/** What is wrong with a new password, in words, or undefined. */
export function newPasswordProblem(pair: PasswordPair, address: string): string | undefined {
  const problem = passwordProblem(pair, address);
  return problem === undefined
    ? undefined
    : listWords.passwordProblems[problem](problem === 'too-long' ? PASSWORD_MAX_LENGTH : PASSWORD_MIN_LENGTH);
}

export function NewPassword(fields: Omit<ComponentProps<typeof PasswordPairFields>, 'labels'>) {
  const { newPassword: first, onceMore: second, show, hidePassword: hide } = listWords;
  const hint = listWords.passwordHint(PASSWORD_MIN_LENGTH);
  const differ = listWords.passwordProblems.differ();
  return <PasswordPairFields labels={{ first, second, differ, hint, show, hide }} {...fields} />;
}
