/**
 * The built house as processes of its own on free ports and a fresh database, filled with the demo; and a browser page
 * that watches its console.
 */
import { test as base, expect, type BrowserContext, type Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { readMessage } from '../core/src/message/read';
import { freePort } from '../scripts/ground/cluster.mjs';
import { ensureRoles } from '../scripts/ground/roles.mjs';

const root = join(import.meta.dirname, '..');

export interface SignIn {
  address: string;
  password: string;
  recoveryCode: string;
  name: string;
}

export interface House {
  origin: string;
  outside: string;
  smtpPort: number;
  /** Where our own mail comes in. */
  mailPort: number;
  databaseUrl: string;
  signIns: SignIn[];
  invitation: string;
  startServer(): Promise<void>;
  /** Ends it without a goodbye, as a crash would. */
  killServer(): Promise<void>;
  behave(behaviour: { mail?: string; phone?: string }): Promise<void>;
}

const ended = (child: ChildProcess): Promise<void> =>
  new Promise((done) =>
    child.exitCode !== null || child.signalCode !== null ? done() : child.once('exit', () => done()),
  );

async function openHouse(): Promise<House & { stop(): Promise<void> }> {
  const cluster = process.env.UNDERLOCK_TEST_CLUSTER;
  if (cluster === undefined) throw new Error('UNDERLOCK_TEST_CLUSTER is not set; run the tests with npm test');
  const name = `e2e_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: cluster });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  const role = (which: string) => ({ name: `${name.slice(0, 20)}_${which}`, password: randomUUID() });
  const { ownerUrl, serverUrl, running } = await ensureRoles(cluster.replace(/\/[^/]*$/, `/${name}`), {
    owner: role('owner'),
    server: role('server'),
  });
  execFileSync(process.execPath, [join(root, 'dist/prepare.mjs')], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: ownerUrl, UNDERLOCK_RUNNING_ROLE: running },
  });
  const [port, http, smtp, mail] = [await freePort(), await freePort(), await freePort(), await freePort()];
  const databaseUrl = cluster.replace(/\/[^/]*$/, `/${name}`);
  const outside = `http://127.0.0.1:${http}`;
  const env = {
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: serverUrl,
    UNDERLOCK_MIGRATE: 'no',
    UNDERLOCK_SECRET: randomBytes(32).toString('base64url'),
    UNDERLOCK_PORT: String(port),
    UNDERLOCK_SMTP_URL: `smtp://127.0.0.1:${smtp}`,
    UNDERLOCK_TEXT_URL: `${outside}/texts`,
    UNDERLOCK_CALL_URL: `${outside}/calls`,
    UNDERLOCK_MAIL_PORT: String(mail),
    UNDERLOCK_UNDO_SECONDS: '0',
    UNDERLOCK_COMMON_PASSWORDS: '2',
    UNDERLOCK_CODES_A_DAY: '1000',
    UNDERLOCK_OUTSIDE_URL: outside,
    OUTSIDE_SMTP_PORT: String(smtp),
    OUTSIDE_HTTP_PORT: String(http),
  };
  const start = (file: string): ChildProcess =>
    spawn(process.execPath, [join(root, 'dist', file)], { cwd: root, env, stdio: ['ignore', 'ignore', 'inherit'] });
  const world = start('outside.mjs');
  const demo = JSON.parse(
    execFileSync(process.execPath, [join(root, 'dist/seed.mjs')], { cwd: root, env, encoding: 'utf8' }),
  ) as { signIns: SignIn[]; invitation: string };
  let server: ChildProcess | undefined;
  const house = {
    origin: `http://127.0.0.1:${port}`,
    outside,
    smtpPort: smtp,
    mailPort: mail,
    databaseUrl,
    ...demo,
    async startServer() {
      server = start('server.mjs');
      for (let tries = 0; tries < 200; tries++) {
        if (
          await fetch(`${house.origin}/api/office`).then(
            (response) => response.ok,
            () => false,
          )
        )
          return;
        await new Promise((done) => setTimeout(done, 100));
      }
      throw new Error('The server did not open');
    },
    async killServer() {
      server?.kill('SIGKILL');
      if (server !== undefined) await ended(server);
    },
    async behave(behaviour: { mail?: string; phone?: string }) {
      await fetch(`${outside}/behaviour`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ mail: 'deliver', phone: 'deliver', ...behaviour }),
      });
    },
    async stop() {
      server?.kill('SIGTERM');
      world.kill('SIGTERM');
      await Promise.all([server === undefined ? undefined : ended(server), ended(world)]);
    },
  };
  await house.startServer();
  return house;
}

