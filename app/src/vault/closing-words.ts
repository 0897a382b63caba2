/**
 * What a worker puts under their messages: name, office, telephone. Kept sealed in their vault; a new message begins
 * with it, and it can be changed there like anything else.
 */
import { escapeHtml } from '@under-lock/core/escape-html';
import { z } from 'zod';
import { keepItem, readItem } from './useVault';

/** One item of its kind, in every vault under this number. */
const ID = 'c105e000-0000-4000-8000-000000000001';
const schema = z.object({ text: z.string() });

export const MAX_CLOSING_WORDS = 1000;

export interface ClosingWords {
  text: string;
  /** The one that keeping replaces. */ revision: number;
}

/** Empty when there are none. @throws ApiProblem */
export async function readClosingWords(): Promise<ClosingWords> {
  const kept = await readItem('settings', ID, schema);
  return { text: kept?.value.text ?? '', revision: kept?.revision ?? 0 };
}

/** @throws ApiProblem `conflict` when another device has changed it meanwhile */
export const keepClosingWords = ({ text, revision }: ClosingWords): Promise<number> =>
  keepItem('settings', ID, revision, { text });

/** As a message begins: an empty line to write in, and these below. */
export function withClosingWords(text: string): string {
  const words = text.trim();
  if (words === '') return '';
  return `<p></p><p></p><p>${words.split(/\r?\n/).map(escapeHtml).join('<br>')}</p>`;
}
