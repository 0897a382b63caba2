/**
 * Numbers whose owner earns by being called, or that cost a fortune: nobody outside may have our codes sent there. By
 * the number plans' own classes (libphonenumber), and by country codes that belong to no country.
 */
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';

/** ITU-T E.164, non-geographic: shared cost, satellite networks, personal numbers, networks, trials, premium. */
const NO_COUNTRY = /^\+(?:808|870|875|876|877|878|879|881|882|883|888|979|991)/;
const COSTLY: readonly (string | undefined)[] = ['PREMIUM_RATE', 'SHARED_COST', 'PERSONAL_NUMBER', 'PAGER', 'UAN'];

/** @param e164 In international spelling. */
export const isCostly = (e164: string): boolean =>
  NO_COUNTRY.test(e164) || COSTLY.includes(parsePhoneNumberFromString(e164)?.getType());
