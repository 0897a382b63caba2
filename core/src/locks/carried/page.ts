/**
 * The carried page: one HTML file with the sealed content and the reader's share of its key, of no use to anybody
 * without the half that the server keeps until the access closes or
 * is withdrawn. docs/formats.md describes it. It is said in the reader's language without any script; the script only
 * hands the content over to the page its link opens.
 */
import { type Bytes, concat, utf8 } from '../../bytes';
import { escapeHtml } from '../../escape-html';
import { spokenIn } from '../../language';
import { type NoticeWords } from '../../notice/words/notice-words';
import { armoured } from '../../openpgp/armour';
import { ASKS, HELD_CLOSES, HELD_OPENS, LINK_OPENS } from './format';

/** Answers the page that its own link has opened, and no other. */
export const CARRIER_SCRIPT = `addEventListener("message",function(e){if(e.origin===new URL(document.getElementById("open").href).origin&&e.data==="${ASKS}"&&e.source)e.source.postMessage(document.getElementById("held").textContent,e.origin)})`;
export const CARRIER_STYLE =
  'body{margin:0;padding:24px;background:#F4EFE6;color:#1B2421;font:16px/24px sans-serif}main{max-width:560px;margin:0 auto;padding:24px;background:#FFFDF8;border:1px solid #D8D0C0}h1{margin:0 0 16px;font-size:20px;line-height:28px}p{margin:0 0 16px;overflow-wrap:anywhere}a.open{display:inline-block;padding:12px 20px;background:#0E5A4C;color:#FFFFFF;text-decoration:none}a.open:focus{outline:3px solid #1B2421;outline-offset:2px}.soft{color:#53605A}';

/** SHA-256 of each, for the page's own policy. A test makes them again. */
export const SCRIPT_HASH = 'sha256-buvShssLDlvbQ3G1O6yFno5RN7MUtydkQKSU4fGq6Pw=';
export const STYLE_HASH = 'sha256-PsPA7b4rRW8wQZBEurZynK3K46VnZIQqVWdrQUP+Hpk=';

export interface CarriedPage {
  senderName: string;
  officeName: string;
  /** Whole, with the reader's share where there is one. */
  link: string;
  /** The content as the server holds it. */
  sealed: Uint8Array;
  words: NoticeWords;
}

/** Pure. The same input gives the same bytes. */
export function carriedPage({ senderName, officeName, link, sealed, words }: CarriedPage): Bytes {
  const policy = `default-src 'none'; script-src '${SCRIPT_HASH}'; style-src '${STYLE_HASH}'; base-uri 'none'; form-action 'none'`;
  const title = escapeHtml(words.carriedTitle(senderName));
  const head = [
    `<!doctype html><html ${spokenIn(words.language)}><head><meta charset="utf-8">`,
    `<meta http-equiv="Content-Security-Policy" content="${policy}">`,
    '<meta name="viewport" content="width=device-width,initial-scale=1"><meta name="referrer" content="no-referrer">',
    `<title>${title}</title><style>${CARRIER_STYLE}</style></head><body><main>`,
    `<h1>${title}</h1>`,
    `<p>${escapeHtml(words.carriedSays(officeName))}</p>`,
    // An opener that the opened page may ask: without it the file has to be given by hand.
    `<p>${LINK_OPENS}${escapeHtml(link)}" class="open" target="_blank" rel="opener">${escapeHtml(words.openButton)}</a></p>`,
    `<p class="soft">${escapeHtml(words.carriedOtherwise(link.replace(/#.*/, '')))}</p>`,
    `<p class="soft">${escapeHtml(words.whyALink)}</p>`,
    `</main>\n${HELD_OPENS}`,
  ];
  return concat(
    utf8(`${head.join('\n')}\n`),
    armoured('MESSAGE', sealed),
    utf8(`${HELD_CLOSES}<script>${CARRIER_SCRIPT}</script></body></html>\n`),
  );
}
