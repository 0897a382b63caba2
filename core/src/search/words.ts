/** What of a message is searched besides its head: its text and the names of its files, shortened. */
import { z } from 'zod';

const MOST_TEXT = 24_000; // UTF-16 units
const MOST_FILES = 60;
const LONGEST_NAME = 200;

export const wordsSchema = z.object({
  text: z.string().max(MOST_TEXT),
  files: z.array(z.string().max(LONGEST_NAME)).max(MOST_FILES),
});
export type Words = z.infer<typeof wordsSchema>;

/** Octets that sealed words take at most: three for each unit of text, and as much again for the names. */
export const MAX_SEALED_WORDS = 160_000;

/** Cuts no character in two. */
const shortened = (text: string, most: number): string =>
  text.length <= most ? text : text.slice(0, most).replace(/[\ud800-\udbff]$/, '');

export const wordsOf = ({ text, files }: { text: string; files: readonly { name: string }[] }): Words => ({
  text: shortened(text, MOST_TEXT),
  files: files.slice(0, MOST_FILES).map(({ name }) => shortened(name, LONGEST_NAME)),
});
