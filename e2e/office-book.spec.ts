/** The office book: begun, colleagues let in, a person kept once and used by everybody, and let out again. */
import { desktop, expect, expectAccessible, phone, signIn, test } from './house';
import { databaseDump } from './readers';
import { beginLetter, openPlan, openWays } from './writing';

test.use({ houseFor: 'office-book' });

test('one colleague writes a person into it, another writes to them; who is let out sees nothing of it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await expect(page.getByText('No office book yet')).toBeVisible();
  await expect(page.getByText(/An administrator begins it/)).toBeVisible();
  await expectAccessible(page);

  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Begin the office book' }).click();
  await expect(page.getByText('Nobody in it yet')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Who is in (2 to let in)' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Let in Maren Oduya' }).click();
  await expect(page.getByText(/Let in by Ines Varga/)).toBeVisible();

  await page.setViewportSize(desktop);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Add a person' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Linde Brandt');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText(/address/i).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill('linde@postbox.example');
  await page.getByRole('textbox', { name: 'Phone for passcodes' }).fill('+447700900821');
  await page.getByRole('textbox', { name: 'Firm' }).fill('North Quay Ltd');
  await page.getByRole('textbox', { name: 'Note for colleagues' }).fill('Asks for the blue form.');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('heading', { name: 'Linde Brandt', level: 1 })).toBeVisible();
  await expect(page.getByText(/Ines Varga changed name, address, firm/)).toBeVisible();
  await expectAccessible(page);

  // Who is in writes to them, and need know nothing of them.
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('link', { name: /Linde Brandt/ }).click();
  await expect(page.getByText('Asks for the blue form.')).toBeVisible();
  await page.getByRole('button', { name: 'Write to Linde Brandt' }).click();
  await expect(page.getByRole('list', { name: 'Chosen for To' }).getByText('Linde Brandt')).toBeVisible();
  await openPlan(page);
  await expect(page.getByText(/text message to .*21 · known to the office/)).toBeVisible();
  await openWays(page, 'Linde');
  await expect(page.getByText(/From the office book: .*phone/)).toBeVisible();
  await expectAccessible(page);

  // A person of one's own is shared with a press; both sides of a difference are shown.
  await page.goto(`${house.origin}/people/new`);
  await page.getByRole('textbox', { name: 'Name' }).fill('Ole Ros');
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill('ole@postbox.example');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('button', { name: 'Share with the office' }).click();
  await expect(page.getByText('The office book says the same.')).toBeVisible();
  await page.getByRole('button', { name: /Change the details/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Ole Rosen');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText(/You keep the name Ole Rosen, the office book Ole Ros/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Give it mine: name' }).click();
  await expect(page.getByText('The office book says the same.')).toBeVisible();

  const dump = databaseDump(house);
  for (const said of ['Linde Brandt', 'blue form', 'Ole Rosen', 'North Quay'])
    expect(dump.includes(said) || dump.includes(Buffer.from(said).toString('base64').slice(0, -4))).toBe(false);

  // Let out, a new key, and nothing more for who is out.
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office/members`);
  await page.getByRole('button', { name: 'Let out Maren Oduya' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Let out', exact: true }).click();
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Make a new key' }).click();
  await expect(page.getByRole('button', { name: 'Make a new key' })).toHaveCount(0);
  await expect(page.getByRole('link', { name: /Ole Rosen/ })).toBeVisible();
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await expect(page.getByText(/An administrator has let you out/)).toBeVisible();
  await beginLetter(page, 'linde@postbox.example', 'Berths');
  await openPlan(page);
  await expect(page.getByText(/known to the office/)).toHaveCount(0);
  expect(complaints).toEqual([]);
});
