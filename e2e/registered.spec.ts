/**
 * A reader with a password: from a first visit to a list, written to without links, writing themselves; a forgotten
 * password; an account forgotten.
 */
import { execFileSync } from 'node:child_process';
import { type Page } from '@playwright/test';
import pg from 'pg';
import {
  desktop,
  expect,
  expectAccessible,
  type House,
  latestLink,
  latestMail,
  mailCountAtRest,
  papers,
  phone,
  signIn,
  test,
} from './house';
import { passByText } from './readers';

test.use({ viewport: desktop });

const joris = 'joris.wend@postbox.example';
const number = '+447700900333';
const password = 'nine gulls on the breakwater';

/** Waits for mail beyond those that were there, and reads the digits from the newest. */
async function digitsAfter(house: House, before: number): Promise<string> {
  let digits = '';
  await expect(async () => {
    const { messages } = (await (await fetch(`${house.outside}/mailboxes/${joris}`)).json()) as {
      messages: { id: string; subject: string }[];
    };
    expect(messages.length).toBeGreaterThan(before);
    digits = /^(\d{6}) (?:confirms|bestätigt)/.exec(messages[0]!.subject)?.[1] ?? '';
    expect(digits).not.toBe('');
  }).toPass({ timeout: 20_000 });
  return digits;
}

/** Digits are sent once a minute at most. */
async function aMinuteLater({ databaseUrl }: House): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query(`UPDATE mailbox_codes SET sent_at = sent_at - interval '1 minute'`);
  await client.end();
}

async function write(page: Page, subject: string, firstTime = false): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(joris);
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText(`The papers: ${subject.toLowerCase()}.`);
  if (firstTime) {
    await page.getByLabel(/^Phone of joris/).fill(number);
    await page.getByRole('button', { name: 'Keep the number' }).click();
  }
}

async function fillPasswords(reading: Page, first: string, second = first): Promise<void> {
  await reading.getByLabel('New password', { exact: true }).fill(first);
  await reading.getByLabel('The same once more', { exact: true }).fill(second);
}

