/** What a formatted text says, for the scan: all of its words, also those that only some programs show. */
import { walkHtml } from '../../message/html-walk';
import { linesBeyond } from '../../message/text-forms';

/** Between what lies in these and what follows there is a line's end; words go on through all others. */
const BREAKING =
  /^(?:address|article|aside|blockquote|body|br|button|caption|dd|div|dl|dt|fieldset|figcaption|figure|footer|form|h[1-6]|head|header|hr|html|legend|li|main|nav|noscript|ol|option|p|pre|script|section|select|style|summary|table|tbody|td|template|textarea|tfoot|th|thead|title|tr|ul)$/;
const CELL = /^t[dh]$/;
/** Attributes whose words are shown. */
const SHOWN = ['alt', 'placeholder', 'title', 'value'] as const;

/** Cells of a row stay beside each other, as in a table of any other file. */
const between = (name: string): string => (CELL.test(name) ? '\t' : BREAKING.test(name) ? '\n' : '');

export function wordsOfHtml(html: string): string {
  const out: string[] = [];
  let styles = 0;
  walkHtml(html, {
    open(name, attributes) {
      if (name === 'style') styles += 1;
      out.push(between(name));
      for (const shown of SHOWN) if (attributes[shown]) out.push(` ${attributes[shown]} `);
    },
    text: (text) => void (styles === 0 && out.push(text)),
    close(name) {
      if (name === 'style') styles = Math.max(0, styles - 1);
      out.push(between(name));
    },
  });
  return out.join('').trim();
}

/** What a mail says in either of its forms, each thing once. */
export function saidIn({ text, html }: { text: string; html: string }): string {
  if (html === '') return text;
  const formatted = wordsOfHtml(html);
  return `${formatted}\n${linesBeyond(text, formatted)}`.trimEnd();
}
