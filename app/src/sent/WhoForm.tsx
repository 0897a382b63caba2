/** Who is to read: a name and an address, or somebody known by a press. */
import { addressKey, checkAddress, type Correspondent } from '@under-lock/core/people/address';
import { Chip } from '@under-lock/ui/chip';
import { Field, Row, Stack } from '@under-lock/ui';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useBookPeople } from '../office-book/useBook';
import { usePeople } from '../people/person';
import { suggestedFor } from '../people/suggested';
import { addressProblem } from '../people/words';
import { useColleagues } from '../session/useOffice';

const NOBODY: readonly never[] = [];

/** Own people, colleagues, the office book's: each address once. */
function useKnown(): readonly Correspondent[] {
  const { data: own = NOBODY } = usePeople();
  const { data: book = NOBODY } = useBookPeople();
  const { data: colleagues = NOBODY } = useColleagues();
  return useMemo(() => {
    const byKey = new Map<string, Correspondent>();
    for (const one of [...own.map(({ value }) => value), ...colleagues, ...book.map(({ value }) => value)]) {
      const key = addressKey(one.address);
      if (!byKey.has(key)) byKey.set(key, one);
    }
    return [...byKey.values()];
  }, [own, book, colleagues]);
}

interface Props {
  value: Correspondent;
  onChange: (value: Correspondent) => void;
  /** Keys of the addresses of whoever reads it already. */
  besides: ReadonlySet<string>;
}

export function WhoForm({ value: { name, address }, onChange, besides }: Props) {
  const known = useKnown();
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
