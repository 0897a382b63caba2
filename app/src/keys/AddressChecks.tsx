import { Check, Text } from '@under-lock/ui';
import { View } from 'react-native';

/** For which of the worker's addresses it is to be. */
export function AddressChecks({
  all,
  chosen,
  onChange,
}: {
  all: readonly string[];
  chosen: readonly string[];
  onChange: (addresses: readonly string[]) => void;
}) {
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
