/**
 * The carried page from a fresh start: chosen in the plan, sent, opened from a disk and by giving the file to the
 * reading room, with mistakes on the way, and ended by withdrawing.
 */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { type BrowserContext, type Page } from '@playwright/test';
import {
  addFiles,
  desktop,
  expect,
  expectAccessible,
  type House,
  latestMail,
  latestText,
  papers,
  phone,
  signIn,
  test,
  watch,
} from './house';
import { openDesk } from './letters';
import { asTheySeeIt, chooseLock, choosePreset } from './writing';

const RUNA = 'runa.ekdal@postbox.example';
const STEN = 'sten.holm@postbox.example';
const NUMBER = '+447700900471';
const { folder } = openDesk();

async function write(page: Page, subject: string, to = RUNA): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(`${to},`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Dear Runa, sign page two.');
}

async function fileFrom(
  house: House,
  name: string,
  mailbox = RUNA,
): Promise<{ path: string; html: string; text: string }> {
  const mail = await latestMail(house, mailbox, /has left a message/);
  const path = join(folder, name);
  writeFileSync(path, mail.files[0]!.bytes);
  return { path, html: Buffer.from(mail.files[0]!.bytes).toString('latin1'), text: mail.text };
}

async function passBy(reading: Page, house: House, number = NUMBER): Promise<void> {
  const before = await latestText(house, number);
  await reading.getByRole('button', { name: 'Send me the passcode' }).click();
  await expect.poll(() => latestText(house, number)).not.toBe(before);
  await reading.getByLabel('Passcode', { exact: true }).fill(/\d{6}/.exec(await latestText(house, number))![0]);
  await reading.getByRole('button', { name: 'Open the message' }).click();
}

async function give(reading: Page, file: string | { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
  const [chooser] = await Promise.all([
    reading.waitForEvent('filechooser'),
    reading.getByRole('button', { name: 'Choose the file' }).click(),
  ]);
  await chooser.setFiles(file as string);
}

/** Lets a file fall onto the page, as from a folder. */
async function drop(reading: Page, name: string, text: string): Promise<void> {
  await expect(reading.getByText('Or drop it anywhere on this page.')).toBeVisible();
  const data = await reading.evaluateHandle(
    ([title, content]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([content!], title!, { type: 'text/html' }));
      return transfer;
    },
    [name, text],
  );
  await reading.locator('body').dispatchEvent('drop', { dataTransfer: data });
}

const reading = (context: BrowserContext): Promise<Page> => context.newPage();

