/** The reading room asks before its own page has come, and nothing moves when that takes the early page's place. */
import { type Page } from '@playwright/test';
import { expect, expectAccessible, type House, phone, test } from './house';
import { allTexts, unopenedLink, withDatabase } from './readers';

test.use({ apart: true });

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

test('with the reading page still on its way it asks, sends and takes digits; then that takes its place and nothing moves', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  let bringOn = (): void => undefined;
  const brought = new Promise<void>((go) => (bringOn = go));
  await page.route('**/room/_expo/**', async (route) => {
    await brought;
    await route.continue();
  });
  // The page counts as loaded only once scripts put in before that have come, and these are held back.
  await page.goto(await linkOf(house), { waitUntil: 'commit' });
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
