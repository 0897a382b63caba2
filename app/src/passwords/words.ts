import {
  type Container,
  type FileWay,
  isExtension,
  type MessageForm,
  type Naming,
  type Scope,
  type Telling,
} from '@under-lock/core/ways/file-way';
import { GUESSES, PASSWORD_LENGTH, type PasswordProblem } from '@under-lock/core/passwords/minimum';
import { type Direction } from '@under-lock/core/passwords/entry';
import { type ZipCipher } from '@under-lock/core/zip/cipher';

export const containerWords: Record<Container, string> = { zip: 'ZIP', pdf: 'PDF', page: 'Self-opening page' };
export const containerDetails: Record<Container, string> = {
  zip: 'Files as they are, opened with an unpacking program',
  pdf: 'A letter with the files attached inside; opens on any phone',
  page: 'One file that opens in any browser, without a network and without a program',
};
export const cipherWords: Record<ZipCipher, string> = {
  'aes-256': 'AES-256',
  'aes-128': 'AES-128',
  legacy: 'Legacy cipher (weak)',
};
export const cipherDetails: Record<ZipCipher, string> = {
  'aes-256': 'For every unpacking program of the last fifteen years',
  'aes-128': 'For programs that can’t do better',
  legacy: 'Whoever wants to breaks it in hours; only where nothing else can be opened',
};
export const scopeWords: Record<Scope, string> = { everything: 'Text and files', files: 'Only the files' };
export const scopeDetails: Record<Scope, string> = {
  everything: 'Outside stands a note that says how to open it',
  files: 'The text stays readable for anybody on its way',
};
export const formWords: Record<MessageForm, string> = { html: 'A web page', pdf: 'A PDF', eml: 'A mail file (.eml)' };
export const formDetails: Record<MessageForm, string> = {
  html: 'Opens in any browser',
  pdf: 'Opens on any phone, prints well',
  eml: 'Opens in their mail program and can be filed there',
};
export const namingWords: Record<Naming, string> = {
  date: 'Date and time',
  random: 'Random letters',
  reference: 'Our reference number',
  fixed: 'Always the same name',
};
export const directionWords: Record<Direction, string> = { out: 'For what we send', in: 'For what they send' };
export const tellingWords: Record<Telling, string> = {
  phone: 'I tell them on the phone',
  text: 'By text message',
  agreed: 'They have it already',
};
export const tellingShort: Record<Telling, string> = {
  phone: 'told on the phone',
  text: 'sent by text message',
  agreed: 'agreed before',
};

export const passwordProblemWords: Record<PasswordProblem, string> = {
  'too-short': `At least ${PASSWORD_LENGTH.min} characters.`,
  'too-long': `At most ${PASSWORD_LENGTH.max} characters: other programs don’t take longer ones.`,
  'control-characters': 'There is a character in it that nobody can see. Type it again.',
  'blank-ends': 'It begins or ends with a blank, which gets lost when it is copied.',
};

/** How hard it is to guess, in a word. */
export function strengthWords(guesses: number, least: number): { tone: 'sea' | 'amber'; text: string } {
  if (guesses < GUESSES.least) return { tone: 'amber', text: 'Too easy: guessed at once' };
  if (guesses < least) return { tone: 'amber', text: 'Too easy to guess for what the office asks' };
  return { tone: 'sea', text: guesses < least + 3 ? 'Hard enough to guess' : 'Hard to guess' };
}

/** "ZIP, AES-256; text and files; told on the phone". */
export function waySentence({ container, cipher, scope, eachTime, telling }: FileWay): string {
  const how = container === 'zip' ? `ZIP, ${cipherWords[cipher]}` : containerWords[container];
  return `${how}; ${scope === 'files' ? 'only the files' : 'text and files'}; ${eachTime ? 'a new password each time' : 'one password'}, ${tellingShort[telling]}`;
}

/** Of another ending for a locked file, as it was typed; empty for the usual one. */
export const extensionProblem = (extension: string): string | undefined =>
  extension === '' || isExtension(extension)
    ? undefined
    : 'One to eight small letters or digits, and none that a computer would run.';