test('a reader sets a password, finds all in one list, writes, forgets the password and is given again what was lost', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await write(page, 'Sea service record', true);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Sea service record' })).toBeVisible();

  // The first visit, by the link; a password with a mistake or two.
  const outside = await browser.newContext({ viewport: phone, locale: 'en-GB' });
  const reading = await outside.newPage();
  await reading.goto(await latestLink(house, joris));
  await passByText(reading, house, number);
  await expect(reading.getByRole('heading', { name: 'Sea service record' })).toBeVisible();
  let mails = await mailCountAtRest(house, joris);
  await reading.getByRole('button', { name: 'Set a password' }).click();
  const digits = await digitsAfter(house, mails);
  await reading.getByLabel('The six digits').fill(digits === '000000' ? '000001' : '000000');
  await fillPasswords(reading, 'joris.wend and gulls', 'joris.wend and gulls');
  await reading.getByRole('button', { name: 'Set the password' }).click();
  await expect(reading.getByText('Leave your address out of it.')).toBeVisible();
  await fillPasswords(reading, password);
  await reading.getByRole('button', { name: 'Set the password' }).click();
  await expect(reading.getByText(/Those are not the digits. 4 tries left/)).toBeVisible({ timeout: 20_000 });
  await expectAccessible(reading);
  await reading.getByLabel('The six digits').fill(digits);
  await reading.getByRole('button', { name: 'Set the password' }).click();
  await reading.getByRole('button', { name: 'To my list' }).click({ timeout: 20_000 });
  await expect(reading.getByRole('heading', { name: 'Held for you' })).toBeVisible();
  await expect(reading.getByText('Sea service record')).toBeVisible();
  await expectAccessible(reading);

  // Written to again: no phone is asked for, the notice's link alone opens nothing, the list opens it without a link.
  mails = await mailCountAtRest(house, joris);
  await write(page, 'Discharge book');
  await expect(page.getByText('reading room · their own password')).toBeVisible();
  await page.getByRole('button', { name: 'As they see it' }).click();
  await expect(
    page
      .getByRole('dialog')
      .frameLocator('iframe')
      .first()
      .getByText(/sign in with it to read/),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Back to writing' }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Discharge book' })).toBeVisible();
  const link = await latestLink(house, joris, mails);
  expect(link).not.toContain('#');
  await reading.reload();
  await expect(reading.getByText('1 unread')).toBeVisible();
  await reading.getByRole('button', { name: 'Open Discharge book' }).click();
  await expect(reading.frameLocator('iframe').getByText('The papers: discharge book.')).toBeVisible();
  await expect(page.getByText(/opened once/)).toBeVisible();
  await reading.getByRole('button', { name: '‹ My list' }).click();
  await reading.getByRole('button', { name: 'More: Discharge book' }).click();
  await reading.getByRole('button', { name: 'Mark unread: Discharge book' }).click();
  await expect(reading.getByText('1 unread')).toBeVisible();

  // Another device, from the notice's link: only the password opens it.
  const elsewhere = await (await browser.newContext({ viewport: desktop, locale: 'en-GB' })).newPage();
  await elsewhere.goto(link);
  await expect(elsewhere.getByRole('heading', { name: 'Sign in to read' })).toBeVisible();
  await expectAccessible(elsewhere);
  await elsewhere.getByLabel('Your mail address').fill(joris);
  await elsewhere.getByLabel('Password', { exact: true }).fill('ten gulls on the breakwater');
  await elsewhere.getByRole('button', { name: 'Sign in' }).click();
  await expect(elsewhere.getByText('Address or password is not right.')).toBeVisible({ timeout: 20_000 });
  await elsewhere.getByLabel('Password', { exact: true }).fill(password);
  await elsewhere.getByRole('button', { name: 'Sign in' }).click();
  await expect(elsewhere.getByRole('heading', { name: 'Discharge book' })).toBeVisible({ timeout: 20_000 });

  // Writes to who wrote to them.
  await reading.getByRole('button', { name: 'Write a message' }).click();
  await reading.getByRole('button', { name: 'Send the message' }).click();
  await expect(reading.getByText('Give it a subject.')).toBeVisible();
  await reading.getByLabel('Subject', { exact: true }).fill('My new address');
  await reading.getByLabel('Your message', { exact: true }).fill('From December I live on the north pier.');
  // Put aside, and found again after a reload.
  await reading.getByRole('button', { name: 'Close, keep the draft' }).click();
  await expect(reading.getByText('Kept as a draft.', { exact: true })).toBeVisible();
  await reading.reload();
  await expect(reading.getByRole('heading', { name: 'Begun and not sent' })).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Go on writing: My new address' }).click();
  await expect(reading.getByLabel('Your message', { exact: true })).toHaveValue(
    'From December I live on the north pier.',
  );
  await Promise.all([
    reading.waitForEvent('filechooser').then((chooser) => chooser.setFiles(papers)),
    reading.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Send the message' }).click();
  await expect(reading.getByText('Sent to Maren Oduya.')).toBeVisible({ timeout: 20_000 });
  await expect(reading.getByRole('heading', { name: 'Begun and not sent' })).toHaveCount(0);
  await reading.getByRole('button', { name: 'Look: My new address' }).click();
  await expect(reading.getByText('From December I live on the north pier.')).toBeVisible();
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: 'Received' }).click();
  await page.getByRole('link', { name: /My new address, from joris/ }).click();
  await expect(page.locator('#root').getByText('From December I live on the north pier.')).toBeVisible();

  // Where they are signed in, the language of their notices, and all that is theirs as a file.
  await reading.reload();
  await reading.getByRole('button', { name: /^End it there: / }).click();
  await expect(reading.getByText('This browser')).toBeVisible();
  await expect(reading.getByRole('button', { name: /^End it there: / })).toHaveCount(0);
  await elsewhere.goto(`${house.origin}/room/list`);
  await expect(elsewhere.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await reading.getByLabel('Notices come in').selectOption('Deutsch');
  await expect(reading.getByText('From now on notices to you come in this language.')).toBeVisible();
  const [download] = await Promise.all([
    reading.waitForEvent('download'),
    reading.getByRole('button', { name: 'Save the ZIP' }).click(),
  ]);
  const names = execFileSync('7zz', ['l', '-ba', '-slt', (await download.path())!], { encoding: 'utf8' });
  expect([...names.matchAll(/^Path = (.*)$/gm)].map(([, name]) => name).sort()).toEqual([
    'account.json',
    'messages.csv',
    'written/My new address.eml',
  ]);
  await expectAccessible(reading);

  // A forgotten password: what it means is said first; what was sealed to it is asked for again, and given at a click.
  await reading.getByRole('button', { name: 'Sign out' }).click();
  await reading.getByRole('button', { name: 'Sign in' }).click();
  await reading.getByLabel('Your mail address').fill(joris);
  await reading.getByRole('button', { name: 'I have forgotten my password' }).click();
  await expect(reading.getByText(/what was sealed to the old one stays closed/)).toBeVisible();
  await expectAccessible(reading);
  mails = await mailCountAtRest(house, joris);
  await aMinuteLater(house);
  await reading.getByRole('button', { name: 'Send me six digits by mail' }).click();
  await reading.getByLabel('The six digits').fill(await digitsAfter(house, mails));
  await fillPasswords(reading, 'ten terns at the harbour mouth');
  await reading.getByRole('button', { name: 'Set the new password' }).click();
  await expect(reading.getByText(/New messages don’t come straight to this list yet/)).toBeVisible({ timeout: 20_000 });
  await reading.getByRole('button', { name: 'Ask Maren Oduya to give it again' }).click();
  await expect(reading.getByText('The sender has been asked.')).toBeVisible();
  await expectAccessible(reading);
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await expect(page.getByText('Asks for it again')).toBeVisible();
  await page
    .getByRole('button', { name: /Look at Discharge book, joris/ })
    .first()
    .click();
  await page.getByRole('button', { name: /Give access again to joris/ }).click();
  mails = await mailCountAtRest(house, joris);
  await page.getByRole('dialog').getByRole('button', { name: 'Give access' }).click();
  await expect(page.getByText(/has access again and is being told, with a new link/)).toBeVisible();
  await reading.goto(await latestLink(house, joris, mails));
  expect((await latestMail(house, joris, /./)).text).toContain('Leseraum');
  await passByText(reading, house, number);
  await expect(reading.getByText('This message is in your list.')).toBeVisible({ timeout: 20_000 });

  // Forgotten for good.
  await reading.getByRole('button', { name: 'To my list' }).click();
  await reading.getByRole('button', { name: 'Forget my account' }).click();
  await reading.getByLabel('Current password', { exact: true }).fill('wrong words altogether');
  await reading.getByRole('dialog').getByRole('button', { name: 'Forget my account' }).click();
  await expect(reading.getByText('The current password is not right.')).toBeVisible({ timeout: 20_000 });
  await expectAccessible(reading);
  await reading.getByLabel('Current password', { exact: true }).fill('ten terns at the harbour mouth');
  await reading.getByRole('dialog').getByRole('button', { name: 'Forget my account' }).click();
  await expect(reading.getByRole('heading', { name: /Your account is forgotten/ })).toBeVisible({ timeout: 20_000 });
  await outside.close();
  expect(complaints).toEqual([]);
});
