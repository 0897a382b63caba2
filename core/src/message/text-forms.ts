/**
 * Plain text of mail into formatted text and back, as far as a part in one form needs the other; and text with flowing
 * lines (RFC 3676).
 */
import { escapeHtml } from '../escape-html';

export const htmlOfText = (text: string): string => escapeHtml(text).replace(/\r?\n/g, '<br>\n');

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', nbsp: ' ', apos: "'" };
const BREAKS = /^<\/?(?:br|p|div|tr|li|h[1-6]|blockquote)[\s/>]/i;

/** Its words without the marks. For quoting only: what is shown as formatted is cleaned elsewhere. */
export function textOfHtml(html: string): string {
  const out: string[] = [];
  let from = 0;
  for (let at = html.indexOf('<'); at >= 0; at = html.indexOf('<', from)) {
    out.push(html.slice(from, at));
    if (BREAKS.test(html.slice(at, at + 14))) out.push('\n');
    const end = html.indexOf('>', at);
    if (end < 0) {
      from = html.length;
      break;
    }
    from = end + 1;
  }
  out.push(html.slice(from));
  return out
    .join('')
    .replace(/&(amp|lt|gt|quot|nbsp|apos);/g, (_, name: string) => ENTITIES[name]!)
    .trim();
}

const quoteDepth = (line: string): number => {
  let depth = 0;
  while (line[depth] === '>') depth += 1;
  return depth;
};

/**
 * RFC 3676 §4: a line that ends with a blank goes on in the next of the same depth; §4.3: but for the one above a
 * signature.
 */
export function unflowed(text: string, deleteSpace: boolean): string {
  const out: string[] = [];
  let held: { depth: number; parts: string[] } | undefined;
  const flush = (): void => {
    if (held !== undefined) out.push(`${'>'.repeat(held.depth)}${held.depth > 0 ? ' ' : ''}${held.parts.join('')}`);
    held = undefined;
  };
  for (const raw of text.split(/\r?\n/)) {
    const depth = quoteDepth(raw);
    const line = raw.slice(depth).replace(/^ /, '');
    const flows = line.endsWith(' ') && line !== '-- ';
    if (held !== undefined && (held.depth !== depth || line === '-- ')) flush();
    held ??= { depth, parts: [] };
    held.parts.push(flows && deleteSpace ? line.slice(0, -1) : line);
    if (!flows) flush();
  }
  flush();
  return out.join('\n');
}

/** Lines that hold words which the formatted form does not: only programs that show no formatting show them. */
export function linesBeyond(text: string, formatted: string): string {
  const wordsOf = (line: string): string[] => line.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
  const shown = new Set(wordsOf(formatted));
  return text
    .split('\n')
    .filter((line) => wordsOf(line).some((word) => !shown.has(word)))
    .join('\n');
}
