/**
 * The reading room asks before its own page has come, and nothing moves when that takes the early page's place; the
 * office's desk comes without what only other pages need.
 */
import { type Page, type Response } from '@playwright/test';
import { expect, expectAccessible, type House, phone, signIn, test } from './house';
import { allTexts, unopenedLink, withDatabase } from './readers';

// Each test spends one of the demo’s links that nobody has opened.
test.use({ apart: true, houseFor: 'early' });

const linkOf = async (house: House): Promise<string> =>
  (await withDatabase(house, (database) => unopenedLink(house, database))).link;
const sum = (counts: number[]): number => counts.reduce((all, one) => all + one, 0);

interface Place {
  what: string;
  box: number[];
}

/** What is shown and where, by its words or its label. */
const places = (page: Page): Promise<Place[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('h1, h2, [role="button"], input, header, main div[dir="auto"]')]
      .filter((one) => one.checkVisibility())
      .map((one) => {
        const { x, y, width, height } = one.getBoundingClientRect();
        const what = (one.getAttribute('aria-label') ?? one.innerText).replace(/\b\d\d seconds/, 'N seconds');
        const { color, fontWeight, fontSize } = getComputedStyle(one);
        return { what: `${one.tagName} ${what} ${color} ${fontWeight} ${fontSize}`, box: [x, y, width, height] };
      }),
  );

/** Opens a link with the reading page's scripts held back; the answer lets them come. */
async function openHeldBack(page: Page, house: House): Promise<() => void> {
  await page.setViewportSize(phone);
  let bringOn = (): void => undefined;
  const brought = new Promise<void>((go) => (bringOn = go));
  await page.route('**/room/_expo/**', async (route) => {
    await brought;
    await route.continue();
  });
  // The page counts as loaded only once scripts put in before that have come, and these are held back.
  await page.goto(await linkOf(house), { waitUntil: 'commit' });
  return bringOn;
}

test('with the reading page still on its way it asks, sends and takes digits; then that takes its place and nothing moves', async ({
  page,
  house,
  complaints,
}) => {
  const bringOn = await openHeldBack(page, house);
  await expect(page.getByRole('heading', { level: 1, name: /has written to you$/ })).toBeVisible();
  await expectAccessible(page);
  const texts = sum(await allTexts(house));
  await page.getByRole('button', { name: 'Send me the passcode' }).focus();
  await page.keyboard.press('Enter');
  const field = page.getByRole('textbox', { name: 'Passcode' });
  await expect(field).toBeFocused();
  await page.keyboard.type('1289');
  await page.keyboard.press('ArrowLeft');
  await expectAccessible(page);
  const before = await places(page);
  expect(before.length).toBeGreaterThan(6);
  await expect(page.locator('#early')).toHaveCount(1);

  bringOn();
  await expect(page.locator('#early')).toHaveCount(0);
  expect(await places(page)).toEqual(before);
  // The cursor is where it was.
  await expect(field).toBeFocused();
  await page.keyboard.type('00');
  await expect(field).toHaveValue('128009');
  await field.press('Enter');
  await expect(page.getByText(/That is not the passcode/)).toBeVisible();
  expect(sum(await allTexts(house))).toBe(texts + 1);
  // The browser notes the refusal that was asked for.
  expect(complaints.filter((one) => !/40\d|422/.test(one))).toEqual([]);
});

test('what was pressed early is done by the reading page; without its scripts the early page waits and tries again', async ({
  page,
  house,
}) => {
  await page.setViewportSize(phone);
  let cut = 2;
  await page.route('**/room/_expo/**', (route) => (cut-- > 0 ? route.abort() : route.continue()));
  await page.goto(await linkOf(house));
  await page.getByRole('button', { name: 'I can’t get at that phone or mailbox' }).click();
  await expect(page.getByLabel('What would work for you')).toBeVisible();
  await expect(page.locator('#early')).toHaveCount(0);
});

test('a finger that is down while the reading page takes the place has pressed', async ({ page, house }) => {
  const bringOn = await openHeldBack(page, house);
  const texts = sum(await allTexts(house));
  const send = page.getByRole('button', { name: 'Send me the passcode' });
  await send.hover();
  await page.mouse.down();
  bringOn();
  await expect(page.locator('#early')).toHaveCount(0);
  await page.mouse.up();
  await expect(page.getByRole('textbox', { name: 'Passcode' })).toBeVisible();
  expect(sum(await allTexts(house))).toBe(texts + 1);
});

test('the desk loads what it shows; what other pages share comes with the first of them', async ({ page, house }) => {
  await page.setViewportSize(phone);
  const scripts: Response[] = [];
  page.on('response', (response) => {
    if (response.request().resourceType() === 'script') scripts.push(response);
  });
  await signIn(page, house);
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  // What comes behind its own script (the curve of what is open) is asked for by that.
  const own = scripts.findIndex((one) => one.url().includes('/DeskScreen-'));
  const sizes = await Promise.all(
    scripts.slice(0, own + 1).map(async (one) => ({
      thread: one.url().includes('/threads/'),
      size: Number((await one.allHeaders())['content-length']),
    })),
  );
  const bytes = (of: (one: (typeof sizes)[0]) => boolean): number => sum(sizes.filter(of).map(({ size }) => size));
  expect(bytes((one) => !one.thread)).toBeGreaterThan(100_000);
  expect(bytes((one) => !one.thread)).toBeLessThan(380_000);
  // What opens the vault and follows it step by step, without what seals and opens mail.
  expect(bytes((one) => one.thread)).toBeGreaterThan(50_000);
  expect(bytes((one) => one.thread)).toBeLessThan(120_000);

  const before = scripts.length;
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Mail', exact: true })).toBeVisible();
  expect(scripts.slice(before).some((one) => one.url().includes('/__later'))).toBe(true);
});
