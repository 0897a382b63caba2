/** What is typed of a person, whoever keeps them. */
import { Field, Select } from '@under-lock/ui';
import { type PersonErrors, type PersonTyped } from '../people/person-typed';
import { languageOptions } from '../people/words';
import { PhoneInput } from '../phone/PhoneInput';

interface Props {
  typed: PersonTyped;
  errors: PersonErrors;
  onChange: (change: Partial<PersonTyped>) => void;
}

export function PersonFields({ typed, errors, onChange }: Props) {
  return (
    <>
      <Field label="Name" value={typed.name} onChangeText={(name) => onChange({ name })} autoComplete="off" />
      <Field
        label="Address"
        value={typed.address}
        onChangeText={(address) => onChange({ address })}
        inputMode="email"
        autoCapitalize="none"
        autoComplete="off"
        error={errors.address}
      />
      <PhoneInput
        label="Phone for passcodes"
        value={typed.phone}
        onChange={(phone) => onChange({ phone })}
        error={errors.phone}
      />
      <Field
        label="Second address for passcodes"
        value={typed.second}
        onChangeText={(second) => onChange({ second })}
        inputMode="email"
        autoCapitalize="none"
        autoComplete="off"
        hint="Another mailbox of the same person, not one that shares a password with the first."
        error={errors.second}
      />
      <Select
        label="Language of notices"
        value={typed.language}
        onChange={(language) => onChange({ language })}
        options={languageOptions}
      />
    </>
  );
}
