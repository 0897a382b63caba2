/**
 * The self-opening page: one HTML file whose only content is a JWE in the element `sealed`, and a script that opens
 * it. Inside the JWE lies a ZIP (stored, not compressed) with
 * `message.json` (below), the message as a web page for whoever opens it by other means, and the files.
 * docs/formats.md describes it for other programs.
 */
import { type Language, spokenIn } from '../../../language';
import { type Block } from '../../../message/blocks';

export const MESSAGE_JSON = 'message.json';
export interface PageMessage {
  subject: string;
  /** A word and what it says. */ head: [string, string][];
  blocks: Block[];
}

/** Where the JWE goes in the page's template, and the language it speaks. */
export const SEALED_PLACE = '<!--sealed-->';
export const LANGUAGE_PLACE = 'lang="und"';
const OPENING = '<script type="text/plain" id="sealed">';
const CLOSING = '</script>';

export const filledPage = (template: string, jwe: string, language: Language): string =>
  template.replace(SEALED_PLACE, () => `${OPENING}${jwe}${CLOSING}`).replace(LANGUAGE_PLACE, spokenIn(language));

/** A page taken apart again: what of it is template, and its JWE; undefined for any other HTML. */
export function takenApart(page: string): { template: string; jwe: string } | undefined {
  const start = page.indexOf(OPENING);
  const end = page.indexOf(CLOSING, start);
  if (start < 0 || end < 0) return undefined;
  const jwe = page.slice(start + OPENING.length, end);
  if (!/^[\w-]+(?:\.[\w-]+){4}$/.test(jwe)) return undefined;
  return {
    jwe,
    template: `${page.slice(0, start)}${SEALED_PLACE}${page.slice(end + CLOSING.length)}`.replace(
      /<html lang="[a-z]{2}"(?: dir="rtl")?/,
      `<html ${LANGUAGE_PLACE}`,
    ),
  };
}
