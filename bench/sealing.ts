/**
 * Sealing 25 MB in a Chromium worker against raw WebCrypto AES-256-GCM of the same bytes, turn by turn in one run; and
 * the tab's memory meanwhile.
 */
import { type Browser } from '@playwright/test';
import { bundled, inWorker, openChromium, serve } from './in-worker';
import { memoryOf } from './measured';
import { type Row } from './row';

const SIZE = 25_000_000;
const TURNS = 9;

const source = `
import { sealInPieces } from './core/src/locks/room/content';
import { messageInPieces } from './core/src/message/build';
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
onmessage = async () => {
  const content = new Uint8Array(${SIZE});
  for (let at = 0; at < content.length; at += 65536) crypto.getRandomValues(content.subarray(at, Math.min(at + 65536, content.length)));
  const raw = await crypto.subtle.importKey('raw', new Uint8Array(32), 'AES-GCM', false, ['encrypt']);
  const times = { sealing: [], raw: [], building: [] };
  const timed = async (list, task) => { const from = performance.now(); await task(); list.push(performance.now() - from); };
  for (let turn = 0; turn < ${TURNS}; turn++) {
    await timed(times.raw, () => crypto.subtle.encrypt({ name: 'AES-GCM', iv: crypto.getRandomValues(new Uint8Array(12)) }, raw, content));
    await timed(times.sealing, () => sealInPieces([content], { key: crypto.getRandomValues(new Uint8Array(32)), salt: crypto.getRandomValues(new Uint8Array(32)) }));
  }
  const message = { messageId: 'a@b', from: { name: '', address: 'a@b.example' }, to: [], cc: [], subject: '', date: new Date(), reference: '', text: '', html: '', files: [{ name: 'x', type: 'a/b', bytes: content }] };
  for (let turn = 0; turn < 3; turn++) await timed(times.building, async () => messageInPieces(message));
  postMessage({ sealing: median(times.sealing), raw: median(times.raw), building: median(times.building) });
};`;

/** What the worker thread does between Send and the upload: read the file, build the message around it, seal it. */
const once = `
import { sealInPieces } from './core/src/locks/room/content';
import { messageInPieces } from './core/src/message/build';
onmessage = async ({ data: file }) => {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const message = { messageId: 'a@b', from: { name: '', address: 'a@b.example' }, to: [], cc: [], subject: '', date: new Date(), reference: '', text: '', html: '', files: [{ name: 'x', type: 'a/b', bytes }] };
  const sealed = await sealInPieces(messageInPieces(message), { key: crypto.getRandomValues(new Uint8Array(32)), salt: crypto.getRandomValues(new Uint8Array(32)) });
  postMessage(sealed.reduce((sum, { length }) => sum + length, 0));
};`;

/**
 * The tab's peak above what it held before, while 25 MB are read, built into a message and sealed. The other renderers
 * idle, so the one that grows is the tab's.
 */
async function peak(browser: Browser, origin: string): Promise<number> {
  const page = await browser.newPage();
  await page.goto(`${origin}/`);
  await page.evaluate((size) => {
    (window as unknown as { file: File }).file = new File([new Uint8Array(size)], 'x');
  }, SIZE);
  const devtools = await browser.newBrowserCDPSession();
  const { processInfo } = await devtools.send('SystemInfo.getProcessInfo');
  const before = await Promise.all(
    processInfo
      .filter(({ type }) => type === 'renderer')
      .map(async ({ id }) => ({ id, held: (await memoryOf(id)).now })),
  );
  await page.evaluate(
    () =>
      new Promise((resolve) => {
        const worker = new Worker('/once.js');
        worker.onmessage = resolve;
        worker.postMessage((window as unknown as { file: File }).file);
      }),
  );
  return Math.max(...(await Promise.all(before.map(async ({ id, held }) => (await memoryOf(id)).peak - held))));
}

export async function sealing(): Promise<Row[]> {
  const times = await inWorker<{ sealing: number; raw: number; building: number }>(source, 0);
  const { origin, close } = await serve({ '/once.js': await bundled(once) });
  const browser = await openChromium();
  const most = await peak(browser, origin);
  await browser.close();
  close();
  return [
    {
      what: 'Sealing 25 MB in a worker ÷ raw AES-256-GCM of the same bytes',
      value: (times.sealing / times.raw).toFixed(2),
      aim: '≤ 1.1',
    },
    {
      what: 'Building the MIME message around 25 MB ÷ raw AES-256-GCM of the same bytes',
      value: (times.building / times.raw).toFixed(2),
      aim: 'known',
    },
    {
      what: 'Peak memory of the tab over what it held, while 25 MB are sealed ÷ 25 MB',
      value: (most / SIZE).toFixed(2),
      aim: '≤ 6',
    },
  ];
}
