/**
 * Somebody without any lock says how they want to be written to: every way from the first notice to the second message
 * that arrives as chosen, with a mistake on each.
 */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { type Browser, type Page } from '@playwright/test';
import { armoured } from '../core/src/openpgp/armour';
import { openPgpKeysIn } from '../core/src/openpgp/in-file';
import { makeOpenPgpKey } from '../core/src/openpgp/make-key';
import {
  chooseFiles,
  expect,
  expectAccessible,
  type House,
  latestLink,
  latestMail,
  mailCountAtRest,
  phone,
  signIn,
  test,
} from './house';
import { openDesk, writerOutside } from './letters';
import { addPerson } from './people';
import { databaseDump, passByText, withDatabase } from './readers';
import { beginLetter, choosePreset, closePlan, openWays } from './writing';

test.use({ houseFor: 'choosing', apart: true });

const PASSWORD = 'seven lamps over the quiet ford';
const desk = openDesk();
/** As its part of a mail spells it. */
const SPRING = Buffer.from('The berths for spring are here.').toString('base64');

interface Person {
  name: string;
  address: string;
  phone: string;
}

/** A first message under a handling whose readers may choose. */
async function writeTo(page: Page, { name, address, phone: number }: Person): Promise<void> {
  await addPerson(page, { name, address, phone: number });
  await beginLetter(page, address, 'Berths this winter', 'The berths are as agreed.');
  await choosePreset(page, /^Everyday papers/);
  await closePlan(page);
  await page.getByRole('button', { name: /^Send/ }).first().click();
  await expect(page.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
}

/** Outside, on a phone: the message is read, then the question below it is answered. */
async function openChoice(
  browser: Browser,
  house: House,
  { address, phone: number }: Person,
  before: number,
): Promise<Page> {
  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB', acceptDownloads: true });
  const reading = await outside.newPage();
  await reading.goto(await latestLink(house, address, before));
  await passByText(reading, house, number);
  await expect(reading.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
  await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  await expect(
    reading.getByRole('heading', { name: 'How shall we write to you from now on?', level: 1 }),
  ).toBeVisible();
  return reading;
}

/** Somebody is written to from a phone; outside, they stand before the choice. */
async function begin(page: Page, browser: Browser, house: House, person: Person): Promise<Page> {
  await page.setViewportSize(phone);
  await signIn(page, house);
  const before = await mailCountAtRest(house, person.address);
  await writeTo(page, person);
  return openChoice(browser, house, person, before);
}

/** It stands in the office book once a member's browser has taken it. */
const taken = (house: House, address: string): Promise<void> =>
  expect
    .poll(
      () =>
        withDatabase(
          house,
          async (database) =>
            (
              await database.query(
                'SELECT 1 FROM choices WHERE address_key = $1 AND sealed IS NULL AND settled_by IS NOT NULL',
                [address],
              )
            ).rowCount,
        ),
      { timeout: 40_000 },
    )
    .toBe(1)
    .then(() => undefined);

async function writeAgain(
  page: Page,
  { name, address }: Person,
  way: RegExp,
  subject = 'Berths in spring',
): Promise<void> {
  await beginLetter(page, address, subject, 'The berths for spring are here.');
  await choosePreset(page, /^Everyday papers/);
  await expect(page.getByText(way)).toBeVisible({ timeout: 20_000 });
  await openWays(page, name);
  await expect(page.getByText(/^They chose this: /)).toBeVisible();
  await closePlan(page);
  await page.getByRole('button', { name: /^Send/ }).first().click();
  await expect(page.getByRole('heading', { name: subject })).toBeVisible({ timeout: 60_000 });
}

test('a locked PDF under a password of theirs: tried first, kept, told by mail; a stricter handling goes before it', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  const lene = { name: 'Lene Hjort', address: 'lene.hjort@postbox.example', phone: '+447700900841' };
  const reading = await begin(page, browser, house, lene);
  await expectAccessible(reading);

  await reading.getByRole('radio', { name: /^As a locked file/ }).click();
  const [first, second] = [
    reading.getByRole('textbox', { name: 'Password for what we send you' }),
    reading.getByRole('textbox', { name: 'The same once more' }),
  ];
  await first.fill('short');
  await second.fill('short');
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText('At least 8 characters.')).toBeVisible();
  await first.fill('password1');
  await second.fill('password1');
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Too easy to guess/)).toBeVisible();
  await expectAccessible(reading);
  await first.fill(PASSWORD);
  await reading.getByRole('button', { name: 'Try it first' }).click();
  await expect(reading.getByText('The two are not the same.')).toBeVisible();
  await second.fill(PASSWORD);
  const tried = info.outputPath('sample.pdf');
  await fileTriedFirst(reading, tried);
  expect(textOf(tried, PASSWORD)).toContain('You have opened it.');
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\. What we write next comes this way/)).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Back to the message' }).first().click();
  await expect(reading.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
  expect((await latestMail(house, lene.address, /How we write to you from now on/)).text).toContain('Was it not you');
  await expect(page.getByText('Lene Hjort chose how to be written to from now on')).toBeVisible();

  await taken(house, lene.address);
  await writeAgain(page, lene, /locked file · stays with them · as they chose/);
  const mail = await latestMail(house, lene.address, /confidential message/);
  const file = info.outputPath('second.pdf');
  writeFileSync(file, mail.files[0]!.bytes);
  expect(textOf(file, PASSWORD)).toContain('The berths for spring are here.');
  const dump = databaseDump(house);
  for (const spelled of [PASSWORD, Buffer.from(PASSWORD).toString('hex'), 'seven lamps'])
    expect(dump.includes(spelled)).toBe(false);

  // A handling that keeps everything here goes before it, and says so.
  await beginLetter(page, lene.address, 'Eyesight', 'The finding is attached.');
  await choosePreset(page, /^Crew health/);
  await openWays(page, 'Lene');
  await expect(page.getByText(/They chose it as a locked file .*; this message can’t go that way/)).toBeVisible();
  await expectAccessible(page);
  await closePlan(page);

  // Taken back from the mail that told of it, without any message being open.
  const { text: told } = await latestMail(house, lene.address, /How we write to you from now on/);
  const link = /http:\S+\/room\/choice\/\S+/.exec(told)![0];
  await reading.goto(link.slice(0, -3));
  await expect(reading.getByRole('heading', { name: 'Nothing to take back' })).toBeVisible();
  await reading.goto('about:blank');
  await reading.goto(link);
  await expect(reading.getByText(/^Now: As a locked file, chosen on/)).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Take my choice back' }).click();
  await expect(reading.getByText(/^Your choice is taken back/)).toBeVisible();
  await expectAccessible(reading);
  await reading.reload();
  await expect(reading.getByRole('heading', { name: 'Nothing to take back' })).toBeVisible();
  await taken(house, lene.address);
  await beginLetter(page, lene.address, 'Berths in summer', 'The berths for summer are here.');
  await choosePreset(page, /^Everyday papers/);
  await openWays(page, 'Lene');
  await expect(page.getByText(/passcode by text message/).first()).toBeVisible();
  await expect(page.getByText(/^They chose/)).toHaveCount(0);
  await closePlan(page);
  expect(complaints).toEqual([]);
});

