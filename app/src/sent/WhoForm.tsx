/** Who is to read: a name and an address, or somebody known by a press. */
import { checkAddress, type Correspondent } from '@under-lock/core/people/address';
import { Chip } from '@under-lock/ui/chip';
import { Field, Row, Stack } from '@under-lock/ui';
import { useState } from 'react';
import { View } from 'react-native';
import { useEverybodyKnown } from '../office-book/useEverybodyKnown';
import { suggestedFor } from '../people/suggested';
import { addressProblem } from '../people/words';

interface Props {
  value: Correspondent;
  onChange: (value: Correspondent) => void;
  /** Keys of the addresses of whoever reads it already. */
  besides: ReadonlySet<string>;
}

export function WhoForm({ value: { name, address }, onChange, besides }: Props) {
  const known = useEverybodyKnown();
  const [typed, setTyped] = useState('');
  const suggested = suggestedFor(typed, known, besides);
  const [first] = suggested;
  const checked = checkAddress(address);
  const pick = (one: Correspondent): void => {
    setTyped('');
    onChange({ name: one.name, address: one.address });
  };
  const enter = first === undefined || checked.ok ? {} : { onSubmitEditing: () => pick(first) };
  return (
    <Stack>
      <Field
        label="Name"
        value={name}
        onChangeText={(text) => {
          setTyped(text);
          onChange({ name: text, address });
        }}
        {...enter}
        maxLength={200}
        autoComplete="off"
      />
      <Field
        label="Address"
        value={address}
        onChangeText={(text) => {
          setTyped(text);
          onChange({ name, address: text });
        }}
        {...enter}
        inputMode="email"
        autoCapitalize="none"
        autoComplete="off"
        error={
          address.trim() === '' || checked.ok || suggested.length > 0 ? undefined : addressProblem[checked.problem]
        }
      />
      {suggested.length === 0 ? null : (
        <View role="group" aria-label="People you know">
          <Row>
            {suggested.map((one) => (
              <Chip
                key={one.address}
                label={one.name || one.address}
                describe={one.name === '' ? one.address : `${one.name}, ${one.address}`}
                on={false}
                onPress={() => pick(one)}
              />
            ))}
          </Row>
        </View>
      )}
    </Stack>
  );
}
