/** One search over what the vault opens: found by what stands inside, narrowed, kept in the address, sealed on the device. */
import { desktop, expect, expectAccessible, phone, signIn, test } from './house';
import { storedIn } from './stored';
import { beginLetter } from './writing';

test('a slash, a word: messages by subject and text, people by name; narrowed; the address keeps it all', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.keyboard.press('/');
  const field = page.getByRole('textbox', { name: 'Search' });
  await expect(field).toBeFocused();
  await page.keyboard.type('frames');
  // Stands in the text alone, which the server can't read.
  const survey = page.getByRole('link', { name: /^Hull survey MV Teal/ });
  await expect(survey).toBeVisible({ timeout: 30_000 });
  await expect(survey.getByText('Frames', { exact: true })).toBeVisible();
  await expect(page.getByText('1 found', { exact: true })).toBeVisible();
  await expectAccessible(page);

  // People by name, and what was sent to them.
  await field.fill('northquay');
  await expect(page.getByRole('heading', { name: 'People, keys, passwords' })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Northquay claims, claims@northquay.example/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Crew list, winter/ })).toBeVisible();

  // Narrowed by what the server knows, and by time; the list stays as it was while pages come and go.
  await page.getByRole('button', { name: 'Filter', exact: true }).click();
  await page.getByRole('button', { name: 'Not opened', exact: true }).click();
  await expect(page.getByRole('link', { name: /^Crew list, winter/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Last 7 days', exact: true }).click();
  const report = page.getByRole('link', { name: /^Accident report MV Teal/ });
  await report.click();
  await expect(page.getByRole('heading', { name: 'Accident report MV Teal', level: 1 })).toBeVisible();
  await expect(report).toHaveAttribute('aria-current', 'page');
  const address = new URL(page.url());
  expect(Object.fromEntries(address.searchParams)).toEqual({ q: 'northquay', state: 'unopened', time: 'week' });
  await expectAccessible(page);
  await page.reload();
  await expect(report).toHaveAttribute('aria-current', 'page');
  await expect(field).toHaveValue('northquay');

  // On a phone the way back is to what was found.
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: '‹ Found' }).click();
  await expect(field).toHaveValue('northquay');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Clear the search' }).click();
  for (const name of ['Not opened', 'Last 7 days'])
    await page.getByRole('button', { name: `${name} ✕, take this filter away` }).click();
  await expect(page.getByRole('link', { name: 'Drafts' })).toBeVisible();

  // With whom and between which days, typed; a firm is everybody there.
  await page.getByRole('button', { name: 'Filter', exact: true }).click();
  await page.getByRole('textbox', { name: 'With' }).fill('northq');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Everybody at northquay.example, @northquay.example' }).click();
  await expect(page.getByRole('link', { name: /^Crew list, winter/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /^Hull survey MV Teal/ })).toHaveCount(0);
  const until = page.getByLabel('Until', { exact: true });
  await expect(until).toHaveAttribute('type', 'date');
  await until.fill('2020-03-31');
  await expect(page.getByText('No message found')).toBeVisible();
  const narrowed = new URL(page.url()).searchParams;
  expect([narrowed.get('who'), narrowed.get('until')]).toEqual(['@northquay.example', '2020-03-31']);
  await page.getByRole('button', { name: 'Fewer filters' }).click();
  await page.getByRole('button', { name: 'Until Tue 31 Mar 2020 ✕, take this filter away' }).click();
  await expect(page.getByRole('link', { name: /^Crew list, winter/ })).toBeVisible();
  await page.getByRole('button', { name: 'Everybody at northquay.example ✕, take this filter away' }).click();

  // Drafts, by what stands in them.
  await beginLetter(page, 'claims@northquay.example', 'Fender order', 'Twelve of the tarred kind.');
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await field.fill('tarred');
  const draft = page.getByRole('link', { name: 'Draft Fender order' });
  await expect(draft).toContainText('Twelve of the tarred kind.');
  await expectAccessible(page);
  await draft.click();
  await expect(page.getByLabel('Subject')).toHaveValue('Fender order');
  await page.goBack();
  await field.fill('zzzz');
  await expect(page.getByText('No message found')).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('on the device the index lies sealed', async ({ page, house }) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.goto(`${house.origin}/mail?q=frames`);
  await expect(page.getByText('1 found', { exact: true })).toBeVisible({ timeout: 30_000 });
  const { octets: kept } = await storedIn(page, 'under-lock-search');
  expect(kept.length).toBeGreaterThan(500);
  for (const word of ['Frames', 'frames', 'Teal', 'northquay', 'subject']) expect(kept).not.toContain(word);
});

test('what a colleague holds is found by its text once it was opened here, and no more once it is withdrawn', async ({
  page,
  house,
}) => {
  const subject = 'Stores for the night boats';
  await page.setViewportSize(desktop);
  await signIn(page, house, 1);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(`${house.signIns[0]!.address},`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type('Each lantern needs oil.');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: subject, level: 1 })).toBeVisible({ timeout: 30_000 });
  const sent = page.url();

  const find = async (found: string, timeout = 30_000): Promise<void> => {
    await page.goto(`${house.origin}/mail?q=lantern`);
    await expect(page.getByText(found, { exact: true })).toBeVisible({ timeout });
  };
  await signIn(page, house);
  await find('No message found');
  // What was read is noted beside the reading: whoever is gone the same moment may have to read it again.
  await expect(async () => {
    await page.goto(`${house.origin}/mail/received`);
    await page.getByRole('link', { name: new RegExp(`^${subject}`) }).click();
    await expect(page.frameLocator('iframe').getByText('Each lantern needs oil.')).toBeVisible();
    await find('1 found', 5_000);
  }).toPass();

  await signIn(page, house, 1);
  await page.goto(sent);
  await page.getByRole('button', { name: 'Withdraw', exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText(/^Withdrawn/)).toBeVisible();
  await signIn(page, house);
  await find('No message found');
});
