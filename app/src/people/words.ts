import { type AddressProblem } from '@under-lock/core/people/address';
import { type Language, LANGUAGES } from '@under-lock/core/language';

export const addressProblem: Record<AddressProblem, string> = {
  'no-at': 'An address needs an @ with something on both sides.',
  'local-part': 'The part before the @ holds a character that addresses don’t have.',
  domain: 'The part after the @ is not a domain.',
  'no-dot': 'The part after the @ needs a dot, as in postbox.example.',
  'too-long': 'This address is longer than any mail host takes.',
};

export const peopleCount = (people: number): string => (people === 1 ? '1 person' : `${people} people`);

export const languageWords: Record<Language, string> = {
  en: 'English',
  de: 'German',
  pt: 'Portuguese',
  fr: 'French',
  es: 'Spanish',
  it: 'Italian',
  nl: 'Dutch',
  pl: 'Polish',
  ar: 'Arabic',
};
export const languageOptions = LANGUAGES.map((value) => ({ value, label: languageWords[value] }));