test('a carried page is sent in place of a locked file, opens from a disk after a passcode, and no more once it is withdrawn', async ({
  house,
  page,
  browser,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await write(page, 'Contract for the winter');
  await addFiles(page, papers);
  await choosePreset(page, /Everyday papers/);
  await chooseLock(page, 'Locked file');
  await expect(page.getByText(/can’t be closed, withdrawn or limited/)).toBeVisible();
  await page.getByRole('button', { name: /^Send a carried page instead/ }).click();
  await expect(page.getByText('■ Phone number for the passcode missing')).toBeVisible();
  await page.getByLabel(/^Phone of/).fill(NUMBER);
  await page.getByRole('button', { name: 'Keep the number' }).click();
  await expect(page.getByText(/carried page · passcode by text message/).first()).toBeVisible();
  await expect(
    page.getByText(/opens in the reading room with the half of the key that stays here; can be closed and withdrawn/),
  ).toBeVisible();
  await expectAccessible(page);
  const seen = await asTheySeeIt(page);
  await expect(
    seen
      .frameLocator('iframe')
      .first()
      .getByText(/in the file that comes with this mail/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Back to writing' }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Contract for the winter' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/^Told/)).toBeVisible();
  await expect(page.getByText(/^Carried page: the content went with the mail/)).toBeVisible();
  await expectAccessible(page);

  const { path, html, text } = await fileFrom(house, 'message-under-lock.html');
  for (const secret of ['Contract for the winter', 'sign page two', 'eyesight']) expect(html).not.toContain(secret);
  expect(text).not.toContain('sign page two');

  // From a disk: the page says what it is without a network, and its button leads to the room, which asks it for the
  // content.
  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB' });
  const said = watch(outside);
  const onDisk = await reading(outside);
  await onDisk.goto(pathToFileURL(path).href);
  await expect(onDisk.getByRole('heading', { name: 'A message from Maren Oduya, under lock' })).toBeVisible();
  await expectAccessible(onDisk);
  const [room] = await Promise.all([
    outside.waitForEvent('page'),
    onDisk.getByRole('link', { name: 'Open the message' }).click(),
  ]);
  await expect(room.getByText(/You can read this until/)).toBeVisible();
  expect(room.url()).toMatch(/\/room\/[\da-f-]{36}\/carried#/);
  expect(await room.evaluate(() => window.opener)).toBeNull();
  await expectAccessible(room);
  await passBy(room, house);
  await expect(room.frameLocator('iframe').getByText('Dear Runa, sign page two.')).toBeVisible();
  await expect(room.getByText('fitness-2026.pdf', { exact: true })).toBeVisible();
  await expect(page.getByText(/opened once/)).toBeVisible();

  // By giving the file to the page that the mail names, on another device, with the wrong files first.
  const link = /http:\S+\/room\/[\da-f-]{36}\/carried\b/.exec(text)![0];
  expect(link).not.toContain('#');
  const elsewhere = await browser.newContext({ viewport: desktop, locale: 'en-GB' });
  const given = await reading(elsewhere);
  const heard = watch(elsewhere);
  await given.goto(link);
  await expect(given.getByRole('heading', { name: 'Maren Oduya has sent you a message in a file' })).toBeVisible();
  await expectAccessible(given);
  await give(given, papers[0]!);
  await expect(given.getByText(/“fitness-2026.pdf” is not a file of ours/)).toBeVisible();
  await drop(given, 'half.html', html.slice(0, html.length / 2));
  await expect(given.getByText(/“half.html” is not a file of ours, or part of it is missing/)).toBeVisible();
  await drop(given, 'other.html', html.replace(/room\/[\da-f-]{36}/, 'room/00000000-0000-4000-8000-000000000000'));
  await expect(given.getByText(/“other.html” belongs to another message/)).toBeVisible();
  await drop(given, 'office.html', html.replace(/href="http:\/\/[^/]+/, 'href="https://room.skerryport.example'));
  await expect(
    given.getByText(/belongs to the reading room of another office, at https:\/\/room\.skerryport\.example/),
  ).toBeVisible();
  await drop(given, 'no-key.html', html.replace(/#[\w-]{43}/, ''));
  await expect(given.getByText(/“no-key.html” has lost part of its key/)).toBeVisible();
  await expectAccessible(given);
  await drop(given, 'message.page', html);
  await passBy(given, house);
  await expect(given.frameLocator('iframe').getByText('Dear Runa, sign page two.')).toBeVisible();

  // What was changed on the way opens nothing, and says so.
  const changed = await reading(elsewhere);
  await changed.goto(link);
  const middle = Math.floor(html.length / 2);
  await drop(
    changed,
    'changed.html',
    `${html.slice(0, middle)}${html[middle] === 'A' ? 'B' : 'A'}${html.slice(middle + 1)}`,
  );
  await expect(changed.getByText(/What arrived is not what was sent/)).toBeVisible();

  // What left is on record, with the file.
  await page.getByRole('link', { name: /What left the house/ }).click();
  await expect(page.getByText('● Exactly this left')).toBeVisible();
  await expect(page.getByText('It brought the sealed content along as a file.')).toBeVisible();
  await expectAccessible(page);
  await page.goBack();

  // Withdrawn: gone from the screen, and the file on the disk opens no more.
  await page.getByRole('button', { name: 'Withdraw', exact: true }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Withdraw/ })
    .click();
  await expect(room.getByRole('heading', { name: 'This message was withdrawn' })).toBeVisible({ timeout: 30_000 });
  const [again] = await Promise.all([
    outside.waitForEvent('page'),
    onDisk.getByRole('link', { name: 'Open the message' }).click(),
  ]);
  await expect(again.getByRole('heading', { name: 'This message was withdrawn' })).toBeVisible();
  await outside.close();
  await elsewhere.close();
  expect([...complaints, ...said, ...heard]).toEqual([]);
});

test('a page that is no carried page gets nowhere by opening the room: what it hands over opens nothing', async ({
  house,
  page,
  browser,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await write(page, 'Roster', STEN);
  await chooseLock(page, 'Carried page');
  await page.getByLabel(/^Phone of/).fill('+447700900472');
  await page.getByRole('button', { name: 'Keep the number' }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Roster' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/^Told/)).toBeVisible();
  const { html } = await fileFrom(house, 'roster.html', STEN);
  const [, href] = /href="([^"]+)"/.exec(html)!;
  const hostile = join(folder, 'hostile.html');
  writeFileSync(
    hostile,
    `<!doctype html><title>x</title><button onclick="const w=window.open(${JSON.stringify(href).replaceAll('"', '&quot;')});window.addEventListener('message',()=>{for(const one of [1,null,{},'','x',new Uint8Array(9),'-----BEGIN PGP MESSAGE-----\\n\\n0f8AAAABAg==\\n-----END PGP MESSAGE-----\\n'])w.postMessage(one,'*')})">Go</button>`,
  );
  const outside = await browser.newContext({ viewport: desktop, locale: 'en-GB' });
  const said = watch(outside);
  const bad = await reading(outside);
  await bad.goto(pathToFileURL(hostile).href);
  const [room] = await Promise.all([outside.waitForEvent('page'), bad.getByRole('button', { name: 'Go' }).click()]);
  await passBy(room, house, '+447700900472');
  await expect(room.getByText(/What arrived is not what was sent/)).toBeVisible();
  await outside.close();
  expect([...complaints, ...said]).toEqual([]);
});

test('who has a password here gives the file, signs in, and reads; the file holds nothing of the key', async ({
  house,
  page,
  browser,
  complaints,
}) => {
  const mira = 'mira.talvik@saltmarsh.example';
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await write(page, 'Pilotage accounts', mira);
  await chooseLock(page, 'Carried page');
  await expect(page.getByText('carried page · their own password')).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Pilotage accounts' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/^Told/)).toBeVisible();
  const { path, html } = await fileFrom(house, 'accounts.html', mira);
  expect(html).not.toMatch(/carried#/);
  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB' });
  const said = watch(outside);
  const onDisk = await reading(outside);
  await onDisk.goto(pathToFileURL(path).href);
  const [room] = await Promise.all([
    outside.waitForEvent('page'),
    onDisk.getByRole('link', { name: 'Open the message' }).click(),
  ]);
  await expect(room.getByRole('heading', { name: 'Sign in to read' })).toBeVisible();
  await room.getByLabel('Your mail address').fill(mira);
  await room.getByLabel('Password', { exact: true }).fill('seven lanterns at low tide');
  await room.getByRole('button', { name: 'Sign in' }).click();
  await expect(room.frameLocator('iframe').getByText('Dear Runa, sign page two.')).toBeVisible({ timeout: 30_000 });
  // From their list the file is asked for: it is nowhere else.
  await room.getByRole('button', { name: '‹ My list' }).click();
  await room.getByRole('button', { name: 'Open Pilotage accounts' }).click();
  await expect(room.getByRole('heading', { name: 'Maren Oduya has sent you a message in a file' })).toBeVisible();
  await give(room, path);
  await expect(room.frameLocator('iframe').getByText('Dear Runa, sign page two.')).toBeVisible({ timeout: 30_000 });
  await outside.close();

  // Among our own people's files it is known for what it is.
  await page.goto(`${house.origin}/mail/open`);
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Choose the file' }).click(),
  ]);
  await chooser.setFiles(path);
  await expect(
    page.getByText(
      /^▲?\s*This is a carried page: a message in a file, which opens in the reading room of whoever sent it, at http/,
    ),
  ).toBeVisible();
  await expectAccessible(page);
  expect([...complaints, ...said]).toEqual([]);
});
