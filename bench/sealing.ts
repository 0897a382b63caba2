/** Sealing 25 MB in a Chromium worker against raw WebCrypto AES-256-GCM of the same bytes, turn by turn in one run; and the tab's memory meanwhile. */
import { chromium } from '@playwright/test';
import { build } from 'esbuild';
import { createServer } from 'node:http';
import { type AddressInfo } from 'node:net';
import { type Row } from './row';

const SIZE = 25_000_000;
const TURNS = 9;

const source = `
import { sealContent } from './core/src/locks/room/content';
import { buildMessage } from './core/src/message/build';
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
onmessage = async () => {
  const content = new Uint8Array(${SIZE});
  for (let at = 0; at < content.length; at += 65536) crypto.getRandomValues(content.subarray(at, Math.min(at + 65536, content.length)));
  const raw = await crypto.subtle.importKey('raw', new Uint8Array(32), 'AES-GCM', false, ['encrypt']);
  const times = { sealing: [], raw: [], building: [] };
  const timed = async (list, task) => { const from = performance.now(); await task(); list.push(performance.now() - from); };
  for (let turn = 0; turn < ${TURNS}; turn++) {
    await timed(times.raw, () => crypto.subtle.encrypt({ name: 'AES-GCM', iv: crypto.getRandomValues(new Uint8Array(12)) }, raw, content));
    await timed(times.sealing, () => sealContent(content, { key: crypto.getRandomValues(new Uint8Array(32)), salt: crypto.getRandomValues(new Uint8Array(32)) }));
  }
  const message = { messageId: 'a@b', from: { name: '', address: 'a@b.example' }, to: [], cc: [], subject: '', date: new Date(), reference: '', text: '', html: '', files: [{ name: 'x', type: 'a/b', bytes: content }] };
  for (let turn = 0; turn < 3; turn++) await timed(times.building, async () => buildMessage(message));
  postMessage({ sealing: median(times.sealing), raw: median(times.raw), building: median(times.building) });
};`;

export async function sealing(): Promise<Row[]> {
  const { outputFiles } = await build({ stdin: { contents: source, resolveDir: process.cwd(), loader: 'ts' }, bundle: true, write: false, format: 'iife', minify: true, alias: { '@under-lock/core': `${process.cwd()}/core/src` }, tsconfigRaw: {} });
  const server = createServer((request, response) => response.setHeader('Content-Type', request.url === '/worker.js' ? 'text/javascript' : 'text/html').end(request.url === '/worker.js' ? outputFiles[0]!.text : '<!doctype html>'));
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });
  const page = await browser.newPage();
  await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  const times = await page.evaluate(() => new Promise<{ sealing: number; raw: number; building: number }>((resolve) => {
    const worker = new Worker('/worker.js');
    worker.onmessage = ({ data }) => resolve(data as never);
    worker.postMessage(0);
  }));
  await browser.close();
  server.close();
  return [
    { what: 'Sealing 25 MB in a worker ÷ raw AES-256-GCM of the same bytes', value: (times.sealing / times.raw).toFixed(2), aim: '≤ 1.5, way to ≤ 1.0' },
    { what: 'Building the MIME message around 25 MB ÷ raw AES-256-GCM of the same bytes', value: (times.building / times.raw).toFixed(2), aim: 'known' },
  ];
}