const SAMPLE = 'You have opened it. What we send you will come like this.';

/** The file under the password typed here, as it was saved by “Try it first”. */
async function fileTriedFirst(reading: Page, file: string): Promise<void> {
  const [sample] = await Promise.all([
    reading.waitForEvent('download'),
    reading.getByRole('button', { name: 'Try it first' }).click(),
  ]);
  await sample.saveAs(file);
  await expect(reading.getByText(/A file with nothing in it was saved/)).toBeVisible();
}

/** What 7-Zip reads in an archive; a wrong password is an error. */
const zipText = (file: string, password: string): string =>
  execFileSync('7zz', ['x', '-so', `-p${password}`, file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });

/** What a locked page shows where there is no network. */
async function pageText(browser: Browser, file: string, password: string): Promise<string> {
  const alone = await browser.newContext({ viewport: phone, offline: true });
  const opened = await alone.newPage();
  await opened.goto(pathToFileURL(file).href);
  await opened.getByLabel('Password', { exact: true }).fill('another-password');
  await opened.getByRole('button', { name: 'Open' }).click();
  await expect(opened.getByText(/This password does not open it/)).toBeVisible({ timeout: 30_000 });
  await opened.getByLabel('Password', { exact: true }).fill(password);
  await opened.getByRole('button', { name: 'Open' }).click();
  await expect(opened.getByRole('heading', { level: 1 })).not.toHaveText('A locked file', { timeout: 30_000 });
  const shown = await opened.locator('body').innerText();
  await alone.close();
  return shown;
}

