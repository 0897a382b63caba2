/** By night: every main screen and the reading room can be read, and nothing of it is on paper. */
import { desktop, expect, expectAccessible, latestLink, phone, signIn, test } from './house';
import { mainScreens } from './screens';

// A browser keeps its scheme, so it is one that nobody else goes on with.
test.use({ colorScheme: 'dark', apart: true });

test('every main screen can be read in the dark, on a phone and wide', async ({ page, house, complaints }) => {
  test.slow();
  await signIn(page, house);
  for (const place of await mainScreens(page, house)) {
    await page.goto(`${house.origin}${place}`);
    for (const size of [phone, desktop]) {
      await page.setViewportSize(size);
      await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
      await expect(page.getByRole('progressbar')).toHaveCount(0);
      await test.step(`${place} at ${size.width}`, () => expectAccessible(page));
    }
  }
  const background = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
  expect(await background()).toBe('rgb(18, 24, 22)');
  await page.emulateMedia({ media: 'print' });
  expect(await background()).not.toBe('rgb(18, 24, 22)');
  expect(complaints).toEqual([]);
});

test('so can the reading room', async ({ page, house }) => {
  await page.setViewportSize(phone);
  await page.goto(await latestLink(house, 'pell.anders@postbox.example'));
  await expect(page.getByRole('button', { name: 'Send me the passcode' })).toBeVisible();
  await expectAccessible(page);
});
