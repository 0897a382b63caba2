/** What changes shows by itself, in every tab, by one stream; and after a cut what was missed. */
import { type BrowserContext, type Page } from '@playwright/test';
import { desktop, expect, expectAccessible, type House, signIn, test } from './house';

/** From now on no timer of the page runs: what still shows was told to it. Seconds ahead, which no slow machine overtakes. */
async function stopTimers(page: Page): Promise<void> {
  await page.clock.pauseAt(await page.evaluate(() => Date.now() + 5_000));
}

/** The streams that were opened, without tries at a server that was not there. */
function streamsOf(context: BrowserContext): string[] {
  const opened: string[] = [];
  context.on('response', (response) => {
    const { pathname } = new URL(response.url());
    if (pathname === '/api/live' && response.ok()) opened.push(pathname);
  });
  return opened;
}

// The clock that is stopped here is the whole browser's, and goes with it.
test.use({ apart: true });

const title = 'Fitness papers before the winter season';

async function openMessage(page: Page, house: House): Promise<void> {
  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: new RegExp(`^${title}`) }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
}

test('what one device does the others show, in every tab by one stream, also after the server was away; a session ended elsewhere closes them', async ({
  page,
  browser,
  context,
  house,
}) => {
  const streams = streamsOf(context);
  await page.setViewportSize(desktop);
  await page.clock.install();
  await signIn(page, house);
  await openMessage(page, house);
  await expect.poll(() => streams.length).toBeGreaterThan(0);
  const before = streams.length;
  const other = await context.newPage();
  await other.setViewportSize(desktop);
  await other.clock.install();
  await other.goto(`${house.origin}/mail`);
  const line = other.getByRole('link', { name: new RegExp(`^${title}`) });
  await expect(line).toHaveAccessibleName(/closes/);

  const elsewhere = await browser.newContext({ viewport: desktop });
  const device = await elsewhere.newPage();
  await signIn(device, house);
  await openMessage(device, house);

  for (const tab of [page, other]) await stopTimers(tab);
  await device.getByRole('button', { name: 'Withdraw', exact: true }).first().click();
  await device.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(line).toHaveAccessibleName(/Withdrawn/);
  await expect(
    page
      .getByRole('main')
      .getByText(/Withdrawn/)
      .first(),
  ).toBeVisible();
  expect(streams).toHaveLength(before);

  // Away and back: the browser opens the line again by itself, and what was missed is asked for.
  await house.killServer();
  await house.startServer();
  await expect.poll(() => streams.length).toBeGreaterThan(before);
  await device.goto(`${house.origin}/account`);
  await device.getByRole('button', { name: /Sign out everywhere else/ }).click();
  for (const tab of [page, other]) await expect(tab.getByLabel('Office address')).toBeVisible();
  await elsewhere.close();
});

test('without a connection it is said, what is open stays, and it goes on by itself', async ({
  page,
  context,
  house,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await openMessage(page, house);
  const strip = page.getByText(/^▲ No connection\./);
  await expect(strip).toHaveCount(0);
  await context.setOffline(true);
  await expect(strip).toBeVisible();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
  await context.setOffline(false);
  await expect(strip).toHaveCount(0);
  // The device has its network, and the server is gone.
  await house.killServer();
  await expect(strip).toBeVisible();
  await expectAccessible(page);
  await house.startServer();
  await expect(strip).toHaveCount(0);
});
