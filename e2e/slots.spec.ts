/** The mail slot: anybody leaves something under lock, the office opens it, and answers only whoever left it. */
import { type BrowserContext, type Locator, type Page } from '@playwright/test';
import {
  desktop,
  expect,
  expectAccessible,
  type House,
  latestLink,
  latestMail,
  mailCountAtRest,
  phone,
  signIn,
  test,
  watch,
} from './house';
import { HOSTILE_TEXTS } from './hostile-texts';
import { withDatabase } from './readers';
import { leaveByProgram } from './slot-by-program';
import { openPlan } from './writing';

// Everybody behind the office’s slot has what is left there: nobody else’s test may find it among theirs.
test.use({ apart: true });

const lene = 'lene.hjort@postbox.example';

async function officeLink(page: Page, house: House): Promise<string> {
  await page.goto(`${house.origin}/office/slots`);
  const link = page.getByText(/^http\S+\/slot\/[\w-]{16}$/);
  await expect(link.first()).toBeVisible();
  return link.first().innerText();
}

const leave = (page: Page): Locator => page.getByRole('button', { name: 'Seal and leave it' });

interface Written {
  address?: string;
  name?: string;
  subject: string;
  text: string;
}
async function fill(page: Page, { address = lene, name = 'Lene Hjort', subject, text }: Written): Promise<void> {
  await page.getByLabel('Your mail address').fill(address);
  await page.getByLabel('Your name').fill(name);
  await page.getByLabel('Subject').fill(subject);
  await page.getByLabel('Text', { exact: true }).fill(text);
}

async function addFile(page: Page, name: string, size: number): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await chooser.setFiles([{ name, mimeType: 'application/pdf', buffer: Buffer.alloc(size, 7) }]);
}

/** Asks for the digits, and finds those that came. */
async function digitsFor(page: Page, house: House, mailbox = lene): Promise<string> {
  const before = await mailCountAtRest(house, mailbox);
  await leave(page).click();
  await expect(page.getByLabel('The six digits')).toBeFocused();
  await expect.poll(() => mailCountAtRest(house, mailbox)).toBeGreaterThan(before);
  return /^\d{6}/.exec((await latestMail(house, mailbox, /^\d{6} confirms/)).subject)![0];
}

async function prove(page: Page, digits: string): Promise<void> {
  await page.getByLabel('The six digits').fill(digits);
  await page.getByRole('button', { name: 'Leave it now' }).click();
}

const isThere = (page: Page): Locator => page.getByRole('heading', { name: 'It is there, under lock' });

async function stranger(page: Page, link: string): Promise<{ context: BrowserContext; outside: Page; said: string[] }> {
  const context = await page.context().browser()!.newContext({ viewport: phone, locale: 'en-GB' });
  const said = watch(context);
  const outside = await context.newPage();
  await outside.goto(link);
  await expect(leave(outside)).toBeVisible();
  return { context, outside, said };
}

test('papers are left on a phone with a mistake or two, opened by whoever is behind the slot, and the answer asks for the receipt’s code', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  const { outside, said } = await stranger(page, await officeLink(page, house));
  await leave(outside).click();
  await expect(outside.getByText('Type your name.')).toBeVisible();
  await expect(outside.getByLabel('Your mail address')).toBeFocused();
  await expectAccessible(outside);
  await fill(outside, { subject: 'Pilot’s licence, renewal', text: 'Here is the renewed licence.' });
  await expect(outside.getByText('Type your name.')).toHaveCount(0);
  await addFile(outside, 'too-large.pdf', 21_000_000);
  await leave(outside).click();
  await expect(outside.getByText(/Together the files are larger than 20 MB/)).toBeVisible();
  await outside.getByRole('button', { name: 'Remove too-large.pdf' }).click();
  await addFile(outside, 'licence.pdf', 1_400_000);
  await expect(outside.getByText('1.4 MB of 20 MB')).toBeVisible();
  const digits = await digitsFor(outside, house);
  await expectAccessible(outside);
  await prove(outside, digits === '111111' ? '222222' : '111111');
  await expect(outside.getByText(/Tries left: 4/)).toBeVisible();
  await prove(outside, digits);
  await expect(isThere(outside)).toBeVisible();
  await expectAccessible(outside);
  const code = await outside.getByText(/^[0-9A-Z]{5}-[0-9A-Z]{5}$/).innerText();
  const number = await outside.getByText(/^[0-9A-Z]{4}-[0-9A-Z]{4}$/).innerText();
  expect((await latestMail(house, lene, /^Received: /)).subject).toBe(`Received: ${number}`);

  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^Pilot’s licence/ }).click();
  await expect(page.getByText(`number ${number}. Whoever left it can read the mailbox ${lene}`)).toBeVisible();
  await expect(page.getByText('Here is the renewed licence.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save licence.pdf' })).toBeVisible();
  await expectAccessible(page);
  const before = await mailCountAtRest(house, lene);
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Thank you, it is in your file.');
  await openPlan(page);
  await expect(page.getByRole('dialog').getByText('● Everything is settled')).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).first().click();
  await expect(page.getByRole('heading', { name: 'Re: Pilot’s licence, renewal' })).toBeVisible();

  await outside.goto(await latestLink(house, lene, before));
  await expect(outside.getByText(`for number ${number}?`)).toBeVisible();
  await outside.getByLabel('Your answer').fill('not my code');
  await outside.getByRole('button', { name: 'Open the message' }).click();
  await expect(outside.getByText(/That is not the answer/)).toBeVisible();
  await outside.getByLabel('Your answer').fill(code.toLowerCase());
  await outside.getByRole('button', { name: 'Open the message' }).click();
  await expect(outside.getByRole('heading', { name: 'Re: Pilot’s licence, renewal' })).toBeVisible();
  await expect(outside.locator('iframe').contentFrame().getByText('Thank you, it is in your file.')).toBeVisible();

  // Whoever else is behind the slot sees that nobody has to answer it any more.
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^Pilot’s licence/ }).click();
  await expect(page.getByText(/Maren Oduya answered it on /)).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
  expect(said.filter((one) => !/40[13]/.test(one))).toEqual([]);
});

