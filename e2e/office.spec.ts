/**
 * What the office says by mail, worded by its administrator; and what it states of accesses that ended, checked without
 * us.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { desktop, expect, expectAccessible, phone, signIn, test } from './house';

test('an administrator words the notices, with a mistake or two, sees them before they leave, and puts them back', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: 'Notices', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Notices', level: 1 })).toBeVisible();
  await expect(page.getByText('Notices in English speak our words.')).toBeVisible();
  await expect(page.getByText(/_domainkey\.larkmoor\.example$/)).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('Of the button and the reading room’s band').fill('#F4EFE6');
  await expect(page.getByText('White letters can’t be read on this. Choose a darker one.')).toBeVisible();
  await page.getByLabel('Of the button and the reading room’s band').fill('#234E70');
  await page.getByRole('button', { name: 'Word them yourself' }).click();
  const odd = page.getByLabel('When it looks odd');
  await odd.fill('Odd? Ask {sendr}, or look at www.larkmoor.example');
  await expect(page.getByText(/\{sendr\} is nothing we can fill in/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep the notices' })).toBeDisabled();
  await odd.fill('Odd? Look at www.larkmoor.example');
  await expect(page.getByText(/No links and no web addresses/)).toBeVisible();
  await expect(page.getByText('▲ As kept before: something in the new words is not right yet.')).toBeVisible();
  await odd.fill('Odd? Ring {sender} at the pier office, on the number in your contract.');
  const preview = page.frameLocator('iframe');
  await expect(preview.getByText('Odd? Ring Ines Varga at the pier office')).toBeVisible();
  await page.getByRole('radio', { name: 'As text only' }).click();
  await expect(page.getByText(/Odd\? Ring Ines Varga at the pier office.*/).last()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the notices' }).click();
  await expect(page.getByText(/Kept. Every notice from now on looks like this/)).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('When it looks odd')).toHaveValue(/pier office/);
  await page.setViewportSize(phone);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Back to our words' }).click();
  await page.getByRole('button', { name: 'Back to the sea-green' }).click();
  await page.getByRole('button', { name: 'Keep the notices' }).click();
  await expect(page.getByText(/Kept. Every notice from now on looks like this/)).toBeVisible();
  expect(complaints).toEqual([]);
});

test('what ended is stated on paper and as a file, and checked by somebody else from a disk without a network', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Medical certificates, October/ }).click();
  await page.getByRole('button', { name: 'Statement of what ended' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: /Dr Aune/ }).click();
  await expect(dialog.getByRole('button', { name: 'Save as PDF' })).toBeDisabled();
  await dialog.getByRole('checkbox', { name: /Dr Aune/ }).click();
  await expectAccessible(page);
  const saved = async (name: string): Promise<string> => {
    const [download] = await Promise.all([page.waitForEvent('download'), dialog.getByRole('button', { name }).click()]);
    const path = info.outputPath(download.suggestedFilename());
    await download.saveAs(path);
    return path;
  };
  const pdf = await saved('Save as PDF');
  expect(pdf).toMatch(/statement-CR-2610-077-\d{4}-\d\d-\d\d\.pdf$/);
  const json = await saved('Save as JSON');
  const check = await saved('Save the check');
  const fingerprint = /(?:[\da-f]{4} ){15}[\da-f]{4}/.exec(await dialog.innerText())![0];
  const changed = info.outputPath('changed.json');
  writeFileSync(changed, readFileSync(json, 'utf8').replace('"count": 1', '"count": 0'));

  const auditor = await browser.newContext({ viewport: phone, offline: true });
  const paper = await auditor.newPage();
  const requests: string[] = [];
  paper.on('request', (request) => requests.push(request.url()));
  await paper.goto(`file://${check}`);
  await expectAccessible(paper);
  for (const file of [pdf, json]) {
    await paper.getByLabel('The file').setInputFiles(file);
    await expect(paper.getByRole('heading', { name: '● The signature is right' })).toBeVisible();
    await expect(
      paper.getByText(
        /Dr Aune, Harbour Clinic <records@harbourclinic.example>: withdrawn by the sender .*; opened once/,
      ),
    ).toBeVisible();
    await expect(paper.getByText(fingerprint)).toBeVisible();
    await paper.getByLabel('The file').setInputFiles(changed);
    await expect(paper.getByRole('heading', { name: '■ Not confirmed' })).toBeVisible();
  }
  await expect(paper.getByText(/says something other than what was signed/)).toBeVisible();
  await expectAccessible(paper);
  expect(requests.filter((url) => !url.startsWith('file:'))).toEqual([]);
  await auditor.close();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByText('You made a signed statement of what had ended')).toBeVisible();
  expect(complaints).toEqual([]);
});
