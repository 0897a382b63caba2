/** What was typed about a person, checked. */
import { type Account } from '@under-lock/contract/account';
import { defined } from '@under-lock/core/defined';
import { type Language } from '@under-lock/core/language';
import { addressKey, checkAddress, cleanName } from '@under-lock/core/people/address';
import { type Person } from '@under-lock/core/people/kept-person';
import { isOwnAddress } from '@under-lock/core/people/own-addresses';
import { type Kept } from '@under-lock/core/vault/kept';
import { phoneOf, type PhoneValue } from '../phone/phone-value';
import { addressProblem } from './words';

export interface PersonTyped {
  name: string;
  address: string;
  second: string;
  phone: PhoneValue;
  language: Language;
}
export interface PersonErrors {
  address?: string;
  second?: string;
  phone?: string;
}

export const typedOf = (person: Person | undefined): PersonTyped => ({
  name: person?.name ?? '',
  address: person?.address ?? '',
  second: person?.secondAddress ?? '',
  phone: phoneOf(person?.phone),
  language: person?.language ?? 'en',
});

/** The person as they are kept from now on, or what is wrong with what was typed. What the form does not show stays. */
export function personTyped(
  { name, address, second, phone, language }: PersonTyped,
  known: Kept<Person> | undefined,
  people: readonly Kept<Person>[],
  account: Account,
): { person: Person } | { errors: PersonErrors } {
  const errors: PersonErrors = {};
  const first = checkAddress(address);
  if (!first.ok) errors.address = addressProblem[first.problem];
  else if (people.some((one) => one.id !== known?.id && addressKey(one.value.address) === addressKey(first.address)))
    errors.address = 'This address belongs to another person in your list.';
  const other = second.trim() === '' ? undefined : checkAddress(second);
  if (other !== undefined && !other.ok) errors.second = addressProblem[other.problem];
  if (other?.ok === true && first.ok && addressKey(other.address) === addressKey(first.address))
    errors.second = 'This must be another address than the first.';
  if (other?.ok === true && isOwnAddress(account, other.address)) errors.second = 'That is your own address.';
  if (phone.typed.trim() !== '' && phone.e164 === undefined)
    errors.phone = 'That number is not complete for this country.';
  if (phone.e164 !== undefined && phone.e164 === account.phone) errors.phone = 'That is your own number.';
  if (!first.ok || Object.keys(errors).length > 0) return { errors };
  const { phone: _phone, secondAddress: _second, language: _language, ...rest } = known?.value ?? {};
  return {
    person: {
      ...rest,
      name: cleanName(name),
      address: first.address,
      ...defined({ phone: phone.e164 }),
      ...(other?.ok === true ? { secondAddress: other.address } : {}),
      ...(language === 'en' ? {} : { language }),
    },
  };
}
