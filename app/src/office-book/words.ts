/** What the office book holds of a person, within a sentence. */
import { type BookField } from '@under-lock/core/office-book/person';

export const fieldWords: Record<BookField, string> = {
  name: 'name',
  address: 'address',
  firm: 'firm',
  phone: 'phone',
  secondAddress: 'second address',
  language: 'language',
  check: 'way of proving who they are',
  certificates: 'certificate',
  keys: 'OpenPGP key',
  mailForm: 'form of OpenPGP mail',
  fileWay: 'way of getting locked files',
  password: 'agreed password',
  chose: 'choice of how to be written to',
  note: 'note',
  offered: 'certificate or key to be compared',
  apart: 'somebody alike who is another person',
};

export const listed = (fields: readonly BookField[]): string => fields.map((field) => fieldWords[field]).join(', ');
