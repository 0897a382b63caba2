/** What a rule wants somebody else to look at waits, is sent back with a sentence, written anew, and released. */
import { desktop, expect, expectAccessible, latestLink, phone, signIn, test } from './house';
import { beginLetter, openPlan } from './writing';

test.use({ houseFor: 'releases' });

test('a bid waits, comes back with a sentence, and leaves once somebody else has released it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(page, 'pell.anders@postbox.example', 'The pier at Cala');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Our sealed bid is 41 thousand; the yard’s phone list follows.');
  await openPlan(page);
  const rules = page.getByRole('list', { name: 'Rules of the office' });
  await expect(rules.getByText('Somebody else releases it.')).toBeVisible();
  await page.getByLabel('Note to whoever releases it').fill('Pell asked for it today.');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send for release' }).click();
  await expect(page.getByText(/Waiting since .*Ines Varga or Tobias Quill can release it/)).toBeVisible({
    timeout: 60_000,
  });
  await expectAccessible(page);
  await page.goto(`${house.origin}/mail/drafts`);
  await expect(page.getByRole('link', { name: /The pier at Cala/ })).toHaveCount(0);

  await page.setViewportSize(desktop);
  await signIn(page, house, 1);
  await page.getByRole('link', { name: /Maren Oduya asks you to release a message/ }).click();
  await expect(page.getByText('Pell asked for it today.')).toBeVisible();
  await expect(page.getByText(/Our sealed bid is 41 thousand/).first()).toBeVisible();
  await expect(page.getByRole('list', { name: 'Seen in it' }).getByText('“Bids”')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Who gets it' }).getByText('Pell Anders')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send it back' }).click();
  const dialog = page.getByRole('dialog', { name: 'Send it back' });
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog.getByText('Say in a sentence what Maren Oduya is to change.')).toBeVisible();
  await dialog.getByLabel('What is to change').fill('Leave the phone list out.');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(page.getByText('Nothing waits')).toBeVisible();

  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.getByRole('link', { name: /Tobias Quill sent it back/ }).click();
  await expect(page.getByText(/Tobias Quill sent it back .*“Leave the phone list out.”/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Go on writing' }).click();
  await expect(page.getByText(/“Leave the phone list out.”/)).toBeVisible();
  const text = page.getByRole('textbox', { name: 'Text', exact: true });
  await text.click();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.insertText('Our sealed bid is 41 thousand.');
  await openPlan(page);
  await page.getByRole('button', { name: 'Send for release' }).click();
  await expect(page.getByText(/Waiting since/)).toBeVisible({ timeout: 60_000 });

  await signIn(page, house, 2);
  await page.goto(`${house.origin}/mail/waiting`);
  await page.getByRole('link', { name: 'From Maren Oduya, waits for your release' }).click();
  await expect(page.getByText('Our sealed bid is 41 thousand.').first()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Release it' }).click();
  await expect(page.getByText('Nothing waits')).toBeVisible();
  expect(await latestLink(house, 'pell.anders@postbox.example')).toContain('/room/');

  await signIn(page, house, 0);
  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: /The pier at Cala/ }).click();
  await expect(page.getByText('ines.varga@larkmoor.example released it')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('who may release is an administrator’s to say; where nobody may, the plan says so and what waits is taken back', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(page, 'pell.anders@postbox.example', 'The second pier');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Our tender price is lower.');
  await openPlan(page);
  await page.getByRole('button', { name: 'Send for release' }).click();
  await expect(page.getByText(/Waiting since/)).toBeVisible({ timeout: 60_000 });
  const waiting = page.url();

  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/office/colleagues`);
  for (const name of ['Tobias Quill', 'Ines Varga']) {
    const may = page.getByRole('checkbox', { name: `Releases messages of others: ${name}` });
    await expect(may).toBeChecked();
    await may.click();
    await expect(may).not.toBeChecked();
  }
  await expectAccessible(page);

  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.goto(waiting);
  await expect(page.getByText(/Nobody may release it at present/)).toBeVisible();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toContainText('Our tender price is lower.');
  await openPlan(page);
  await expect(page.getByText(/Still wanted: somebody who may release it/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send for release' })).toBeDisabled();
  expect(complaints).toEqual([]);
});
