/** Accounts and the vault: set-up with a code that works, recovery, a changed password, locks, several devices. */
import { type Page } from '@playwright/test';
import { expect, expectAccessible, phone, signIn, test } from './house';

test.use({ viewport: phone, apart: true });

async function keepCode(page: Page): Promise<string> {
  const code = (await page.getByTestId('recovery-code').innerText()).trim();
  await page.getByLabel(/Type the last group/).fill('XXXX');
  await page.getByRole('button', { name: 'I have kept the code' }).click();
  await expect(page.getByText(/not the last group/)).toBeVisible();
  await page.getByLabel(/Type the last group/).fill(code.split(' ').at(-1)!);
  await page.getByRole('button', { name: 'I have kept the code' }).click();
  await expect(page.getByRole('heading', { name: 'Desk', level: 1 })).toBeVisible();
  return code;
}

async function choosePassword(page: Page, password: string): Promise<void> {
  await page.getByLabel('New password', { exact: true }).fill(password);
  await page.getByLabel('The same once more', { exact: true }).fill(password);
}

test('the words under one’s messages are kept sealed, and a new message begins with them', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house, 1);
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  await page.getByLabel('Your name, office, telephone').fill('Tobias Quill\nPayroll, pier 4');
  await page.getByRole('button', { name: 'Keep these words' }).click();
  await expect(page.getByText('Kept.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toContainText('Payroll, pier 4');
  // Nothing was written: no draft is left behind.
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: 'Drafts', exact: true }).click();
  await expect(page.getByText('Payroll, pier 4')).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test('a new colleague sets up an account, and its printed code opens it again when the password is forgotten', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  await page.goto(house.invitation);
  await expect(page.getByText(/Welcome, Joss Amari/)).toBeVisible();
  await expectAccessible(page);
  await choosePassword(page, 'short');
  await page.getByRole('button', { name: 'Set up' }).click();
  await expect(page.getByText(/Use at least 12 characters/)).toBeVisible();
  await choosePassword(page, 'four gulls above the slipway');
  await page.getByRole('button', { name: 'Set up' }).click();
  await expect(page.getByRole('heading', { name: 'Keep your recovery code' })).toBeVisible();
  await expectAccessible(page);
  const code = await keepCode(page);
  await expect(page.getByText('0 of 3 done')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'To your keys ›' }).click();
  await expect(page.getByRole('heading', { name: /^(My certificates|Keys)/ }).first()).toBeVisible();
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await expectAccessible(page);

  // A colleague lets them into the office book.
  const colleague = await (await browser.newContext()).newPage();
  await signIn(colleague, house, 2);
  await colleague.goto(`${house.origin}/people/office/members`);
  await colleague.getByRole('button', { name: 'Let in Joss Amari' }).click();
  await expect(colleague.getByRole('button', { name: 'Let out Joss Amari' })).toBeVisible();
  await colleague.context().close();

  // The link is spent.
  const other = await (await browser.newContext()).newPage();
  await other.goto(house.invitation);
  await expect(other.getByRole('heading', { name: 'This invitation is not valid' })).toBeVisible();

  // Forgotten: a slip, then the code in lower case.
  await other.goto(`${house.origin}/recover`);
  await expect(other.getByRole('heading', { name: 'Forgotten password' })).toBeVisible();
  await expectAccessible(other);
  await other.getByLabel('Office address').fill('joss.amari@larkmoor.example');
  await other.getByLabel('Recovery code').fill(code.replace(/^./, (first) => (first === '7' ? '8' : '7')));
  await choosePassword(other, 'five gulls above the slipway');
  await other.getByRole('button', { name: 'Set the new password' }).click();
  await expect(other.getByText(/recovery code is mistyped/)).toBeVisible();
  await other.getByLabel('Recovery code').fill(code.toLowerCase());
  await other.getByRole('button', { name: 'Set the new password' }).click();
  await expect(other.getByRole('heading', { name: 'Keep your new recovery code' })).toBeVisible();
  expect(await keepCode(other)).not.toBe(code);
  // What was sealed to them before opens with what came back: the office book.
  await other.goto(`${house.origin}/people/office`);
  await expect(other.getByRole('link', { name: /Lotte Haan/ })).toBeVisible();

  // Every other device is signed out.
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await other.context().close();
  // The desk that was signed out from elsewhere may have asked once more and been refused.
  expect(complaints.filter((line) => !line.includes('401 (Unauthorized)'))).toEqual([]);
});

test('a wrong password gets one sentence and a growing delay, the same for an address nobody has', async ({
  page,
  house,
}) => {
  await page.goto(`${house.origin}/desk`);
  for (const address of ['tobias.quill@larkmoor.example', 'nobody@larkmoor.example']) {
    await page.getByLabel('Office address').fill(address);
    for (let tries = 0; tries < 3; tries++) {
      await page.getByLabel('Password', { exact: true }).fill('not the password');
      await page.getByRole('button', { name: 'Sign in' }).click();
      await expect(page.getByText('Address or password is wrong.')).toBeVisible();
      await expect(page.getByRole('button', { name: 'Sign in' })).toBeEnabled();
    }
    // The delay is two seconds at first: on a slow machine it is over before the next press, and grows with each.
    await expect(async () => {
      await page.getByRole('button', { name: 'Sign in' }).click();
      await expect(page.getByText(/Too many tries/)).toBeVisible({ timeout: 3000 });
    }).toPass();
  }
});

test('the vault stays open over a reload, locks when told or left alone, and opens with the password only', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house, 2);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Desk', level: 1 })).toBeVisible();
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  await expect(page.getByText('Ines Varga').first()).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Lock my vault' }).click();
  await expect(page.getByRole('heading', { name: 'Your vault is locked' })).toBeVisible();
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Your vault is locked' })).toBeVisible();
  await page.getByLabel('Password', { exact: true }).fill('harbour ledger in pencil');
  await page.getByRole('button', { name: 'Open my vault' }).click();
  await expect(page.getByText('That password does not open your vault.')).toBeVisible();
  await page.getByLabel('Password', { exact: true }).fill(house.signIns[2]!.password);
  await page.getByRole('button', { name: 'Open my vault' }).click();
  await expect(page.getByRole('heading', { name: 'Account' })).toBeVisible();
  // Left alone: as if the last touch had been an hour ago.
  await page.evaluate(() => localStorage.setItem('under-lock-last-touch', String(Date.now() - 3_600_000)));
  await expect(page.getByRole('heading', { name: 'Your vault is locked' })).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  expect(complaints).toEqual([]);
});

test('a changed password signs the other device out, opens the same vault, and the old one opens nothing', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  const who = house.signIns[2]!;
  const otherContext = await browser.newContext();
  const other = await otherContext.newPage();
  await signIn(other, house, 2);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  await page.getByLabel('Current password', { exact: true }).fill('something else entirely');
  await choosePassword(page, 'harbour ledger in green ink');
  await page.getByRole('button', { name: 'Change password' }).click();
  await expect(page.getByText('The current password is wrong.')).toBeVisible();
  await page.getByLabel('Current password', { exact: true }).fill(who.password);
  await page.getByRole('button', { name: 'Change password' }).click();
  await expect(page.getByText(/Your password is changed/)).toBeVisible();
  await other.reload();
  await expect(other.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await otherContext.close();
  who.password = 'harbour ledger in green ink';
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await signIn(page, house, 2);
  expect(complaints).toEqual([]);
});
