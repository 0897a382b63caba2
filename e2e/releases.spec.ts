/** What a rule wants somebody else to look at waits, is sent back with a sentence, written anew, and released. */
import { desktop, expect, expectAccessible, latestLink, phone, signIn, test } from './house';
import { writeZip } from '../core/src/zip/write';
import { press, type } from './keyboard';
import { withDatabase } from './readers';
import { beginLetter, openPlan } from './writing';

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

test.use({ houseFor: 'releases' });

test('a bid waits, comes back with a sentence, and leaves once somebody else has released it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(
    page,
    'pell.anders@postbox.example',
    'The pier at Cala',
    'Our sealed bid is 41 thousand; the yard’s phone list follows.',
  );
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
  await expect(page.getByText('Ines Varga released it')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('who may release is an administrator’s to say; where nobody may, the plan says so and what waits is taken back', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await beginLetter(page, 'pell.anders@postbox.example', 'The second pier', 'Our tender price is lower.');
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

/** A workbook with account numbers in a hidden row, as an office program would have written it. */
const accounts = (): Promise<Uint8Array> =>
  writeZip({
    files: Object.entries({
      'xl/workbook.xml':
        '<workbook xmlns:r="x"><sheets><sheet name="Tender" sheetId="1" r:id="rId1"/></sheets></workbook>',
      'xl/_rels/workbook.xml.rels':
        '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
      'xl/worksheets/sheet1.xml':
        '<worksheet><sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>Sealed bid of the yard</t></is></c></row><row r="2" hidden="1"><c r="B2" t="inlineStr"><is><t>DE89 3704 0044 0532 0130 00</t></is></c></row></sheetData></worksheet>',
    }).map(([name, text]) => ({ name, bytes: new TextEncoder().encode(text) })),
    date: new Date(),
    isPacked: () => false,
    lock: undefined,
  });

test('by keyboard alone: an account number in a spreadsheet to a firm nearly known is seen, settled and released', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  // The test before took the permission away.
  await withDatabase(house, (database) =>
    database.query(`UPDATE accounts SET may_release = address LIKE 'ines.varga@%'`),
  );
  await signIn(page, house, 0);
  await press(page, page.getByRole('link', { name: 'Write', exact: true }));
  await type(page, page.getByRole('combobox', { name: 'To' }), 'office@saltmarch.example,');
  await type(page, page.getByLabel('Subject'), 'Tender');
  await type(page, page.getByRole('textbox', { name: 'Text', exact: true }), 'As agreed.');
  const chosen = page.waitForEvent('filechooser');
  await press(page, page.getByRole('button', { name: 'Add files' }));
  await (await chosen).setFiles([{ name: 'tender.xlsx', mimeType: XLSX, buffer: Buffer.from(await accounts()) }]);
  await expect(page.getByText(/in tender\.xlsx, .*Tender.*B2/)).toBeVisible();
  await press(page, page.getByRole('list', { name: 'Is this right?' }).getByRole('button', { name: /^It is right/ }));
  const to = 'office@saltmarch.example';
  await type(page, page.getByLabel(`Phone of ${to}`), '07700 900741');
  await press(page, page.getByRole('button', { name: 'Keep the number' }));
  await type(page, page.getByLabel(`Question for ${to}`), 'Which boat did we meet on?');
  await type(page, page.getByLabel(`Answer of ${to}`), 'The grey kittiwake');
  await type(page, page.getByLabel('Reference number, as a rule asks'), 'PY-2611-041');
  await page.keyboard.press('Tab');
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await expectAccessible(page);
  await press(page, page.getByRole('button', { name: 'Send for release' }));
  await expect(page.getByText(/Waiting since .*Ines Varga can release it/)).toBeVisible({ timeout: 60_000 });

  await signIn(page, house, 2);
  await press(page, page.getByRole('link', { name: /Maren Oduya asks you to release a message/ }));
  await expect(page.getByRole('list', { name: 'Seen in it' }).getByText(/B2/)).toBeVisible();
  await press(page, page.getByRole('button', { name: 'Release it' }));
  await expect(page.getByText('Nothing waits')).toBeVisible();
  expect(await latestLink(house, 'office@saltmarch.example')).toContain('/room/');
  expect(complaints).toEqual([]);
});
