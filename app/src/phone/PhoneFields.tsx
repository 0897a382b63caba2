import { defined } from '@under-lock/core/defined';
import { checkPhone, type CountryCode, phoneCountries, type PhoneProblem } from '@under-lock/core/people/phone';
import { Field, Select, space } from '@under-lock/ui';
import { useMemo } from 'react';
import { StyleSheet, View } from 'react-native';
import { type PhoneInputProps } from './phone-value';

const problems: Record<PhoneProblem, string> = {
  empty: 'Type the number.',
  'not-a-number': 'That is not a phone number.',
  'not-in-country': 'That number is too short or too long for this country.',
};

/** A phone number with its country; a number that begins with + needs none. */
export function PhoneFields({ label, describe, value, onChange, hint, error, onSubmit }: PhoneInputProps) {
  const countries = useMemo(() => {
    const names = new Intl.DisplayNames('en', { type: 'region' });
    return phoneCountries()
      .map(({ country, callingCode }) => ({ country, callingCode, name: names.of(country) ?? country }))
      .sort((a, b) => a.name.localeCompare(b.name));
  }, []);
  const change = (country: string, typed: string): void => {
    const checked = checkPhone(typed, country as CountryCode);
    onChange({ country, typed, ...(checked.ok ? { e164: checked.e164 } : { problem: problems[checked.problem] }) });
  };
  return (
    <View style={styles.group}>
      <Select
        label="Country"
        value={value.country}
        onChange={(country) => change(country, value.typed)}
        options={countries.map(({ country, callingCode, name }) => ({
          value: country,
          label: `${callingCode} ${name}`,
        }))}
        shown={countries.find(({ country }) => country === value.country)?.callingCode ?? ''}
        style={countryField}
      />
      <View style={styles.number}>
        <Field
          label={label}
          value={value.typed}
          onChangeText={(typed) => change(value.country, typed)}
          inputMode="tel"
          autoComplete="off"
          code
          {...defined({ hint, describe })}
          error={error}
          {...defined({ onSubmitEditing: onSubmit })}
        />
      </View>
    </View>
  );
}

const countryField = { flex: '0 0 92px' };
const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s, alignItems: 'flex-start' },
  number: { flexGrow: 1, flexShrink: 1, flexBasis: 160, minWidth: 0 },
});
