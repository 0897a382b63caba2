/** Keys for what is done all day, and the habits of the hand: copying, pasting, putting in order, taking back. */
import { type Page } from '@playwright/test';
import { desktop, expect, expectAccessible, signIn, test } from './house';
import { deliver } from './letters';
import { openPerson } from './people';

const title = (page: Page, name: string) => page.getByRole('heading', { name, level: 1 });

test('single keys go, write, search and withdraw; Ctrl Enter sends; while something is typed they are letters; they can be off', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house);
  for (const [key, place] of [
    ['4', 'People'],
    ['7', 'Account'],
    ['6', 'Handling presets'],
    ['1', 'Desk'],
    ['3', 'Sent mail'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(title(page, place)).toBeVisible();
  }
  await page.keyboard.press('/');
  const field = page.getByRole('searchbox').or(page.locator('[data-find=field]')).first();
  await expect(field).toBeFocused();
  await page.keyboard.type('4n?');
  await expect(field).toHaveValue('4n?');
  await field.fill('');
  await field.blur();

  // Written, and sent by the keys alone.
  await page.keyboard.press('n');
  await expect(page.getByRole('combobox', { name: 'To' })).toBeVisible();
  await page.getByRole('combobox', { name: 'To' }).fill('pell.anders@postbox.example');
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill('By keys');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type('n 4 / w');
  await expect(page.getByRole('button', { name: 'Send under lock' })).toBeEnabled();
  await page.keyboard.press('Control+Enter');
  await expect(title(page, 'By keys')).toBeVisible();

  // Walked on to from the page, and withdrawn; the question is asked all the same.
  await page.keyboard.press('Alt+ArrowDown');
  await expect(title(page, 'By keys')).toHaveCount(0);
  await page.keyboard.press('Alt+ArrowUp');
  await expect(title(page, 'By keys')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Withdraw', exact: true })).toBeVisible();
  await page.keyboard.press('w');
  await expect(page.getByRole('dialog', { name: /^Withdraw from Pell Anders/ })).toBeVisible();
  // What lies under a dialog has no key.
  await page.keyboard.press('1');
  await page.keyboard.press('Escape');
  await expect(title(page, 'By keys')).toBeVisible();

  // All of them are shown, and switched off here.
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys' });
  await expect(keys.getByText('Write a new message')).toBeVisible();
  await expectAccessible(page);
  await keys.getByRole('checkbox', { name: /^Single keys/ }).click();
  await keys.getByRole('button', { name: 'Close' }).click();
  for (const key of ['4', '?', 'n', 'w']) await page.keyboard.press(key);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(title(page, 'By keys')).toBeVisible();
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  await page.getByRole('main').getByRole('button', { name: 'Show the keys' }).click();
  await keys.getByRole('checkbox', { name: /^Single keys/ }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('1');
  await expect(title(page, 'Desk')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('the tab says what is unread; a notice says that something came in, silently and without a word of it', async ({
  page,
  house,
}) => {
  await page.addInitScript(() => {
    const shown: object[] = [];
    class Shown {
      static permission = 'granted';
      static requestPermission = () => Promise.resolve('granted');
      constructor(name: string, options: object) {
        shown.push({ name, ...options });
      }
      close(): void {}
    }
    Object.assign(window, { Notification: Shown, shown });
    Object.defineProperty(document, 'hidden', { get: () => (window as { away?: boolean }).away === true });
  });
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  await page.getByRole('checkbox', { name: /^Show a notice/ }).click();
  await expect(page.getByRole('checkbox', { name: /^Show a notice/ })).toBeChecked();
  const unread = async (): Promise<number> => Number(/^\((\d+)\) Account/.exec(await page.title())?.[1] ?? 0);
  await expect.poll(unread).toBeGreaterThan(0);
  const before = await unread();
  const shown = () => page.evaluate(() => (window as unknown as { shown: object[] }).shown);
  expect(await shown()).toEqual([]);
  await page.evaluate(() => Object.assign(window, { away: true }));
  const { address } = house.signIns[0]!;
  await deliver(
    house,
    `From: Pell Anders <pell.anders@postbox.example>\r\nTo: ${address}\r\nSubject: In confidence\r\nMessage-ID: <news-1@postbox.example>\r\nDate: ${new Date().toUTCString()}\r\n\r\nText.\r\n`,
    'pell.anders@postbox.example',
    address,
  );
  await expect.poll(unread).toBe(before + 1);
  await expect
    .poll(shown)
    .toEqual([{ name: 'Under Lock', body: 'Something has come in.', tag: 'under-lock-came', silent: true }]);
});

test('an address is copied, a picture is pasted, and who was forgotten comes back', async ({
  page,
  context,
  house,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.setViewportSize(desktop);
  await signIn(page, house);
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await openPerson(page, /^Pell Anders/);
  await page.getByRole('button', { name: 'Copy the address' }).click();
  await expect(page.getByRole('button', { name: 'Copied' })).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('pell.anders@postbox.example');

  await page.getByRole('button', { name: 'Change the details' }).click();
  await page.getByRole('button', { name: 'Forget this person' }).click();
  await expect(page.getByText('Pell Anders is forgotten.')).toBeVisible();
  const line = page.getByRole('region', { name: 'List: People' }).getByRole('link', { name: /^Pell Anders/ });
  await expect(line).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Undo/ }).click();
  await expect(line).toBeVisible();
  await page.reload();
  await expect(line).toBeVisible();

  await page.getByRole('link', { name: 'Write', exact: true }).click();
  const text = page.getByRole('textbox', { name: 'Text', exact: true });
  await text.click();
  await text.evaluate((element) => {
    const clipboardData = new DataTransfer();
    clipboardData.items.add(new File([new Uint8Array([137, 80, 78, 71])], 'image.png', { type: 'image/png' }));
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  });
  await expect(page.getByRole('list', { name: 'Files' }).getByText(/^picture-\d{6}\.png/)).toBeVisible();
  // Text that brings a picture of itself along stays text.
  await text.evaluate((element) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', 'A line that was copied');
    clipboardData.items.add(new File([new Uint8Array([137, 80, 78, 71])], 'image.png', { type: 'image/png' }));
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  });
  await expect(text).toContainText('A line that was copied');
  await expect(page.getByRole('list', { name: 'Files' }).getByText(/^picture-/)).toHaveCount(1);
});

test('presets are put in order by their handle, and by keys', async ({ page, house }) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  const handles = page.locator('[data-handle]');
  const order = () => handles.evaluateAll((all) => all.map((one) => one.getAttribute('data-handle')!));
  await expect(handles.first()).toBeVisible();
  const [first, second, ...rest] = await order();
  const boxes = [(await handles.nth(0).boundingBox())!, (await handles.nth(1).boundingBox())!] as const;
  const [from, to] = boxes.map(({ y, height }) => y + height / 2) as [number, number];
  const x = boxes[0].x + 10;
  await page.mouse.move(x, from);
  await page.mouse.down();
  await page.mouse.move(x, from + 20, { steps: 4 });
  await page.mouse.move(x, to, { steps: 8 });
  await page.mouse.up();
  await expect.poll(order).toEqual([second, first, ...rest]);
  await page.reload();
  await expect.poll(order).toEqual([second, first, ...rest]);
  await page.getByRole('button', { name: /^Up: / }).nth(1).focus();
  await page.keyboard.press('Enter');
  await expect.poll(order).toEqual([first, second, ...rest]);
  await expectAccessible(page);
});
