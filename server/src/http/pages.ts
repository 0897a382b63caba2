/**
 * The two web applications as files: hashed ones for ever, the page itself fresh; each with its own content security
 * policy.
 */
import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { type Context as HttpContext, type Middleware } from 'koa';
import send from 'koa-send';
import { type Config } from '../config';

// React Native Web inserts one empty <style>; this is the hash of nothing.
const EMPTY_STYLE = "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='";

/** Hashes of a page's own <style> blocks, so that no other style sheet can be injected. */
export function styleHashes(html: string): string[] {
  return [...html.matchAll(/<style[^>]*>([\s\S]*?)<\/style>/g)].map(
    ([, css]) => `'sha256-${createHash('sha256').update(css!).digest('base64')}'`,
  );
}

function pagePolicy(html: string, connect: string[]): string {
  return [
    "default-src 'none'",
    "script-src 'self'",
    `style-src 'self' ${EMPTY_STYLE} ${styleHashes(html).join(' ')}`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    `connect-src 'self' ${connect.join(' ')}`.trim(),
    "worker-src 'self'",
    "frame-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/**
 * The page a carried page leads to may be handed the content by who opened it; it asks for nothing else. Every other
 * page cuts an opener off.
 */
const TAKES_A_FILE = /^\/room\/[\da-f-]{36}\/carried\/?$/i;

// Argon2id and the readers of pictures are WebAssembly: allowed in threads only, never in a page.
const THREAD_POLICY = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'";
// What lies beside the pages. A page's own path may end like a name with a dot: /outside/mailbox/x@postbox.example.
const FILE = /\.(m?js|css|json|map|woff2?|ttf|pfb|svg|png|jpe?g|ico|wasm|gz|bcmap|icc|txt|html)$/i;
/** Ours, and the one pdf.js brings along. */
const isThread = (path: string): boolean => path.startsWith('/threads/') || /\/pdf\.worker\.min\.mjs$/.test(path);
/** Named by what is in it: by the pages' bundler, or as all threads are. */
const isHashed = (path: string): boolean => path.startsWith('/threads/') || /[-.][0-9a-f]{16,}\./.test(path);

const FONT = /^\/fonts\/[^/]+\.woff2$/;
const keptFor = (path: string): string =>
  isHashed(path)
    ? 'public, max-age=31536000, immutable'
    : // A page is drawn with them: it should not wait for an answer that says they are the same.
      FONT.test(path)
      ? 'public, max-age=86400'
      : 'no-cache';

/** Whoever has it already is told so, in place of being sent it again. */
function saySame(http: HttpContext): void {
  if (!http.fresh) return;
  if (http.body instanceof Readable) http.body.destroy();
  http.status = 304;
}

const waiting = (name: string): string =>
  `<!doctype html><html lang="en"><title>${name}</title><p>${name} has not been built yet. Run <code>npm start</code>.</p></html>`;

interface Site {
  dir: string;
  /** Of that, the page; its `index.html` where it is not said. */
  page?: string;
  /** Path under which it is served, without a slash at the end. */
  base: string;
  connect: string[];
}

function site({ dir, page = 'index.html', base, connect }: Site): Middleware {
  const root = resolve(dir);
  const index = join(root, page);
  const html = existsSync(index) ? readFileSync(index, 'utf8') : waiting('Under Lock');
  const policy = pagePolicy(html, connect);
  const version = createHash('sha256').update(html).digest('base64url');
  return async (http, next) => {
    if (http.method !== 'GET' && http.method !== 'HEAD') return next();
    const path = http.path.slice(base.length) || '/';
    const isFile = FILE.test(path);
    if (isFile) {
      http.set('Content-Security-Policy', isThread(path) ? THREAD_POLICY : "default-src 'none'");
      await send(http, path, {
        root,
        brotli: true,
        gzip: true,
        setHeaders: (response) => void response.setHeader('Cache-Control', keptFor(path)),
      });
      saySame(http);
      return undefined;
    }
    http.set('Content-Security-Policy', policy);
    if (TAKES_A_FILE.test(http.path)) http.set('Cross-Origin-Opener-Policy', 'unsafe-none');
    http.set('Cache-Control', 'no-cache');
    http.type = 'html';
    http.body = html;
    http.etag = version;
    saySame(http);
    return undefined;
  };
}

export function pages(config: Config): Middleware {
  const reader = site({ dir: config.readerDir, base: '/room', connect: [] });
  const app = site({
    dir: config.appDir,
    base: '',
    connect: [
      ...new Set([new URL(config.textUrl).origin, ...(config.outsideUrl === undefined ? [] : [config.outsideUrl])]),
    ],
  });
  // Its files are among the reader's.
  const slot = site({ dir: config.readerDir, page: 'slot/index.html', base: '/slot', connect: [] });
  const under = (base: string, path: string): boolean => path === base || path.startsWith(`${base}/`);
  return (http, next) => (under('/room', http.path) ? reader : under('/slot', http.path) ? slot : app)(http, next);
}
