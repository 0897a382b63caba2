/** A new office, from nothing: its administrator is led through what there is to set up. */
import pg from 'pg';
import { expect, expectAccessible, phone, signIn, test } from './house';

test.use({ houseFor: 'setup', viewport: phone });

test('an administrator sees what is to be set up, tries the mail, takes presets to begin with', async ({
  page,
  house,
  complaints,
}) => {
  const database = new pg.Client({ connectionString: house.databaseUrl });
  await database.connect();
  await database.query('DELETE FROM presets');
  await database.end();
  await signIn(page, house, 2);
  await expect(page.getByText('This office is not set up yet: 4 of 5 done.')).toBeVisible();
  await page.getByRole('button', { name: 'Set it up' }).click();
  await expect(page.getByRole('heading', { name: 'Setting up', level: 1 })).toBeVisible();
  await expectAccessible(page);

  await house.behave({ mail: 'refuse' });
  await page.getByRole('button', { name: 'Send me a test mail' }).click();
  await expect(page.getByText(/Your mail host refused it: “5/)).toBeVisible();
  await expect(page.getByText('3 of 5 done')).toBeVisible();
  await house.behave({ mail: 'deliver' });
  await page.getByRole('button', { name: 'Send me a test mail' }).click();
  await expect(page.getByText(/Your mail host took it/)).toBeVisible();

  // In the demo whoever looks after the domain has entered them already.
  await page.getByRole('button', { name: 'Look them up' }).click();
  await expect(page.getByText('● entered, and right')).toHaveCount(2);
  await expectAccessible(page);

  await page.getByRole('checkbox', { name: /^Among colleagues/ }).click();
  await page.getByRole('button', { name: 'Take 3' }).click();
  await expect(page.getByText('5 of 5 done')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Handling presets ›' }).click();
  for (const name of ['Ordinary business', 'About a person', 'Strictly between us'])
    await expect(page.getByTestId(`preset-${name}`)).toBeVisible();
  await expect(page.getByTestId('preset-Ordinary business').getByText('Default')).toBeVisible();
  await expect(page.getByTestId('preset-Among colleagues')).toHaveCount(0);
  // Nothing is left to set up: neither the desk nor the office speaks of it.
  await expect(page.getByRole('link', { name: /^Setting up/ })).toHaveCount(0);
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Desk', level: 1 })).toBeVisible();
  await expect(page.getByText(/not set up yet/)).toHaveCount(0);
  expect(complaints).toEqual([]);
});
