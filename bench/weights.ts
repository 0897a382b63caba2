/**
 * What a first visit loads at 390x844 with the processor slowed fourfold: script over the wire, compressed, as the real
 * server sends it.
 */
import { chromium, type Page } from '@playwright/test';
import { readConfig } from '../server/src/config';
import { startServer } from '../server/src/server';
import { seedDemo } from '../server/src/demo/seed';
import { startWorld } from '../standins/src/world';
import { type Row } from './row';
import { freshDatabase } from './database';

async function scriptBytes(page: Page, visit: () => Promise<void>): Promise<{ kilobytes: number; seconds: number }> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.setCacheDisabled', { cacheDisabled: true });
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  const scripts = new Set<string>();
  let bytes = 0;
  session.on('Network.responseReceived', ({ requestId, type }) => type === 'Script' && scripts.add(requestId));
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (scripts.has(requestId)) bytes += encodedDataLength;
  });
  const from = Date.now();
  await visit();
  return { kilobytes: Math.round(bytes / 1000), seconds: (Date.now() - from) / 1000 };
}

export async function weights(): Promise<Row[]> {
  const world = await startWorld({ smtpPort: 0, httpPort: 0 });
  const silent = { info: () => undefined, error: () => undefined };
  const server = await startServer(
    readConfig({
      DATABASE_URL: await freshDatabase(),
      UNDERLOCK_SECRET: 'A'.repeat(43),
      UNDERLOCK_PORT: '0',
      UNDERLOCK_SMTP_URL: `smtp://127.0.0.1:${world.smtpPort}`,
      UNDERLOCK_TEXT_URL: `http://127.0.0.1:${world.httpPort}/texts`,
      UNDERLOCK_MAIL_PORT: '0',
    }),
    silent,
  );
  const { signIns } = await seedDemo(server.context, 'demo/papers');
  const origin = `http://127.0.0.1:${server.port}`;
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const open = async (): Promise<Page> =>
    (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const { GrantRow } = await import('../server/src/data/models');
  const grant = await GrantRow.findOne({ where: { state: 'held', checkKind: 'text' } });
  const reader = await open();
  const room = await scriptBytes(reader, async () => {
    await reader.goto(`${origin}/room/${grant!.id}#${'A'.repeat(43)}`);
    await reader.getByRole('button', { name: 'Send me the passcode' }).waitFor();
  });
  const worker = await open();
  const office = await scriptBytes(worker, async () => {
    await worker.goto(`${origin}/desk`);
    await worker.getByLabel('Office address').fill(signIns[0]!.address);
    await worker.getByLabel('Password', { exact: true }).fill(signIns[0]!.password);
    await worker.getByRole('button', { name: 'Sign in' }).click();
    await worker.getByText('Needs you').waitFor();
  });
  await browser.close();
  await server.stop();
  await world.stop();
  return [
    {
      what: 'Reading room, script before the passcode is asked, kB compressed',
      value: String(room.kilobytes),
      aim: '≤ 160',
    },
    { what: 'Reading room, seconds until it asks (processor ÷ 4)', value: room.seconds.toFixed(1), aim: 'known' },
    {
      what: 'Office app, script to the desk, kB compressed (the chart not yet)',
      value: String(office.kilobytes),
      aim: '≤ 450',
    },
  ];
}
