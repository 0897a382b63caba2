/**
 * What somebody hostile writes, rendered for real: nothing runs, nothing is loaded, nothing leaves its frame. And
 * visitors that are no persons spend nothing.
 */
import { createTransport } from 'nodemailer';
import { type BrowserContext, type Page } from '@playwright/test';
import pg from 'pg';
import { expect, phone, test } from './house';
import { hostileBodies } from './hostile-bodies';
import { allTexts, unopenedLink } from './readers';

test.use({ apart: true });

/** Everything that would be a success for the attacker. */
async function traps(context: BrowserContext): Promise<string[]> {
  const sprung: string[] = [];
  await context.exposeFunction('pwned', (what: unknown) => void sprung.push(`ran: ${String(what)}`));
  context.on('request', (request) => {
    if (request.url().includes('evil.example')) sprung.push(`loaded: ${request.url()}`);
  });
  context.on('page', (page) => page.on('dialog', (dialog) => void sprung.push(`dialog: ${dialog.message()}`)));
  return sprung;
}

const settled = (page: Page): Promise<void> => page.waitForTimeout(120);

test('seventy hostile bodies are shown, and none of them gets anywhere', async ({ context, house }) => {
  const sprung = await traps(context);
  const page = await context.newPage();
  await page.setViewportSize(phone);
  const transport = createTransport({ host: '127.0.0.1', port: house.smtpPort, ignoreTLS: true });
  const mailbox = 'hostile@postbox.example';
  for (const [index, [what, html]] of hostileBodies.entries()) {
    await transport.sendMail({
      from: 'x@evil.example',
      to: mailbox,
      subject: `${index} ${what}`,
      text: 'x',
      html,
      envelope: { from: 'x@evil.example', to: [mailbox] },
    });
  }
  transport.close();
  const { messages } = (await (await fetch(`${house.outside}/mailboxes/${mailbox}`)).json()) as {
    messages: { id: string; subject: string }[];
  };
  expect(messages).toHaveLength(hostileBodies.length);
  await page.goto(`${house.origin}/outside/mailbox/${mailbox}`);
  for (const { id, subject } of messages) {
    await page.getByRole('link', { name: `${subject}, from x@evil.example`, exact: true }).click();
    const frame = page.locator('iframe');
    await expect(frame, subject).toBeVisible();
    await settled(page);
    expect(page.url(), subject).toBe(`${house.origin}/outside/mail/${id}`);
    // Shown where it belongs: inside its box, with the page around it in its place.
    const [box, button] = [await frame.boundingBox(), page.getByRole('button', { name: 'Show the source' })];
    expect(box!.width, subject).toBeLessThanOrEqual(phone.width);
    await expect(button, subject).toBeVisible();
    const inside = await page.frames()[1]!.evaluate(() => ({
      scripts: document.querySelectorAll('script,form,iframe,object,embed,link,base').length,
      refresh: document.querySelectorAll('meta[http-equiv=refresh i]').length,
    }));
    expect(inside, subject).toEqual({ scripts: 0, refresh: 0 });
    expect(sprung, subject).toEqual([]);
    // By the page's own way: what is pressed while the browser is still going back goes nowhere.
    await page.getByRole('link', { name: /^‹/ }).click();
    await expect(frame, subject).toHaveCount(0);
  }
});

test('whoever follows a link without being a person spends nothing: GET, HEAD, prefetch, a page loaded and never touched', async ({
  browser,
  house,
}) => {
  const database = new pg.Client({ connectionString: house.databaseUrl });
  await database.connect();
  const { link, grantId } = await unopenedLink(house, database);
  const row = async () => (await database.query('SELECT * FROM grants WHERE id = $1', [grantId])).rows[0] as object;
  const events = async () =>
    (await database.query('SELECT count(*) FROM events WHERE grant_id = $1', [grantId])).rows[0] as object;
  const before = [await row(), await events(), await allTexts(house)];
  for (const method of ['GET', 'HEAD', 'OPTIONS']) {
    for (const headers of [
      {},
      { Purpose: 'prefetch' },
      { 'Sec-Purpose': 'prefetch;prerender' },
      { 'User-Agent': 'SafeLinks-Scanner/1.0' },
    ])
      await (await fetch(link, { method, headers: headers as Record<string, string> })).arrayBuffer();
    for (const path of ['', '/reply-targets', '/replies', '/forwards', '/parts/0'])
      await fetch(`${house.origin}/room/api/grants/${grantId}${path}`, { method }).then((response) =>
        response.arrayBuffer(),
      );
  }
  const context = await browser.newContext();
  const scanner = await context.newPage();
  await scanner.goto(link);
  await scanner.getByRole('button', { name: 'Send me the passcode' }).waitFor();
  await scanner.evaluate(() => window.scrollTo(0, 9999));
  await scanner.mouse.move(10, 10);
  await scanner.waitForTimeout(1500);
  await context.close();
  expect([await row(), await events(), await allTexts(house)]).toEqual(before);
  await database.end();
});
