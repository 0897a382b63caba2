import { defined } from '@under-lock/core/defined';
import { checkPhone, type CountryCode, phoneCountries, type PhoneProblem } from '@under-lock/core/people/phone';
import { border, colour, Field, radius, space, Text, type } from '@under-lock/ui';
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
      <label style={countryField}>
        <Text kind="label" tone="soft">
          Country
        </Text>
        <select value={value.country} onChange={(event) => change(event.target.value, value.typed)} style={select}>
          {countries.map(({ country, callingCode, name }) => (
            // The code first: it is what stays in sight where there is little room.
            <option key={country} value={country}>
              {`${callingCode} ${name}`}
            </option>
          ))}
        </select>
      </label>
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

const select = {
  ...type.body,
  lineHeight: '24px',
  fontSize: 16,
  width: '100%',
  minHeight: space.touch,
  padding: `0 ${space.m}px`,
  color: colour.ink,
  background: colour.paper,
  border: `${border.hair}px solid ${colour.edge}`,
  borderRadius: radius.m,
};
const countryField = { display: 'block', flex: '1 1 112px', minWidth: 0 } as const;
const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s, alignItems: 'flex-start' },
  number: { flexGrow: 2, flexShrink: 1, flexBasis: 172, minWidth: 0 },
});
