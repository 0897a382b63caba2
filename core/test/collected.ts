/** Mail that other people collected to try their own reader on: python's, from Debian's packages. */
import { readdirSync } from 'node:fs';

export const COLLECTED = '/usr/lib/python3.11/test/test_email/data';

export const collectedMails = (): string[] =>
  readdirSync(COLLECTED)
    .filter((name) => name.endsWith('.txt'))
    .sort();