test('a ZIP under a password of theirs, then a page under another: both tried where they are opened', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  const tuva = { name: 'Tuva Lind', address: 'tuva.lind@postbox.example', phone: '+447700900846' };
  const reading = await begin(page, browser, house, tuva);
  const type = async (password: string): Promise<void> => {
    await reading.getByRole('textbox', { name: 'Password for what we send you' }).fill(password);
    await reading.getByRole('textbox', { name: 'The same once more' }).fill(password);
  };
  await reading.getByRole('radio', { name: /^As a locked file/ }).click();
  await type(PASSWORD);
  await fileTriedFirst(reading, info.outputPath('sample.pdf'));
  // Another kind of file is another thing to try.
  await reading.getByRole('radio', { name: /^ZIP/ }).click();
  await expect(reading.getByText(/A file with nothing in it was saved/)).toHaveCount(0);
  const zip = info.outputPath('sample.zip');
  await fileTriedFirst(reading, zip);
  expect(zipText(zip, PASSWORD)).toContain(SAMPLE);
  expect(() => zipText(zip, 'another-password')).toThrow(/Wrong password/);
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible({ timeout: 20_000 });
  await taken(house, tuva.address);
  await writeAgain(page, tuva, /locked file · stays with them · as they chose/);
  const second = info.outputPath('second.zip');
  writeFileSync(second, (await latestMail(house, tuva.address, /confidential message/)).files[0]!.bytes);
  expect(zipText(second, PASSWORD)).toContain('The berths for spring are here.');

  await reading.getByRole('button', { name: 'Back to the message' }).first().click();
  await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  await expect(reading.getByText(/^Now: As a locked file, chosen on/)).toBeVisible();
  await reading.getByRole('radio', { name: /^Page/ }).click();
  await type('quay 7');
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText('At least 8 characters.')).toBeVisible();
  const other = 'nine herons below the winter pier';
  await type(other);
  const tried = info.outputPath('sample.html');
  await fileTriedFirst(reading, tried);
  expect(await pageText(browser, tried, other)).toContain(SAMPLE);
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible({ timeout: 20_000 });
  await taken(house, tuva.address);
  const mails = await mailCountAtRest(house, tuva.address);
  await writeAgain(page, tuva, /locked file · stays with them · as they chose/, 'Berths in summer');
  await expect.poll(() => mailCountAtRest(house, tuva.address), { timeout: 30_000 }).toBeGreaterThan(mails);
  const third = info.outputPath('third.html');
  const mail = await latestMail(house, tuva.address, /confidential message/);
  expect(mail.files[0]!.name).toMatch(/\.html$/);
  writeFileSync(third, mail.files[0]!.bytes);
  expect(await pageText(browser, third, other)).toContain('The berths for spring are here.');
  expect(complaints).toEqual([]);
});

const textOf = (file: string, password: string): string =>
  execFileSync('pdftotext', ['-upw', password, file, '-'], { encoding: 'utf8' });

const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);

/** A newest mail outside, as it came. */
async function rawOf(house: House, address: string): Promise<Buffer> {
  const { messages } = (await (await fetch(`${house.outside}/mailboxes/${address}`)).json()) as {
    messages: { id: string; subject: string }[];
  };
  const found = messages.find(({ subject }) => /confidential message/.test(subject));
  return Buffer.from(await (await fetch(`${house.outside}/mails/${found!.id}/raw`)).arrayBuffer());
}

