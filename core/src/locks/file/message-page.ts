/** A message as a web page of its own, set from its blocks: nothing of what somebody pasted runs or loads. */
import { escapeHtml } from '../../escape-html';
import { type Block, blocksOf, type Run } from '../../message/blocks';
import { type MessageContent } from '../../message/content';
import { type Correspondent } from '../../people/address';
import { type Language, spokenIn } from '../../language';
import { dateInWords } from '../../notice/words';
import { coverWords } from './cover';

const named = ({ name, address }: Correspondent): string => (name === '' ? address : `${name} <${address}>`);

function runHtml({ text, bold, italic, code, href }: Run): string {
  let html = escapeHtml(text).replace(/\n/g, '<br>');
  if (code) html = `<code>${html}</code>`;
  if (italic) html = `<em>${html}</em>`;
  if (bold) html = `<strong>${html}</strong>`;
  return href === undefined ? html : `<a href="${escapeHtml(href)}" rel="noreferrer noopener">${html}</a>`;
}

function blockHtml({ kind, level, marker, runs }: Block): string {
  const inside = runs.map(runHtml).join('');
  switch (kind) {
    case 'rule':
      return '<hr>';
    case 'heading':
      return `<h${level + 1}>${inside}</h${level + 1}>`;
    case 'code':
      return `<pre>${escapeHtml(runs.map(({ text }) => text).join(''))}</pre>`;
    case 'quote':
      return `<blockquote>${inside}</blockquote>`;
    case 'item':
      return `<p class="item" style="margin-left:${24 * (level + 1)}px"><span class="marker">${escapeHtml(marker)}</span>${inside}</p>`;
    case 'paragraph':
      return `<p${level === 0 ? '' : ` style="margin-left:${24 * level}px"`}>${inside}</p>`;
  }
}

export interface PageSettings {
  language: Language;
  zone: string;
}

/** Who, to whom, when, what: as pairs of a word and what it says. */
export function headPairs(message: MessageContent, { language, zone }: PageSettings): [string, string][] {
  const words = coverWords(language);
  return [
    [words.from, named(message.from)],
    [words.to, message.to.map(named).join(', ')],
    ...(message.cc.length === 0 ? [] : [[words.cc, message.cc.map(named).join(', ')] as [string, string]]),
    [words.date, dateInWords(message.date, zone, language)],
    ...(message.reference === '' ? [] : [[words.reference, message.reference] as [string, string]]),
    ...(message.files.length === 0
      ? []
      : [[words.files, message.files.map(({ name }) => name).join(', ')] as [string, string]]),
  ];
}

const MESSAGE_STYLE =
  'body{margin:0;padding:24px;background:#FFFDF8;color:#1B2421;font:16px/24px sans-serif;overflow-wrap:anywhere}main{max-width:680px;margin:0 auto}dl{display:grid;grid-template-columns:max-content 1fr;gap:4px 16px;margin:0 0 24px;padding:0 0 16px;border-bottom:1px solid #D8D0C0;color:#53605A}dd{margin:0;color:#1B2421}h1{font-size:24px;line-height:32px}h1,dd,p,blockquote,pre{unicode-bidi:plaintext}blockquote{margin:16px 0;padding-inline-start:16px;border-inline-start:3px solid #D8D0C0;color:#53605A}pre{white-space:pre-wrap}.item{position:relative}.marker{position:absolute;inset-inline-start:-24px}a{color:#0E5A4C}';

export const blocksHtml = (blocks: readonly Block[]): string => blocks.map(blockHtml).join('\n');

/** The whole page. */
export function messagePage(message: MessageContent, settings: PageSettings): string {
  const head = headPairs(message, settings)
    .map(([word, said]) => `<dt>${escapeHtml(word)}</dt><dd>${escapeHtml(said)}</dd>`)
    .join('');
  return [
    `<!doctype html><html ${spokenIn(settings.language)}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">`,
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; form-action 'none'; base-uri 'none'">`,
    `<title>${escapeHtml(message.subject)}</title><style>${MESSAGE_STYLE}</style></head>`,
    `<body><main><h1>${escapeHtml(message.subject)}</h1><dl>${head}</dl>`,
    blocksHtml(blocksOf(message)),
    '</main></body></html>\n',
  ].join('\n');
}
