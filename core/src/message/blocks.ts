/**
 * Formatted text as blocks: what a letter is set from. Read from HTML by a list of what is known; anything else leaves
 * its words and nothing more.
 */
import { defined } from '../defined';
import { walkHtml } from './html-walk';

export interface Run {
  text: string;
  bold: boolean;
  italic: boolean;
  code: boolean;
  /** Only `https:` and `mailto:`. */ href?: string | undefined;
}
export interface Block {
  kind: 'paragraph' | 'heading' | 'item' | 'quote' | 'code' | 'rule';
  /** Of a heading, 1 to 3; of everything else how deep it lies in lists and quotes. */
  level: number;
  /** Before a list's item: `•` or `3.` */
  marker: string;
  runs: Run[];
}

const DROPPED = new Set([
  'script',
  'style',
  'template',
  'head',
  'title',
  'iframe',
  'object',
  'svg',
  'math',
  'noscript',
  'select',
  'textarea',
]);
const BREAKING = new Set([
  'p',
  'div',
  'section',
  'article',
  'table',
  'tr',
  'ul',
  'ol',
  'dl',
  'dt',
  'dd',
  'form',
  'body',
  'html',
  'main',
  'header',
  'footer',
  'address',
  'figure',
  'figcaption',
]);
const MAX_BLOCKS = 20_000;

const safeHref = (href: string | undefined): string | undefined =>
  href !== undefined && /^(?:https:\/\/|mailto:)/i.test(href.trim()) ? href.trim() : undefined;

class Reader {
  readonly blocks: Block[] = [];
  private runs: Run[] = [];
  private open: { kind: Block['kind']; level: number; marker: string } = { kind: 'paragraph', level: 0, marker: '' };
  private dropped = 0;
  private bold = 0;
  private italic = 0;
  private code = 0;
  private pre = 0;
  private quotes = 0;
  private readonly lists: { ordered: boolean; count: number }[] = [];
  private readonly links: (string | undefined)[] = [];

  flush(): void {
    const runs = this.pre > 0 ? this.runs : trimmed(this.runs);
    if (runs.length > 0 && this.blocks.length < MAX_BLOCKS) this.blocks.push({ ...this.open, runs });
    this.runs = [];
    this.open = {
      kind: this.pre > 0 ? 'code' : this.quotes > 0 ? 'quote' : 'paragraph',
      level: this.lists.length + this.quotes,
      marker: '',
    };
  }

  text(text: string): void {
    if (this.dropped > 0) return;
    const said = this.pre > 0 ? text : text.replace(/[ \t\r\n\f]+/g, ' ');
    if (said === '') return;
    const href = this.links.at(-1);
    const run: Run = {
      text: said,
      bold: this.bold > 0,
      italic: this.italic > 0,
      code: this.code > 0 || this.pre > 0,
      ...defined({ href }),
    };
    const last = this.runs.at(-1);
    if (
      last !== undefined &&
      last.bold === run.bold &&
      last.italic === run.italic &&
      last.code === run.code &&
      last.href === run.href
    )
      last.text += said;
    else this.runs.push(run);
  }

  enter(name: string, attributes: Record<string, string>): void {
    if (DROPPED.has(name)) this.dropped += 1;
    else if (name === 'b' || name === 'strong' || name === 'th') this.bold += 1;
    else if (name === 'i' || name === 'em') this.italic += 1;
    else if (name === 'code' || name === 'tt') this.code += 1;
    else if (name === 'a') this.links.push(safeHref(attributes.href));
    else if (name === 'br') this.text0('\n');
    else if (name === 'td') this.text(' ');
    else this.enterBlock(name, attributes);
  }

  private text0(text: string): void {
    if (this.dropped === 0) this.runs.push({ text, bold: false, italic: false, code: false });
  }

