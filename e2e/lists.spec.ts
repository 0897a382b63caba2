/** Lists beside their pages on a wide screen, one after the other on a narrow one; and that nothing is cut at any size. */
import { desktop, expect, expectAccessible, phone, signIn, test } from './house';
import { cut, sizes, tooLong } from './boxes';
import { mainScreens } from './screens';

test('on a wide screen the list stays beside the page, with its line; arrow keys walk; the address says both', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sent mail', level: 1 })).toBeVisible();
  const list = page.getByRole('region', { name: 'List: Mail' });
  const chosen = list.locator('[data-line][aria-current=page]');
  await expect(chosen).toHaveCount(0);
  await list.getByRole('link', { name: /^Accident report MV Teal/ }).click();
  await expect(page.getByRole('heading', { name: 'Accident report MV Teal', level: 1 })).toBeVisible();
  await expect(chosen).toHaveAccessibleName(/^Accident report MV Teal/);
  const address = page.url();
  await expectAccessible(page);

  // Walking: the page follows, and the focus stays in the list.
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('heading', { name: 'Fitness papers before the winter season', level: 1 })).toBeVisible();
  await expect(chosen).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('heading', { name: 'Accident report MV Teal', level: 1 })).toBeVisible();
  expect(page.url()).toBe(address);
  // One step back is where the list had no line chosen: walking fills no history.
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Sent mail', level: 1 })).toBeVisible();

  // The address alone brings back both.
  await page.goto(address);
  await expect(page.getByRole('heading', { name: 'Accident report MV Teal', level: 1 })).toBeVisible();
  await expect(chosen).toHaveAccessibleName(/^Accident report MV Teal/);

  // Narrower, the same address is the page alone, with a way back to the list.
  await page.setViewportSize(phone);
  await expect(list).toHaveCount(0);
  await page.getByRole('link', { name: '‹ Sent' }).click();
  await expect(page.getByRole('heading', { name: 'Mail', level: 1 })).toBeVisible();
  expect(complaints).toEqual([]);
});

test('walking along what was received opens nothing that is unread', async ({ page, house }) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.goto(`${house.origin}/mail/received`);
  const line = page.getByRole('link', { name: /^Winter allowances/ });
  await expect(line).toHaveAccessibleName(/Unread/);
  await page.getByRole('link', { name: 'Drafts' }).focus();
  await line.focus();
  // What has been read before may be opened on the way.
  const unread = await line.getAttribute('href');
  for (const key of ['ArrowDown', 'ArrowUp', 'Home', 'End']) {
    await page.keyboard.press(key);
    expect(new URL(page.url()).pathname).not.toBe(unread);
  }
  await expect(line).toHaveAccessibleName(/Unread/);
});

test('nothing is cut and nothing sticks out, at five sizes; no text is wider than 75 characters', async ({
  page,
  house,
}) => {
  test.slow();
  await signIn(page, house);
  for (const place of await mainScreens(page, house)) {
    await page.goto(`${house.origin}${place}`);
    for (const [width, height] of sizes) {
      await page.setViewportSize({ width, height });
      // Not in the moment in which it still lies as at the size before.
      await expect(async () => {
        await expect(page.getByRole('main')).toBeVisible();
        expect({ place, width, cut: await cut(page), long: await tooLong(page) }).toEqual({
          place,
          width,
          cut: [],
          long: [],
        });
      }).toPass({ timeout: 15_000 });
    }
  }
});
