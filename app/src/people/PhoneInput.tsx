import { checkPhone, type CountryCode, phoneCountries, type PhoneResult } from '@under-lock/core/people/phone';
import { border, colour, Field, radius, space, Text, type } from '@under-lock/ui';
import { useMemo } from 'react';
import { StyleSheet, View } from 'react-native';

export interface PhoneValue { country: CountryCode; typed: string }

export const readPhone = ({ typed, country }: PhoneValue): PhoneResult => checkPhone(typed, country);

export const phoneProblem = { empty: 'Type the number.', 'not-a-number': 'That is not a phone number.', 'not-in-country': 'That number is too short or too long for this country.' } as const;

/** A phone number with its country; a number that begins with + needs none. */
export function PhoneInput({ label, value, onChange, hint, error }: { label: string; value: PhoneValue; onChange: (value: PhoneValue) => void; hint?: string; error?: string | undefined }) {
  const countries = useMemo(() => {
    const names = new Intl.DisplayNames('en', { type: 'region' });
    return phoneCountries().map(({ country, callingCode }) => ({ country, label: `${names.of(country) ?? country} (${callingCode})` })).sort((a, b) => a.label.localeCompare(b.label));
  }, []);
  return (
    <View style={styles.group}>
      <label style={{ display: 'block' }}>
        <Text kind="label" tone="soft">Country</Text>
        <select value={value.country} onChange={(event) => onChange({ ...value, country: event.target.value as CountryCode })} style={select}>
          {countries.map(({ country, label: name }) => <option key={country} value={country}>{name}</option>)}
        </select>
      </label>
      <Field label={label} value={value.typed} onChangeText={(typed) => onChange({ ...value, typed })} inputMode="tel" autoComplete="off" code {...(hint === undefined ? {} : { hint })} error={error} />
    </View>
  );
}

const select = {
  ...type.body, lineHeight: '24px', fontSize: 16, width: '100%', minHeight: space.touch, padding: `0 ${space.m}px`, color: colour.ink, background: colour.paper, border: `${border.hair}px solid ${colour.edge}`, borderRadius: radius.m,
};
const styles = StyleSheet.create({ group: { gap: space.s } });