test('a cut upload goes on where it was; a slot that was closed meanwhile takes nothing, and says so', async ({
  page,
  house,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  const { context, outside } = await stranger(page, await officeLink(page, house));
  await fill(outside, { subject: 'Log book', text: 'All pages.' });
  await addFile(outside, 'log.pdf', 3_000_000);
  const put: string[] = [];
  let cut = true;
  await context.route('**/slot/api/left/*/parts/*', async (route) => {
    const index = route.request().url().split('/').at(-1)!;
    if (cut && Number(index) >= 2) return route.abort('connectionreset');
    put.push(index);
    return route.continue();
  });
  await prove(outside, await digitsFor(outside, house));
  await expect(outside.getByText(/There is no connection. What you wrote is still here/)).toBeVisible();
  await expect(outside.getByLabel('Subject')).toHaveValue('Log book');
  await expectAccessible(outside);
  expect(put).toEqual(['0', '1']);
  cut = false;
  // The same letter: no digits again, and nothing that has arrived.
  await leave(outside).click();
  await expect(isThere(outside)).toBeVisible();
  expect(put).toEqual(['0', '1', '2', '3']);

  await outside.getByRole('button', { name: 'Leave another message' }).click();
  await fill(outside, { subject: 'One more', text: 'Too late.' });
  const digits = await digitsFor(outside, house);
  await page.getByRole('button', { name: 'Close it: The office’s' }).click();
  await expect(page.getByRole('button', { name: 'Open it again: The office’s' })).toBeVisible();
  await prove(outside, digits);
  await expect(outside.getByRole('heading', { name: 'This mail slot is not open' })).toBeVisible();
  await expectAccessible(outside);
  await page.getByRole('button', { name: 'Open it again: The office’s' }).click();
  await expectAccessible(page);

  const scriptless = await page.context().browser()!.newContext({ viewport: phone, javaScriptEnabled: false });
  const plain = await scriptless.newPage();
  await plain.goto(await officeLink(page, house));
  await expect(plain.getByText(/which needs JavaScript/)).toBeVisible();
  await scriptless.close();
});

/** Letters that are not drawn, turn the line, or are blanks of another width. */
const isPlain = (text: string): boolean => !/[\p{Cf}\u2028\u2029\u3000\u00a0]/u.test(text);

test('where nobody has to prove their mailbox it is said to be so, and sixty hostile names and texts stay words', async ({
  page,
  house,
  complaints,
}) => {
  test.slow();
  await page.setViewportSize(desktop);
  await signIn(page, house);
  page.on('dialog', () => complaints.push('a dialog'));
  const elsewhere: string[] = [];
  page.on('request', (request) => {
    if (!/^(http:\/\/127\.0\.0\.1:|blob:|data:)/.test(request.url())) elsewhere.push(request.url());
  });
  await page.goto(`${house.origin}/office/slots`);
  await page.getByRole('button', { name: 'One of my own' }).click();
  await page.getByRole('checkbox', { name: /^Senders prove their mailbox first: Yours/ }).click();
  await expect(page.getByRole('checkbox', { name: /^Senders prove their mailbox first: Yours/ })).not.toBeChecked();
  const link = await officeLink(page, house);
  const { outside, said } = await stranger(page, link);
  outside.on('dialog', () => said.push('a dialog'));
  await expect(outside.getByText('We send six digits there')).toHaveCount(0);
  const [typed, ...others] = Array.from({ length: HOSTILE_TEXTS.length / 3 }, (_, index) => {
    const [name, subject, text] = HOSTILE_TEXTS.slice(index * 3, index * 3 + 3) as [string, string, string];
    const file = `${name.replaceAll('/', '_')}.pdf`;
    return { address: 'chief@harbourclinic.example', name, subject: `${index} ${subject}`, text, file };
  });
  await fill(outside, typed!);
  await addFile(outside, typed!.file, 20);
  await leave(outside).click();
  await expect(isThere(outside)).toBeVisible();
  await withDatabase(house, async (database) => {
    for (const one of others) {
      // All come from one place, and so quickly that anybody would be slowed down.
      await database.query('DELETE FROM throttles');
      await leaveByProgram(house, /[\w-]{16}$/.exec(link)![0], one);
    }
  });
  await page.goto(`${house.origin}/mail/received`);
  // The newest first, as the list has them.
  for (const { name, subject, text } of [typed!, ...others].reverse()) {
    const [index] = subject.split(' ');
    await page.getByRole('link', { name: new RegExp(`^${index} `) }).click();
    await expect(page.getByRole('heading', { level: 2, name: new RegExp(`^${index} `) })).toBeVisible();
    await expect(page.getByText(/Nobody proved that chief@harbourclinic.example is theirs/)).toBeVisible();
    if (isPlain(text)) await expect(page.getByText(text, { exact: true }).first()).toBeVisible();
    if (isPlain(name)) await expect(page.getByRole('main').getByText(name).first()).toBeVisible();
    if (isPlain(subject))
      await expect(page.getByRole('heading', { level: 2, name: subject, exact: true })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
    expect(
      await page.locator('main, [role="main"]').locator('img, script, svg[onload], style, base, form').count(),
    ).toBe(0);
  }
  await expectAccessible(page);
  expect(elsewhere).toEqual([]);
  expect(complaints).toEqual([]);
  expect(said).toEqual([]);
});