  private enterBlock(name: string, attributes: Record<string, string>): void {
    const heading = /^h([1-6])$/.exec(name);
    if (name === 'pre') {
      this.flush();
      this.pre += 1;
    } else if (name === 'blockquote') {
      this.flush();
      this.quotes += 1;
    } else if (name === 'ul' || name === 'ol') {
      this.flush();
      const start = Number(attributes.start);
      this.lists.push({ ordered: name === 'ol', count: Number.isSafeInteger(start) ? start - 1 : 0 });
    }
    // A paragraph that begins a list's item is the item.
    const beginsItem = this.open.kind === 'item' && this.runs.length === 0;
    if (heading === null && !BREAKING.has(name) && !['pre', 'blockquote', 'li', 'hr'].includes(name)) return;
    if (!(name === 'p' && beginsItem)) this.flush();
    if (heading !== null) this.open = { kind: 'heading', level: Math.min(3, Number(heading[1])), marker: '' };
    if (name === 'hr' && this.blocks.length < MAX_BLOCKS)
      this.blocks.push({ kind: 'rule', level: 0, marker: '', runs: [] });
    if (name !== 'li') return;
    const list = this.lists.at(-1);
    if (list !== undefined) list.count += 1;
    this.open = {
      kind: 'item',
      level: Math.max(0, this.lists.length - 1),
      marker: list?.ordered === true ? `${list.count}.` : '•',
    };
  }

  leave(name: string): void {
    if (DROPPED.has(name)) this.dropped = Math.max(0, this.dropped - 1);
    else if (name === 'b' || name === 'strong' || name === 'th') this.bold = Math.max(0, this.bold - 1);
    else if (name === 'i' || name === 'em') this.italic = Math.max(0, this.italic - 1);
    else if (name === 'code' || name === 'tt') this.code = Math.max(0, this.code - 1);
    else if (name === 'a') this.links.pop();
    else if (/^h[1-6]$/.test(name) || BREAKING.has(name) || ['pre', 'blockquote', 'li'].includes(name))
      this.leaveBlock(name);
  }

  private leaveBlock(name: string): void {
    if (name === 'p' && this.runs.length === 0) return;
    if (name === 'pre') this.endPre();
    else this.flushed(name);
  }

  private endPre(): void {
    this.open = { ...this.open, kind: 'code' };
    this.flush();
    this.pre = Math.max(0, this.pre - 1);
    this.flush();
  }

  private flushed(name: string): void {
    this.flush();
    if (name === 'blockquote') this.quotes = Math.max(0, this.quotes - 1);
    if (name === 'ul' || name === 'ol') this.lists.pop();
    this.flush();
  }
}

/** Without blanks at both ends, and without runs that are empty then. */
function trimmed(runs: readonly Run[]): Run[] {
  const kept = runs.map((run) => ({ ...run }));
  if (kept.length > 0) {
    kept[0]!.text = kept[0]!.text.trimStart();
    kept.at(-1)!.text = kept.at(-1)!.text.trimEnd();
  }
  const full = kept.filter(({ text }) => text !== '');
  return full.some(({ text }) => text.trim() !== '') ? full : [];
}

export function blocksOfHtml(html: string): Block[] {
  const reader = new Reader();
  walkHtml(html, {
    open: (name, attributes) => reader.enter(name, attributes),
    text: (text) => reader.text(text),
    close: (name) => reader.leave(name),
  });
  reader.flush();
  return reader.blocks;
}

/** Plain text: a paragraph for each line, empty ones kept as a gap by their absence. */
export const blocksOfText = (text: string): Block[] =>
  text
    .replace(/\r\n?/g, '\n')
    .split(/\n{2,}/)
    .filter((one) => one.trim() !== '')
    .slice(0, MAX_BLOCKS)
    .map((one) => ({
      kind: 'paragraph',
      level: 0,
      marker: '',
      runs: [{ text: one.trim(), bold: false, italic: false, code: false }],
    }));

export const blocksOf = ({ html, text }: { html: string; text: string }): Block[] =>
  html === '' ? blocksOfText(text) : blocksOfHtml(html);

function plainOfBlock({ kind, level, marker, runs }: Block): string {
  const said = runs.map(({ text }) => text).join('');
  if (kind === 'rule') return '---';
  if (kind === 'quote') return said.replace(/^/gm, '> ');
  return kind === 'item' ? `${'  '.repeat(level)}${marker} ${said}` : said;
}

/** What blocks say, for programs that show no formatting. */
export function textOfBlocks(blocks: readonly Block[]): string {
  const pieces = blocks.map((block, index) => {
    const isWithin = block.kind === 'item' && blocks[index - 1]?.kind === 'item';
    return `${index === 0 ? '' : isWithin ? '\n' : '\n\n'}${plainOfBlock(block)}`;
  });
  return pieces.join('');
}