async function copyOf(house: House, address: string): Promise<Buffer> {
  await latestMail(house, address, /confidential message/);
  return rawOf(house, address);
}

/** What the mail's OpenPGP part holds for the key in own.asc. */
function opensForOwn(mail: Buffer): string {
  const [block] = /-----BEGIN PGP MESSAGE-----[\s\S]+?-----END PGP MESSAGE-----/.exec(mail.toString('latin1'))!;
  return execFileSync('sqop', ['decrypt', join(desk.folder, 'own.asc')], {
    input: block.replace(/\r/g, ''),
    encoding: 'utf8',
  });
}

test('an OpenPGP key, pasted: what is wrong with one is said, a later one is compared before it is used', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  const sunniva = { name: 'Sunniva Berg', address: 'sunniva.berg@postbox.example', phone: '+447700900842' };
  const [own, foreign, later] = await Promise.all(
    [sunniva.address, 'somebody@else.example', sunniva.address].map((address) =>
      makeOpenPgpKey('wide', { name: sunniva.name, addresses: [address] }, new Date(), undefined),
    ),
  );
  const publicHalf = async ({ secret }: { secret: Uint8Array }): Promise<string> =>
    text(armoured('PUBLIC KEY BLOCK', (await openPgpKeysIn(secret))[0]!.bytes));
  const reading = await begin(page, browser, house, sunniva);
  await reading.getByRole('radio', { name: /^To my certificate or key/ }).click();
  const field = reading.getByRole('textbox', { name: 'Or paste it here' });
  const keep = reading.getByRole('button', { name: 'Keep this' });
  for (const [pasted, said] of [
    ['Dear all, my key is at the usual place.', /There is no certificate and no OpenPGP key in it/],
    [text(armoured('PRIVATE KEY BLOCK', own!.secret)), /That holds your private key/],
    [await publicHalf(foreign!), `It is for another address than ${sunniva.address}.`],
  ] as const) {
    await field.fill(pasted);
    await keep.click();
    await expect(reading.getByText(said)).toBeVisible({ timeout: 20_000 });
  }
  await expectAccessible(reading);
  await field.fill(await publicHalf(own!));
  desk.put('own.asc', armoured('PRIVATE KEY BLOCK', own!.secret));
  const sample = info.outputPath('sample.eml');
  await triedFirst(reading, sample);
  expect(opensForOwn(readFileSync(sample))).toContain(
    Buffer.from('You have opened it.').toString('base64').slice(0, 20),
  );
  await keep.click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible({ timeout: 20_000 });

  await taken(house, sunniva.address);
  await writeAgain(page, sunniva, /openPGP key · .*as they chose|OpenPGP key · .*as they chose/);
  expect(opensForOwn(await copyOf(house, sunniva.address))).toContain(SPRING);

  // Another one is theirs only once somebody has asked them.
  await reading.getByRole('button', { name: 'Back to the message' }).first().click();
  await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  await expect(reading.getByText(/^Now: To my OpenPGP key, chosen on/)).toBeVisible();
  await reading.getByRole('textbox', { name: 'Or paste it here' }).fill(await publicHalf(later!));
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible({ timeout: 20_000 });
  await taken(house, sunniva.address);
  await page.goto(`${house.origin}/desk`);
  await page.getByRole('link', { name: /^Sunniva Berg gave another OpenPGP key than the office has/ }).click();
  await expect(page.getByText(/^Sunniva Berg gave another OpenPGP key than the office has, on/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'The OpenPGP key is Sunniva Berg’s: use it' }).click();
  await expect(page.getByText(/gave another OpenPGP key than the office has/)).toHaveCount(0);
  await expect(page.getByText(/To their OpenPGP key, on/)).toBeVisible();
  expect(complaints).toEqual([]);
});

/** What is saved for their mail program, where it is to be tried. */
async function triedFirst(reading: Page, file: string): Promise<void> {
  const [sample] = await Promise.all([
    reading.waitForEvent('download'),
    reading.getByRole('button', { name: 'Try it first' }).click(),
  ]);
  await sample.saveAs(file);
  await expect(reading.getByText(/^A mail with nothing in it was saved/)).toBeVisible();
}

