/**
 * Somebody else's HTML, shown without any power: cleaned by DOMPurify, in a sandboxed frame with its own policy that
 * loads nothing.
 */
import DOMPurify from 'dompurify';
import { useEffect, useMemo, useRef, useState } from 'react';
import { font, schemes } from './tokens';

const POLICY =
  "default-src 'none'; style-src 'unsafe-inline'; img-src data: blob:; font-src 'self'; form-action 'none'; base-uri 'none'";

/** The page's own faces for a frame that may have no style sheet; each is fetched where a letter needs it. */
function lendFonts(to: Document): void {
  for (const { cssRules } of document.styleSheets)
    for (const rule of cssRules)
      if (rule instanceof CSSFontFaceRule) {
        const said = (name: string): string => rule.style.getPropertyValue(name);
        const descriptors = {
          weight: said('font-weight'),
          unicodeRange: said('unicode-range'),
          display: 'swap',
        } as const;
        to.fonts.add(new FontFace(said('font-family'), said('src'), descriptors));
      }
}

let hooked = false;
function purifier(): typeof DOMPurify {
  if (!hooked) {
    hooked = true;
    DOMPurify.addHook('afterSanitizeAttributes', (node) => {
      if (!(node instanceof Element)) return;
      // The frame's policy blocks these too; here they go so that nothing is even tried.
      for (const attribute of ['src', 'srcset', 'background', 'poster']) {
        const value = node.getAttribute(attribute);
        if (value !== null && !/^data:image\/(png|jpeg|gif|webp);/i.test(value)) node.removeAttribute(attribute);
      }
      const style = node.getAttribute('style');
      // Anything that could load, and any backslash: CSS spells url( in many ways.
      if (style !== null && /\\|url|image-set|src\s*\(|@|expression/i.test(style)) node.removeAttribute('style');
      if (node.tagName === 'A') {
        node.setAttribute('target', '_blank');
        node.setAttribute('rel', 'noopener noreferrer');
      }
    });
  }
  return DOMPurify;
}

/** HTML without scripts, forms, frames, style sheets or remote loading. */
export function cleanHtml(html: string): string {
  return purifier().sanitize(html, {
    FORBID_TAGS: [
      'style',
      'link',
      'form',
      'input',
      'button',
      'select',
      'textarea',
      'iframe',
      'object',
      'embed',
      'svg',
      'math',
      'video',
      'audio',
      'meta',
      'base',
    ],
    FORBID_ATTR: ['id', 'name', 'class'],
    ALLOW_DATA_ATTR: false,
  });
}

/** The same for paper, without the sender's own layout: nothing may lie outside its place on a page of ours. */
export const cleanForPaper = (html: string): string =>
  purifier().sanitize(cleanHtml(html), {
    FORBID_ATTR: ['style', 'width', 'height', 'bgcolor', 'background', 'align', 'href'],
    ALLOW_DATA_ATTR: false,
  });

export interface HtmlFrameProps {
  html: string;
  title: string;
  selectable?: boolean;
}

/** How high a text of this length was the last time: shown again, nothing below it moves under a finger. */
const fitted = new Map<number, number>();
const MOST_FITTED = 100;
const UNKNOWN = 120;

/** Of all that is in it, however high its frame is now; undefined while it is still on its way. */
function heightOf(inner: Document): number | undefined {
  const { documentElement: root, body } = inner as { documentElement: Element | null; body: Element | null };
  if (root === null || body === null) return undefined;
  return Math.min(20_000, Math.max(24, Math.ceil(root.getBoundingClientRect().height), body.scrollHeight));
}

export function HtmlFrame({ html, title, selectable = true }: HtmlFrameProps) {
  const frame = useRef<HTMLIFrameElement>(null);
  const [height, setHeight] = useState(() => fitted.get(html.length) ?? UNKNOWN);
  const page = useMemo(
    () =>
      `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta http-equiv="Content-Security-Policy" content="${POLICY}"><title>${title.replace(/[<>&"]/g, '')}</title></head><body dir="auto" style='margin:0;font:16px/24px ${font.sans};color:${schemes.light.ink};background:${schemes.light.paper};overflow-wrap:anywhere;${selectable ? '' : 'user-select:none'}'>${cleanHtml(html)}</body></html>`,
    [html, title, selectable],
  );
  const fit = (): void => {
    const inner = frame.current?.contentDocument;
    const now = inner == null ? undefined : heightOf(inner);
    if (now === undefined) return;
    if (fitted.size >= MOST_FITTED) fitted.clear();
    fitted.set(html.length, now);
    setHeight(now);
  };
  const latest = useRef(fit);
  latest.current = fit;
  useEffect(() => {
    const resized = (): void => latest.current();
    window.addEventListener('resize', resized);
    return () => window.removeEventListener('resize', resized);
  }, []);
  const opened = (): void => {
    const inner = frame.current?.contentDocument;
    fit();
    if (inner == null) return;
    lendFonts(inner);
    void inner.fonts.ready.then(fit);
  };
  // allow-same-origin without allow-scripts: the page may measure the frame, the frame can run nothing.
  return (
    <iframe
      ref={frame}
      title={title}
      srcDoc={page}
      sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
      onLoad={opened}
      style={{ border: 0, width: '100%', height }}
    />
  );
}
