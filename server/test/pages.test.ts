/** The pages as files: what is named by its content is kept for ever, the rest asked for anew; only threads run WebAssembly. */
import Koa from 'koa';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { type Server } from 'node:http';
import { type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Config, readConfig } from '../src/config';
import { pages } from '../src/http/pages';

const FILES = [
  'index.html',
  'print.css',
  'threads/main-2L6PAPYS.js',
  '_expo/static/js/web/entry-562117740ca6c9f1af1eb00f7560a968.js',
  'early-0123456789abcdef0123456789abcdef.js',
  'pdf/pdf.worker.min.mjs',
  'worker-of-nobody.js',
  'fonts/next-latin-400.woff2',
];
const dir = mkdtempSync(join(tmpdir(), 'under-lock-pages-'));
let server: Server;
beforeAll(async () => {
  for (const file of FILES) {
    mkdirSync(join(dir, file, '..'), { recursive: true });
    writeFileSync(join(dir, file), 'x');
  }
  const config: Config = {
    ...readConfig({ DATABASE_URL: 'x', UNDERLOCK_SECRET: 'A'.repeat(43) }),
    appDir: dir,
    readerDir: dir,
  };
  const koa = new Koa().use(pages(config));
  await new Promise<void>((done) => (server = koa.listen(0, '127.0.0.1', done)));
});
afterAll(async () => {
  await new Promise((done) => server.close(done));
  rmSync(dir, { recursive: true });
});

const get = (path: string, headers: Record<string, string> = {}): Promise<Response> =>
  // As browsers ask; this one would say “no-cache” with any condition.
  fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`, {
    headers: { 'Cache-Control': 'max-age=0', ...headers },
  });

test.each([
  ['/desk', 'no-cache', false],
  ['/print.css', 'no-cache', false],
  ['/threads/main-2L6PAPYS.js', 'public, max-age=31536000, immutable', true],
  ['/room/threads/main-2L6PAPYS.js', 'public, max-age=31536000, immutable', true],
  ['/_expo/static/js/web/entry-562117740ca6c9f1af1eb00f7560a968.js', 'public, max-age=31536000, immutable', false],
  ['/room/early-0123456789abcdef0123456789abcdef.js', 'public, max-age=31536000, immutable', false],
  ['/pdf/pdf.worker.min.mjs', 'no-cache', true],
  ['/worker-of-nobody.js', 'no-cache', false],
  ['/fonts/next-latin-400.woff2', 'public, max-age=86400', false],
])('%s is kept as “%s”', async (path, kept, runsWebAssembly) => {
  const response = await get(path);
  expect(response.status).toBe(200);
  expect(response.headers.get('Cache-Control')).toBe(kept);
  expect(response.headers.get('Content-Security-Policy')!.includes('wasm-unsafe-eval')).toBe(runsWebAssembly);
});

test.each(['/threads/../../secret.js', '/threads/%2e%2e/%2e%2e/secret.js', '/threads/gone-AAAAAAAA.js'])(
  '%s is not there',
  async (path) => {
    const response = await get(path);
    expect([403, 404]).toContain(response.status);
  },
);

test.each(['/desk', '/print.css', '/room/pdf/pdf.worker.min.mjs'])(
  '%s is not sent again to whoever has it, and is to whoever has another',
  async (path) => {
    const { headers } = await get(path);
    const modified = headers.get('Last-Modified');
    const has: Record<string, string> =
      modified === null ? { 'If-None-Match': headers.get('ETag')! } : { 'If-Modified-Since': modified };
    const again = await get(path, has);
    expect(again.status).toBe(304);
    expect(again.headers.get('Content-Security-Policy')).toBe(headers.get('Content-Security-Policy'));
    const older = await get(path, { 'If-None-Match': '"another"', 'If-Modified-Since': new Date(0).toUTCString() });
    expect(older.status).toBe(200);
    expect(await older.text()).toBe('x');
  },
);
