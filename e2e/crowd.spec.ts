/** As much as anybody has: 200 recipients, 1,000 mails, 60 files, names without an end; at five sizes. */
import { cut, sizes } from './boxes';
import { desktop, expect, expectAccessible, phone, signIn, test } from './house';

test.use({ houseFor: 'a crowd' });

test('nothing is cut and nothing sticks out however much there is; lists come page by page', async ({
  page,
  house,
  complaints,
}) => {
  test.slow();
  await page.setViewportSize(desktop);
  await signIn(page, house, 1);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  const sent = await page
    .getByRole('link', { name: /Donaudampf/ })
    .first()
    .getAttribute('href');
  await page.getByRole('link', { name: /^Received/ }).click();
  const received = await page
    .getByRole('link', { name: /^Donaudampf/ })
    .first()
    .getAttribute('href');
  await page.goto(`${house.origin}/people`);
  // Of two hundred the first fifty are shown; whom one looks for is found, and the rest is a press away.
  await expect(page.getByText(/^50 of \d+ are shown\.$/)).toBeVisible();
  await page.getByRole('button', { name: 'Show 50 more' }).click();
  await expect(page.getByText(/^100 of \d+ are shown\.$/)).toBeVisible();
  await page.getByLabel('Find a person').fill('Wilhelmina');
  const person = await page
    .getByRole('link', { name: /^Wilhelmina/ })
    .first()
    .getAttribute('href');
  for (const place of [sent!, '/mail', received!, '/mail/received', person!, '/people', '/desk', '/readers']) {
    await page.setViewportSize(desktop);
    await page.goto(`${house.origin}${place}`);
    await expect(page.getByRole('progressbar')).toHaveCount(0);
    await expect(page.getByRole('main')).not.toHaveText(/^\s*(Opening|Looking)/);
    for (const [width, height] of sizes) {
      await page.setViewportSize({ width, height });
      // Not in the moment in which it still lies as at the size before.
      await expect(async () => {
        await expect(page.getByRole('main')).toBeVisible();
        expect({ place, width, cut: await cut(page, { shortened: true }) }).toEqual({ place, width, cut: [] });
      }).toPass({ timeout: 15_000 });
    }
    await page.setViewportSize(phone);
    await expectAccessible(page);
  }
  expect(complaints).toEqual([]);
});

test('two hundred recipients and sixty files in Write: said once where it is the same, and typed in all the while', async ({
  page,
  house,
  complaints,
}) => {
  test.slow();
  await page.setViewportSize(desktop);
  await signIn(page, house, 1);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  const to = page.getByRole('combobox', { name: 'To' });
  await to.focus();
  const list = Array.from({ length: 200 }, (_, index) => `crew.${index}@islandferry.example`).join(', ');
  await page.keyboard.insertText(list);
  await page.keyboard.press('Enter');
  const more = page.getByRole('button', { name: 'and 188 more in To' });
  await more.click();
  await expect(page.getByRole('button', { name: 'Remove Deckhand 199' })).toBeVisible();
  await page.getByRole('button', { name: 'Show fewer in To' }).click();
  await expect(more).toBeVisible();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await chooser.setFiles(
    Array.from({ length: 60 }, (_, index) => ({
      name: `Time sheet ${index}, ${'x'.repeat(80)}.txt`,
      mimeType: 'text/plain',
      buffer: Buffer.from(`Sheet ${index}`),
    })),
  );
  await expect(page.getByRole('button', { name: /^Remove Time sheet 59/ })).toBeVisible({ timeout: 60_000 });
  await page.getByLabel('Subject').fill('Time sheets of everybody');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type('Please look at your own.');
  for (const [width, height] of sizes) {
    await page.setViewportSize({ width, height });
    await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toContainText('Please look at your own.');
    expect({ width, cut: await cut(page, { shortened: true }) }).toEqual({ width, cut: [] });
  }
  // On a phone the text keeps its room: four are listed, and it begins in the upper half.
  await page.setViewportSize(phone);
  await expect(page.getByRole('button', { name: 'and 196 more in To' })).toBeVisible();
  const written = await page.getByRole('textbox', { name: 'Text', exact: true }).boundingBox();
  expect(written!.y).toBeLessThan(phone.height / 2);
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});
