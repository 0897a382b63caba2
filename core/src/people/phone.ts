/** Phone numbers, checked and spelled by libphonenumber-js; kept and compared as E.164. */
import {
  type CountryCode,
  getCountries,
  getCountryCallingCode,
  parsePhoneNumberFromString,
} from 'libphonenumber-js/min';

export type { CountryCode };

export type PhoneProblem = 'empty' | 'not-a-number' | 'not-in-country';
export type PhoneResult = { ok: true; e164: string; international: string } | { ok: false; problem: PhoneProblem };

/** Reads a number as typed, national numbers belonging to `country`. */
export function checkPhone(typed: string, country: CountryCode): PhoneResult {
  if (typed.trim() === '') return { ok: false, problem: 'empty' };
  const number = parsePhoneNumberFromString(typed.slice(0, 40), country);
  if (number === undefined) return { ok: false, problem: 'not-a-number' };
  if (!number.isPossible()) return { ok: false, problem: 'not-in-country' };
  return { ok: true, e164: number.number, international: number.formatInternational() };
}

export const phoneCountries = (): { country: CountryCode; callingCode: string }[] =>
  getCountries().map((country) => ({ country, callingCode: `+${getCountryCallingCode(country)}` }));
