/** Code of ours in a Chromium worker, bundled as the app's own workers are. */
import { chromium } from '@playwright/test';
import { build } from 'esbuild';
import { createServer } from 'node:http';
import { type AddressInfo } from 'node:net';

export async function bundled(contents: string): Promise<string> {
  const { outputFiles } = await build({
    stdin: { contents, resolveDir: process.cwd(), loader: 'ts' },
    bundle: true,
    write: false,
    format: 'iife',
    minify: true,
    alias: { '@under-lock/core': `${process.cwd()}/core/src` },
    tsconfigRaw: {},
  });
  return outputFiles[0]!.text;
}

export const openChromium = () =>
  chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });

/** Serves scripts by path, and an empty page for everything else. */
export async function serve(scripts: Record<string, string>): Promise<{ origin: string; close(): void }> {
  const server = createServer(({ url }, response) => {
    const script = scripts[url!];
    response
      .setHeader('Content-Type', script === undefined ? 'text/html' : 'text/javascript')
      .end(script ?? '<!doctype html>');
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return { origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, close: () => void server.close() };
}

/** Runs one worker script on `input`, which must survive JSON, and resolves with the one thing it posts. */
export async function inWorker<T>(contents: string, input: unknown): Promise<T> {
  const { origin, close } = await serve({ '/worker.js': await bundled(contents) });
  const browser = await openChromium();
  const page = await browser.newPage();
  await page.goto(`${origin}/`);
  const output = await page.evaluate(
    (data) =>
      new Promise<T>((resolve, reject) => {
        const worker = new Worker('/worker.js');
        worker.onmessage = (event) => resolve(event.data as T);
        worker.onerror = (event) => reject(new Error(event.message));
        worker.postMessage(data);
      }),
    input,
  );
  await browser.close();
  close();
  return output;
}