/** Complaints of a page: console errors and warnings, exceptions, policy violations. */
export function watch(context: BrowserContext): string[] {
  const complaints: string[] = [];
  const listen = (page: Page): void => {
    page.on('console', (message) => {
      if (['error', 'warning'].includes(message.type())) complaints.push(`${page.url()}: ${message.text()}`);
    });
    page.on('pageerror', (error) => complaints.push(`${page.url()}: ${error.message}`));
  };
  context.pages().forEach(listen);
  context.on('page', listen);
  return complaints;
}

export const phone = { width: 390, height: 844 };
export const desktop = { width: 1280, height: 800 };

export const test = base.extend<{ complaints: string[] }, { house: House; houseFor: string }>({
  /**
   * Files whose people must not have keys yet name a house of their own: workers are never shared between different
   * names.
   */
  houseFor: ['anybody', { option: true, scope: 'worker' }],
  house: [
    async ({ houseFor: _ }, use) => {
      const house = await openHouse();
      await use(house);
      await house.stop();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  complaints: async ({ context }, use) => {
    const complaints = watch(context);
    await use(complaints);
  },
});
export { expect };

export async function signIn(page: Page, house: House, who = 0): Promise<void> {
  await page.goto(`${house.origin}/desk`);
  await page.getByLabel('Office address').fill(house.signIns[who]!.address);
  await page.getByLabel('Password', { exact: true }).fill(house.signIns[who]!.password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Desk', level: 1 })).toBeVisible();
}

/** No violation of WCAG 2.2 A or AA that axe can see. */
export async function expectAccessible(page: Page): Promise<void> {
  // Frames of other people's HTML run no script, so axe can't enter them and would wait for ever.
  const { violations } = await new AxeBuilder({ page })
    .exclude('iframe')
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
    .analyze();
  expect(
    violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`),
  ).toEqual([]);
}

/** What is no secret: an act of its own, with a reason; a slip first. */
export async function leaveOpen(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Nothing in it is secret: send it open' }).click();
  const dialog = page.getByRole('dialog', { name: 'Send it open?' });
  await dialog.getByRole('button', { name: 'Let it leave open' }).click();
  await expect(dialog.getByText('Say in a few words why anybody may read it.')).toBeVisible();
  await dialog.getByLabel('Why nothing in it is secret').fill('It hangs on the pier');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Let it leave open' }).click();
  await expect(
    page.getByText(/It leaves open, under “Public notice”.*Your reason: “It hangs on the pier”/),
  ).toBeVisible();
}

export async function addFiles(
  page: Page,
  files: string[] | { name: string; mimeType: string; buffer: Buffer }[],
): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await chooser.setFiles(files as string[]);
}

export const papers = [join(root, 'demo/papers/fitness-2026.pdf'), join(root, 'demo/papers/eyesight.jpg')];

export async function latestText(house: House, number: string): Promise<string> {
  const { phones } = (await (await fetch(`${house.outside}/phones`)).json()) as {
    phones: { number: string; texts: { text: string }[] }[];
  };
  return phones.find((one) => one.number === number)?.texts[0]?.text ?? '';
}

/**
 * The link in the newest notice in a mailbox, once it has arrived there. Mail without one may lie above it: a reminder
 * has none.
 */
export async function latestLink(house: House, mailbox: string, before = 0): Promise<string> {
  let link = '';
  await expect(async () => {
    const { messages } = (await (await fetch(`${house.outside}/mailboxes/${encodeURIComponent(mailbox)}`)).json()) as {
      messages: { id: string }[];
    };
    expect(messages.length).toBeGreaterThan(before);
    for (const { id } of messages.slice(0, messages.length - before)) {
      const mail = (await (await fetch(`${house.outside}/mails/${id}`)).json()) as { text: string };
      link = /http:\S+\/room\/\S+/.exec(mail.text)?.[0] ?? '';
      if (link !== '') break;
    }
    expect(link).not.toBe('');
  }).toPass({ timeout: 20_000 });
  return link;
}

/** The newest mail in a mailbox outside whose subject says so, as it came. */
export async function latestMail(
  house: House,
  mailbox: string,
  about: RegExp,
): Promise<Awaited<ReturnType<typeof readMessage>>> {
  for (let tries = 0; tries < 60; tries++) {
    const { messages } = (await (await fetch(`${house.outside}/mailboxes/${mailbox}`)).json()) as {
      messages: { id: string; subject: string }[];
    };
    const found = messages.find(({ subject }) => about.test(subject));
    if (found !== undefined)
      return readMessage(new Uint8Array(await (await fetch(`${house.outside}/mails/${found.id}/raw`)).arrayBuffer()));
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  throw new Error(`No mail about ${about.source} came to ${mailbox}`);
}

export async function mailCount(house: House, mailbox: string): Promise<number> {
  const { messages } = (await (await fetch(`${house.outside}/mailboxes/${encodeURIComponent(mailbox)}`)).json()) as {
    messages: unknown[];
  };
  return messages.length;
}
