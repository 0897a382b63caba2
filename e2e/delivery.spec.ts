/** Reading is confirmed by who read, and the delivery stated by the office: signed, and checked without us. */
import { readFileSync, writeFileSync } from 'node:fs';
import { expect, expectAccessible, latestLink, mailCountAtRest, phone, signIn, test } from './house';
import { passByText } from './readers';
import { beginLetter, choosePreset, closePlan } from './writing';

const pell = 'pell.anders@postbox.example';

test('a reader confirms having read; the sender sees it, and takes along a signed statement of delivery', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  const before = await mailCountAtRest(house, pell);
  await beginLetter(page, pell, 'Report to the flag state', 'The report is attached to the file. Please read it.');
  await choosePreset(page, /^Accident file/);
  await closePlan(page);
  await page.getByRole('button', { name: /^Send/ }).first().click();
  await expect(page.getByRole('heading', { name: 'Report to the flag state' })).toBeVisible();

  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB' });
  const reading = await outside.newPage();
  await reading.goto(await latestLink(house, pell, before));
  await passByText(reading, house, '+447700900417');
  await expect(reading.getByText('Maren Oduya asks you to confirm that you have read this.')).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'I have read it' }).click();
  await expect(reading.getByText(/You confirmed on .* that you have read this/)).toBeVisible();
  // It stays so.
  await reading.reload();
  await expect(reading.getByText(/You confirmed on .* that you have read this/)).toBeVisible();
  await expect(reading.getByRole('button', { name: 'I have read it' })).toHaveCount(0);

  await expect(page.getByText(/opened once, .*, and confirmed having read it/)).toBeVisible();
  await expect(page.getByText('Pell Anders confirmed having read it')).toBeVisible();
  await page.getByRole('button', { name: 'Statement of delivery' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByText(/Pell Anders: opened once/)).toBeVisible();
  await expectAccessible(page);
  const saved = async (name: string): Promise<string> => {
    const [download] = await Promise.all([page.waitForEvent('download'), dialog.getByRole('button', { name }).click()]);
    const path = info.outputPath(download.suggestedFilename());
    await download.saveAs(path);
    return path;
  };
  const [pdf, json, check] = [await saved('Save as PDF'), await saved('Save as JSON'), await saved('Save the check')];
  expect(pdf).toMatch(/delivery-[\w-]+-\d{4}-\d\d-\d\d\.pdf$/);
  const changed = info.outputPath('changed.json');
  writeFileSync(changed, readFileSync(json, 'utf8').replace('"kind": "text"', '"kind": "voice"'));

  const auditor = await browser.newContext({ viewport: phone, offline: true });
  const paper = await auditor.newPage();
  await paper.goto(`file://${check}`);
  for (const file of [pdf, json]) {
    await paper.getByLabel('The file').setInputFiles(file);
    await expect(paper.getByText(/states of a delivery on/)).toBeVisible();
    await expect(
      paper.getByText(/Pell Anders <pell.anders@postbox.example>: The notice was taken by their mail host/),
    ).toContainText('They confirmed having read it');
    await paper.getByLabel('The file').setInputFiles(changed);
    await expect(paper.getByRole('heading', { name: '■ Not confirmed' })).toBeVisible();
  }
  await expectAccessible(paper);
  await auditor.close();
  await outside.close();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByText('You made a signed statement of its delivery')).toBeVisible();
  expect(complaints).toEqual([]);
});
