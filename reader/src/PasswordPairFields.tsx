/** A new password and the same once more; what is wrong with them stands below the second. */
import { type PasswordPair } from '@under-lock/core/account/password-rules';
import { PasswordField } from '@under-lock/ui';

interface Labels {
  first: string;
  hint: string;
  second: string;
  show: string;
  hide: string;
}

export function PasswordPairFields({
  labels: { first, hint, second, show, hide },
  pair,
  onChange,
  error,
}: {
  labels: Labels;
  pair: PasswordPair;
  onChange: (pair: PasswordPair) => void;
  error?: string | undefined;
}) {
  const same = { show, hide, autoComplete: 'new-password' } as const;
  return (
    <>
      <PasswordField
        {...same}
        label={first}
        hint={hint}
        value={pair.first}
        onChangeText={(typed) => onChange({ ...pair, first: typed })}
      />
      <PasswordField
        {...same}
        label={second}
        value={pair.second}
        onChangeText={(typed) => onChange({ ...pair, second: typed })}
        error={error}
      />
    </>
  );
}