test('a certificate made for them: its key leaves their browser in a file only, and another program reads what comes', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  const runa = { name: 'Runa Falk', address: 'runa.falk@postbox.example', phone: '+447700900843' };
  const reading = await begin(page, browser, house, runa);
  await reading.getByRole('radio', { name: /^Make a certificate for me/ }).click();
  const [first, second] = [
    reading.getByRole('textbox', { name: 'Password for the certificate’s file' }),
    reading.getByRole('textbox', { name: 'The same once more' }),
  ];
  await first.fill('sieben Lampen über der Furt');
  await second.fill('sieben Lampen über der Furt');
  await reading.getByRole('button', { name: 'Make it' }).click();
  await expect(reading.getByText(/Some mail programs spell accents otherwise/)).toBeVisible();
  await first.fill(PASSWORD);
  await second.fill(PASSWORD);
  const [download] = await Promise.all([
    reading.waitForEvent('download'),
    reading.getByRole('button', { name: 'Make it' }).click(),
  ]);
  const file = info.outputPath('certificate.p12');
  await download.saveAs(file);
  await expect(reading.getByText(/^Made, and saved as certificate\.p12/)).toBeVisible();
  await expectAccessible(reading);
  const key = desk.openssl('pkcs12', '-in', file, '-passin', `pass:${PASSWORD}`, '-nodes');
  desk.put('runa.pem', key);
  const sample = info.outputPath('sample.eml');
  await triedFirst(reading, sample);
  expect(desk.openssl('cms', '-decrypt', '-in', sample, '-inkey', 'runa.pem').toString()).toContain(
    'Subject: A sample',
  );
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible();

  await taken(house, runa.address);
  await writeAgain(page, runa, /certificate · .*as they chose/);
  desk.put('copy.eml', await copyOf(house, runa.address));
  const opened = desk.openssl('cms', '-decrypt', '-in', 'copy.eml', '-inkey', 'runa.pem', '-recip', 'runa.pem');
  expect(opened.toString()).toContain(SPRING);
  const inside = desk.openssl('pkcs8', '-topk8', '-nocrypt', '-in', 'runa.pem', '-outform', 'DER').subarray(-400, -100);
  expect(databaseDump(house).includes(inside.toString('hex'))).toBe(false);
  expect(complaints).toEqual([]);
});

