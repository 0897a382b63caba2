/** What every browser test works with: a house, a browser in which somebody is signed in, pages whose console is watched. */
import {
  test as base,
  expect as given,
  type BrowserContext,
  type ExpectMatcherState,
  type FileChooser,
  type Locator,
  type Page,
} from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import { readMessage } from '../core/src/message/read';
import { type House, openHouse } from './made-house';

export { type House, type SignIn } from './made-house';

const root = join(import.meta.dirname, '..');

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

interface AxeFound {
  violations: { id: string; nodes: { html: string }[] }[];
}

interface OfTest {
  /** A browser nobody has signed in with, that is thrown away: for tests about signing in, and about who has nothing. */
  apart: boolean;
  complaints: string[];
}

interface OfPlace {
  house: House;
  houseFor: string;
  /** Stays between the tests of a house, with whoever is signed in there. */
  kept: { context?: BrowserContext };
}

const MOST_SHOWN = 4000; // characters

export const test = base.extend<OfTest, OfPlace>({
  /**
   * Files whose people must not have keys yet name a house of their own: workers are never shared between different
   * names.
   */
  houseFor: ['anybody', { option: true, scope: 'worker' }],
  house: [
    async ({ houseFor }, use) => {
      const house = await openHouse({ crowd: houseFor === 'a crowd' });
      await use(house);
      await house.stop();
    },
    // The first of a crowd is made, which takes minutes where other work runs beside.
    { scope: 'worker', timeout: 400_000 },
  ],
  kept: [
    async ({ browser: _ }, use) => {
      const kept: OfPlace['kept'] = {};
      await use(kept);
      await kept.context?.close();
    },
    { scope: 'worker' },
  ],
  apart: [false, { option: true }],
  context: async ({ browser, apart, kept }, use) => {
    if (apart) {
      const context = await browser.newContext();
      await use(context);
      await context.close();
      return;
    }
    const context = (kept.context ??= await browser.newContext());
    await use(context);
    await context.unrouteAll({ behavior: 'ignoreErrors' });
    await context.setOffline(false);
    await Promise.all(context.pages().map((page) => page.close()));
  },
  page: async ({ context, viewport }, use, info) => {
    const page = await context.newPage();
    if (viewport !== null) await page.setViewportSize(viewport);
    await use(page);
    // A test that failed somewhere else is read where only its output is.
    if (info.status !== info.expectedStatus && !page.isClosed())
      process.stdout.write(`${page.url()}\n${(await page.locator('body').ariaSnapshot()).slice(0, MOST_SHOWN)}\n`);
  },
  complaints: async ({ context }, use) => {
    const complaints = watch(context);
    await use(complaints);
  },
});

/**
 * The library draws a picture of the whole page in words for each time that something is not there yet: a twentieth of
 * what a page does in these tests. This one waits first, and has it drawn only for what never comes.
 */
export const expect = given.extend({
  async toBeVisible(this: ExpectMatcherState, locator: Locator, { timeout = this.timeout }: { timeout?: number } = {}) {
    const wanted = given(locator);
    try {
      await locator.waitFor({ state: this.isNot ? 'hidden' : 'visible', timeout });
    } catch {
      // Says what was wanted and what is there instead.
      await (this.isNot ? wanted.not : wanted).toBeVisible({ timeout: 1 });
    }
    return { pass: !this.isNot, message: () => '' };
  },
});

async function whoIsHere(page: Page, house: House): Promise<string | undefined> {
  const answer = await page.request.get(`${house.origin}/api/session`);
  return ((await answer.json()) as { session?: { account: { address: string } } }).session?.account.address;
}

/** The desk of one of the demo's people: at once where they are signed in in this browser, else by their password. */
export async function signIn(page: Page, house: House, who = 0): Promise<void> {
  const { address, password } = house.signIns[who]!;
  const here = await whoIsHere(page, house);
  if (here !== undefined && here !== address) {
    // What the page of before still asks for would be refused, and the browser would complain of it.
    await page.goto('about:blank');
    await page.request.delete(`${house.origin}/api/session`, { headers: { Origin: house.origin } });
  }
  await page.goto(`${house.origin}/desk`);
  const desk = page.getByRole('heading', { name: 'Desk', level: 1 });
  const field = page.getByLabel('Password', { exact: true });
  await expect(desk.or(field)).toBeVisible();
  if (await field.isVisible()) {
    // A vault that is only locked asks for no address.
    const whose = page.getByLabel('Office address');
    if (await whose.isVisible()) await whose.fill(address);
    await field.fill(password);
    await page.getByRole('button', { name: /^(Sign in|Open my vault)$/ }).click();
  }
  await expect(desk).toBeVisible();
}

const axe = readFileSync(join(root, 'node_modules/axe-core/axe.min.js'), 'utf8');

/** No violation of WCAG 2.2 A or AA that axe can see. */
export async function expectAccessible(page: Page): Promise<void> {
  // As the browser's own tools would: a page keeps it until it is left, and no policy of the page forbids it.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe);
  const violations = await page.evaluate(async () => {
    const { axe: found } = window as unknown as { axe: { run(...given: unknown[]): Promise<AxeFound> } };
    // Frames of other people’s HTML run no script, so axe can't enter them and would wait for ever.
    const answer = await found.run(
      { exclude: ['iframe'] },
      {
        resultTypes: ['violations'],
        runOnly: { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'] },
      },
    );
    return answer.violations.map(
      ({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`,
    );
  });
  expect(violations).toEqual([]);
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

/** What the browser's dialog behind a button is given. */
export async function chooseFiles(
  page: Page,
  button: string | RegExp,
  files: Parameters<FileChooser['setFiles']>[0],
): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button }).click();
  await (await chooser).setFiles(files);
}

export const addFiles = (page: Page, files: Parameters<FileChooser['setFiles']>[0]): Promise<void> =>
  chooseFiles(page, 'Add files', files);

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
      link = /http:\S+\/room\/(?!choice\/)\S+/.exec(mail.text)?.[0] ?? '';
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

/** As mailCount, once what was sent there before has arrived: what comes after it is new. */
export async function mailCountAtRest(house: House, mailbox: string): Promise<number> {
  const client = new pg.Client({ connectionString: house.databaseUrl });
  await client.connect();
  try {
    await expect
      .poll(
        async () =>
          (
            await client.query(
              `SELECT 1 FROM outbox o JOIN grants g ON g.id = o.grant_id WHERE o.state = 'waiting' AND o.created_at <= now() AND lower(g.address) = lower($1)
               UNION ALL SELECT 1 FROM copy_recipients r JOIN copies c ON c.id = r.copy_id WHERE r.state = 'waiting' AND c.leaves_at <= now() AND lower(r.address) = lower($1)`,
              [mailbox],
            )
          ).rowCount,
        { timeout: 20_000 },
      )
      .toBe(0);
  } finally {
    await client.end();
  }
  return mailCount(house, mailbox);
}
