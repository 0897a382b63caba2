/** What should not go out unseen is seen while it is written: in the text, in a hidden sheet, in a PDF; and can be called harmless. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { utf8 } from '../core/src/bytes';
import { writeZip } from '../core/src/zip/write';
import { addFiles, desktop, expect, expectAccessible, papers, phone, signIn, test } from './house';
import { beginLetter } from './writing';
import { type Page } from '@playwright/test';

const text = (content: string) => utf8(content);

/** A workbook whose second sheet nobody sees when it is opened. */
const workbook = () =>
  writeZip({
    files: [
      {
        name: 'xl/workbook.xml',
        bytes: text(
          '<workbook xmlns:r="x"><sheets><sheet name="Berths" sheetId="1" r:id="rId1"/><sheet name="Pay" state="hidden" sheetId="2" r:id="rId2"/></sheets></workbook>',
        ),
      },
      {
        name: 'xl/_rels/workbook.xml.rels',
        bytes: text(
          '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Target="worksheets/sheet2.xml"/></Relationships>',
        ),
      },
      {
        name: 'xl/worksheets/sheet1.xml',
        bytes: text(
          '<worksheet><sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>Berth 4</t></is></c></row></sheetData></worksheet>',
        ),
      },
      {
        name: 'xl/worksheets/sheet2.xml',
        bytes: text(
          '<worksheet><sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>Account</t></is></c></row><row r="2"><c r="A2" t="inlineStr"><is><t>DE89 3704 0044 0532 0130 00</t></is></c></row></sheetData></worksheet>',
        ),
      },
    ],
    lock: undefined,
    date: new Date('2026-11-24T10:00:00Z'),
    isPacked: () => false,
  });

const begin = (page: Page): Promise<void> => beginLetter(page, 'pell.anders@postbox.example', 'Berths and pay');

test('a card in the text, an account in a hidden sheet, the office’s own papers: seen, shown, called harmless', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  const left: string[] = [];
  page
    .context()
    .on('request', (request) => void left.push(request.url(), request.postDataBuffer()?.toString('utf8') ?? ''));
  await begin(page);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type('Please take it from Visa card 4111 1111 1111 1111.');
  const seen = page.getByRole('list', { name: 'Seen in it' });
  const card = seen.getByRole('listitem').filter({ hasText: 'Payment card' });
  await expect(card).toContainText('41•• •••• •••• ••11 · in the text');
  await addFiles(page, [
    { name: 'berths.xlsx', mimeType: 'application/octet-stream', buffer: Buffer.from(await workbook()) },
  ]);
  const account = seen.getByRole('listitem').filter({ hasText: 'Bank account' });
  await expect(account).toContainText('in berths.xlsx, hidden sheet Pay, A2');
  await account.getByRole('button', { name: /^Show the place: Bank account/ }).click();
  await expect(account).toContainText('DE89 3704 0044 0532 0130 00');
  // A PDF made for it stands beside the demo's own papers, which hold nothing of the kind.
  const pdf = await page.context().newPage();
  await pdf.setContent('<p>Passport office</p><p>National insurance number: AB 12 34 56 C</p>');
  await addFiles(page, [{ name: 'letter.pdf', mimeType: 'application/pdf', buffer: await pdf.pdf() }]);
  await pdf.close();
  await expect(seen.getByRole('listitem').filter({ hasText: 'National or tax number' })).toContainText(
    'in letter.pdf, page 1',
  );
  await addFiles(page, papers);
  await expect(page.getByText('eyesight.jpg is a picture: not looked into.')).toBeVisible();
  await expect(page.getByText(/fitness-2026.pdf .*not looked into/)).toHaveCount(0);
  await expectAccessible(page);

  // Harmless is remembered with the draft, and can be taken back.
  await card.getByRole('button', { name: /^Not what it looks like: Payment card/ }).click();
  await expect(card).toHaveCount(0);
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  await page.reload();
  await expect(account).toBeVisible();
  await expect(card).toHaveCount(0);
  await page.getByRole('button', { name: 'List them again' }).click();
  await expect(card).toBeVisible();

  // On a phone the plan’s line says it, and the whole of it opens.
  await page.setViewportSize(phone);
  await page.getByRole('button', { name: /^Plan: .*4 seen in it/ }).click();
  await expect(card).toBeVisible();
  await expectAccessible(page);
  // What was seen has stayed in this browser, also what it was called and where it stands.
  expect(left.length).toBeGreaterThan(20);
  // Longer than what random digits of an address or a name come to by chance.
  const readable = /4111\W?1111|DE89\W?3704|AB\W?12\W?34|Payment card|\biban|\bcard:|••/;
  expect(left.filter((one) => readable.test(one))).toEqual([]);
  expect(complaints).toEqual([]);
});

test('an archive is looked into; a picture and a scanned page are read by a press', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await begin(page);
  const dir = mkdtempSync(join(tmpdir(), 'packed-'));
  writeFileSync(join(dir, 'pay.csv'), 'Account\nDE89 3704 0044 0532 0130 00\n');
  execFileSync('/usr/bin/7zz', ['a', 'pay.7z', 'pay.csv'], { cwd: dir, stdio: 'ignore' });
  const paper = await page.context().newPage();
  await paper.setViewportSize({ width: 900, height: 500 });
  const styled = (words: string): string => `<p style="font:28px/2 sans-serif">${words}</p>`;
  await paper.setContent(styled('The advance goes to this account:<br>IBAN NL91 ABNA 0417 1643 00'));
  const note = await paper.screenshot();
  await paper.setContent(styled('Visa card 4111 1111 1111 1111, valid until 04/28'));
  const slip = await paper.screenshot();
  await paper.setContent(`<img width="700" src="data:image/png;base64,${slip.toString('base64')}">`);
  const scanned = await paper.pdf();
  await paper.close();
  await addFiles(page, [
    { name: 'pay.7z', mimeType: 'application/octet-stream', buffer: readFileSync(join(dir, 'pay.7z')) },
    { name: 'note.png', mimeType: 'image/png', buffer: note },
    { name: 'slip.pdf', mimeType: 'application/pdf', buffer: scanned },
  ]);
  rmSync(dir, { recursive: true });

  await page.getByRole('button', { name: /^Plan: .*seen in it/ }).click();
  const seen = page.getByRole('list', { name: 'Seen in it' }).getByRole('listitem');
  await expect(seen.filter({ hasText: 'in pay.7z › pay.csv, line 2' })).toContainText('Bank account');
  await expect(page.getByText('note.png is a picture: not looked into.')).toBeVisible();
  await page.getByRole('button', { name: 'Read this picture: note.png' }).click();
  const slow = { timeout: 60_000 };
  await expect(seen.filter({ hasText: 'in note.png, read from a picture' })).toContainText('Bank account', slow);
  await page.getByRole('button', { name: 'Read this page: slip.pdf' }).click();
  await expect(seen.filter({ hasText: 'in slip.pdf, read from a picture, page 1' })).toContainText(
    'Payment card',
    slow,
  );
  await expect(page.getByText(/is a picture: not looked into/)).toHaveCount(0);
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});