test('a certificate of their own from a file; then the reading room; then taken back', async ({
  page,
  browser,
  house,
  complaints,
}, info) => {
  const ask = { name: 'Ask Nyberg', address: 'ask.nyberg@postbox.example', phone: '+447700900844' };
  await writerOutside(house, desk, ask.name, ask.address);
  const reading = await begin(page, browser, house, ask);
  await reading.getByRole('radio', { name: /^To my certificate or key/ }).click();
  const give = (name: string): Promise<void> => chooseFiles(reading, 'Choose a file', join(desk.folder, name));
  await give('sender.key');
  await expect(reading.getByText(/That holds your private key/)).toBeVisible();
  await give('sender.pem');
  await expect(reading.getByText(new RegExp(`^Found for ${ask.address}, valid until`))).toBeVisible();
  const sample = info.outputPath('sample.eml');
  await triedFirst(reading, sample);
  expect(desk.openssl('cms', '-decrypt', '-in', sample, '-inkey', 'sender.key').toString()).toContain(
    'Subject: A sample',
  );
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible();
  await taken(house, ask.address);
  await writeAgain(page, ask, /certificate · .*as they chose/);
  desk.put('copy.eml', await copyOf(house, ask.address));
  expect(
    desk.openssl('cms', '-decrypt', '-in', 'copy.eml', '-inkey', 'sender.key', '-recip', 'sender.pem').toString(),
  ).toContain(SPRING);

  const again = async (): Promise<void> => {
    await reading.getByRole('button', { name: 'Back to the message' }).first().click();
    await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  };
  await again();
  await reading.getByRole('radio', { name: /^Here, in the reading room/ }).click();
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible();
  await taken(house, ask.address);
  const mails = await mailCountAtRest(house, ask.address);
  await beginLetter(page, ask.address, 'Berths in summer', 'The berths for summer are here.');
  await choosePreset(page, /^Everyday papers/);
  await expect(page.getByText(/reading room · passcode by text message .*as they chose/)).toBeVisible({
    timeout: 20_000,
  });
  await closePlan(page);
  await page.getByRole('button', { name: /^Send/ }).first().click();
  await expect(page.getByRole('heading', { name: 'Berths in summer' })).toBeVisible();
  expect(await latestLink(house, ask.address, mails)).toContain('/room/');

  await again();
  await reading.getByRole('button', { name: 'Take my choice back' }).click();
  await expect(reading.getByText(/^Your choice is taken back/)).toBeVisible();
  await taken(house, ask.address);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('link', { name: /Ask Nyberg/ }).click();
  await expect(
    page.getByText(/They chose in the reading room: .*choice of how to be written to/).first(),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'As they chose' })).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test('who has neither phone nor second mailbox is told a one-time password; it opens once, and what they choose under it is not enough for more', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  const ole = { name: 'Ole Ros', address: 'ole.ros@postbox.example' };
  await page.setViewportSize(phone);
  await signIn(page, house);
  const before = await mailCountAtRest(house, ole.address);
  await addPerson(page, ole);
  await beginLetter(page, ole.address, 'Berths this winter', 'The berths are as agreed.');
  await choosePreset(page, /^Everyday papers/);
  await openWays(page, 'Ole');
  await page.getByRole('radio', { name: 'A one-time password you tell them' }).click();
  await expect(page.getByText(/^Tell it to them by phone or in person/)).toBeVisible();
  const told = page.getByText(/^\d{4} \d{4}$/);
  const first = await told.textContent();
  await page.getByRole('button', { name: 'Make another one-time password for Ole Ros' }).click();
  await expect(told).not.toHaveText(first!);
  await expectAccessible(page);
  await closePlan(page);
  await page.getByRole('button', { name: /^Send/ }).first().click();
  await expect(page.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
  await page.getByRole('button', { name: 'Show the one-time password for Ole Ros' }).click();
  const digits = (await told.textContent())!;
  expect(digits).not.toBe(first);
  await expectAccessible(page);

  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB' });
  const reading = await outside.newPage();
  const link = await latestLink(house, ole.address, before);
  await reading.goto(link);
  const field = reading.getByRole('textbox', { name: 'One-time password' });
  await expect(reading.getByText(/The one-time password that Maren Oduya tells you/)).toBeVisible();
  await field.fill('1234');
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByText('A one-time password has eight digits.')).toBeVisible();
  await field.fill(first!);
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByText(/That is not the one-time password\. 4 tries left/)).toBeVisible();
  await expectAccessible(reading);
  await field.fill(digits.replace(' ', ''));
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByRole('heading', { name: 'Berths this winter' })).toBeVisible();
  await expect(page.getByText('The one-time password was used.')).toBeVisible();

  const other = await (await browser.newContext({ viewport: phone, locale: 'en-GB' })).newPage();
  await other.goto(link);
  await expect(other.getByText(/This one-time password has been used/)).toBeVisible();
  await expectAccessible(other);

  await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  await reading.getByRole('radio', { name: /^As a locked file/ }).click();
  await reading.getByRole('textbox', { name: 'Password for what we send you' }).fill(PASSWORD);
  await reading.getByRole('textbox', { name: 'The same once more' }).fill(PASSWORD);
  await reading.getByRole('button', { name: 'Keep this' }).click();
  await expect(reading.getByText(/^Kept\./)).toBeVisible({ timeout: 20_000 });
  await taken(house, ole.address);
  await beginLetter(page, ole.address, 'Berths in spring', 'The berths for spring are here.');
  await choosePreset(page, /^Everyday papers/);
  await openWays(page, 'Ole');
  await expect(
    page.getByText(/They chose it as a locked file .*, after a lesser check than this message asks/),
  ).toBeVisible();
  expect(complaints.filter((one) => !/403/.test(one))).toEqual([]);
});
