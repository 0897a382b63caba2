import { ownAddresses } from '@under-lock/core/people/own-addresses';
import { Check, Text } from '@under-lock/ui';
import { View } from 'react-native';
import { useOpenSession } from '../session/session';

/** For which of the worker's addresses a key is to be; nothing where there is but one. */
export function AddressChecks({
  chosen,
  onChange,
}: {
  chosen: readonly string[];
  onChange: (addresses: readonly string[]) => void;
}) {
  const { account } = useOpenSession();
  const all = ownAddresses(account);
  if (all.length < 2) return null;
  return (
    <View role="group" aria-label="For which addresses">
      <Text kind="label" tone="soft">
        For which addresses
      </Text>
      {all.map((address) => (
        <Check
          key={address}
          label={address}
          value={chosen.includes(address)}
          onChange={(on) => onChange(all.filter((one) => (one === address ? on : chosen.includes(one))))}
        />
      ))}
    </View>
  );
}
