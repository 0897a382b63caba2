/** A new password and the same once more; what is wrong with them stands where it is put right. */
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { PasswordField } from '@under-lock/ui';

interface Labels {
  first: string;
  hint: string;
  second: string;
  /** What is said of two that are not the same. */
  differ?: string;
  show: string;
  hide: string;
}

export function PasswordPairFields({
  labels: { first, hint, second, differ, show, hide },
  pair,
  onChange,
  error,
}: {
  labels: Labels;
  pair: PasswordPair;
  onChange: (pair: PasswordPair) => void;
  error?: string | undefined;
}) {
  const isOfSecond = error === differ;
  const same = { show, hide, autoComplete: 'new-password' } as const;
  return (
    <>
      <PasswordField
        {...same}
        label={first}
        hint={hint}
        error={isOfSecond ? undefined : error}
        value={pair.first}
        onChangeText={(typed) => onChange({ ...pair, first: typed })}
      />
      <PasswordField
        {...same}
        label={second}
        value={pair.second}
        onChangeText={(typed) => onChange({ ...pair, second: typed })}
        error={isOfSecond ? error : undefined}
      />
    </>
  );
}
