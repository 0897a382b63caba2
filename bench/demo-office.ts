/** The demo's office as it runs, with a browser before it. */
import { type Browser, chromium, type Page } from '@playwright/test';
import { readConfig } from '../server/src/config';
import { seedDemo } from '../server/src/demo/seed';
import { type RunningServer, startServer } from '../server/src/server';
import { startWorld } from '../standins/src/world';
import { freshDatabase } from './database';

export const PHONE = { width: 390, height: 844 };
export const DESKTOP = { width: 1280, height: 800 };

export interface DemoOffice {
  origin: string;
  context: RunningServer['context'];
  browser: Browser;
  /** A page of its own, in a context of its own. */
  open(viewport: { width: number; height: number }): Promise<Page>;
  /** From the desk’s address to whenever it is there. */
  signIn(page: Page, isThere: string): Promise<void>;
  stop(): Promise<void>;
}

export async function openDemoOffice(): Promise<DemoOffice> {
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
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  return {
    origin,
    context: server.context,
    browser,
    open: async (viewport) => (await browser.newContext({ viewport })).newPage(),
    signIn: async (page, isThere) => {
      await page.goto(`${origin}/desk`);
      await page.getByLabel('Office address').fill(signIns[0]!.address);
      await page.getByLabel('Password', { exact: true }).fill(signIns[0]!.password);
      await page.getByRole('button', { name: 'Sign in' }).click();
      await page.getByText(isThere).waitFor();
    },
    stop: async () => {
      await browser.close();
      await server.stop();
      await world.stop();
    },
  };
}
