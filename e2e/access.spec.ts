/** The whole path by keyboard alone; and every screen at 200 % zoom and with motion reduced. */
import { type Locator, type Page } from '@playwright/test';
import {
  desktop,
  expect,
  expectAccessible,
  latestLink,
  latestText,
  mailCountAtRest,
  phone,
  signIn,
  test,
} from './house';
import { press, tabTo, type } from './keyboard';

test.use({ apart: true });

const pell = 'pell.anders@postbox.example';

/** What is seen of the element that has the focus differs from what is seen of it without. */
async function expectFocusSeen(page: Page, target: Locator): Promise<void> {
  await tabTo(page, target);
  const look = (): Promise<string> =>
    target.evaluate((element) => {
      const { outlineStyle, outlineWidth, boxShadow, borderColor } = getComputedStyle(element);
      return [outlineStyle, outlineWidth, boxShadow, borderColor].join(' ');
    });
  const focused = await look();
  await page.keyboard.press('Tab');
  await expect.poll(look).not.toBe(focused);
}

test('by keyboard alone a message is written and sent, opened with a passcode and answered', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  const before = await mailCountAtRest(house, pell);
  await page.setViewportSize(desktop);
  await page.goto(`${house.origin}/desk`);
  await type(page, page.getByLabel('Office address'), house.signIns[0]!.address);
  await type(page, page.getByLabel('Password', { exact: true }), house.signIns[0]!.password);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Desk', level: 1 })).toBeVisible();
  await expectFocusSeen(page, page.getByRole('link', { name: 'People', exact: true }));
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Shift+Tab');
  await press(page, page.getByRole('link', { name: 'Write', exact: true }));
  await type(page, page.getByRole('combobox', { name: 'To' }), 'pell');
  await page.getByRole('option', { name: /Pell Anders/ }).waitFor();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Remove Pell Anders' })).toBeVisible();
  // One press leads on from each line to the next.
  await page.keyboard.press('Tab');
  await expect(page.getByLabel('Subject')).toBeFocused();
  await page.keyboard.type('Without a mouse');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toBeFocused();
  await page.keyboard.type('Is the pier lit at night?');
  await press(page, page.getByRole('button', { name: 'As they see it' }));
  await expect(page.getByRole('dialog')).toBeVisible();
  // The page behind can't be reached (the browser's own bar can), and Escape goes back to where one was.
  const places: string[] = [];
  for (let presses = 0; presses < 6; presses++) {
    await page.keyboard.press('Tab');
    places.push(
      await page.evaluate(() =>
        document.activeElement === document.body
          ? 'bar'
          : document.activeElement?.closest('dialog')
            ? 'dialog'
            : 'behind',
      ),
    );
  }
  expect(places).toContain('dialog');
  expect(places).not.toContain('behind');
  // Inside the letter's frame, or in the browser's bar, the key is theirs: on to the next place of the dialog.
  const isElsewhere = (): Promise<boolean> =>
    page.evaluate(() => document.activeElement === document.body || document.activeElement?.tagName === 'IFRAME');
  for (let presses = 0; presses < 6 && (await isElsewhere()); presses++) await page.keyboard.press('Tab');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'As they see it' })).toBeFocused();
  await press(page, page.getByRole('button', { name: 'Send under lock' }));
  await expect(page.getByRole('heading', { name: 'Without a mouse' })).toBeVisible();

  const context = await browser.newContext({ viewport: phone, locale: 'en-GB', timezoneId: 'Europe/Lisbon' });
  const reading = await context.newPage();
  await reading.goto(await latestLink(house, pell, before));
  const texted = await latestText(house, '+447700900417');
  await press(reading, reading.getByRole('button', { name: 'Send me the passcode' }));
  await expect(async () => expect(await latestText(house, '+447700900417')).not.toBe(texted)).toPass();
  await type(
    reading,
    reading.getByLabel('Passcode', { exact: true }),
    /\d{6}/.exec(await latestText(house, '+447700900417'))![0],
  );
  await reading.keyboard.press('Enter');
  await expect(reading.getByRole('heading', { name: 'Without a mouse' })).toBeVisible();
  await press(reading, reading.getByRole('button', { name: 'Reply to Maren Oduya' }));
  await type(reading, reading.getByLabel('Your reply'), 'It is, until one.');
  await press(reading, reading.getByRole('button', { name: 'Send the reply' }));
  await expect(reading.getByText('It is, until one.')).toBeVisible();
  await context.close();
  expect(complaints).toEqual([]);
});

/** Things drawn that reach beyond the right edge of the window and that nothing cuts or scrolls. */
const beyondTheEdge = (page: Page): Promise<string[]> =>
  page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('#root *')]
      .filter((element) => {
        const { right, width, height } = element.getBoundingClientRect();
        return (
          width > 1 && height > 1 && right > window.innerWidth + 1 && getComputedStyle(element).visibility !== 'hidden'
        );
      })
      .map((element) => `${element.tagName} ${(element.ariaLabel ?? element.innerText ?? '').slice(0, 60)}`),
  );

async function expectCalmAndWhole(page: Page): Promise<void> {
  expect(await beyondTheEdge(page)).toEqual([]);
  await expect
    .poll(() => page.evaluate(() => document.getAnimations().filter(({ playState }) => playState === 'running').length))
    .toBe(0);
  await expectAccessible(page);
}

test('at 200 % zoom nothing leaves the window, and with motion reduced nothing moves', async ({ browser, house }) => {
  // 1280x800 at 200 % is a window of 640x400 to the page.
  const context = await browser.newContext({
    viewport: { width: 640, height: 400 },
    deviceScaleFactor: 2,
    reducedMotion: 'reduce',
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
  });
  const page = await context.newPage();
  await signIn(page, house, 2);
  for (const [path, heading] of [
    ['desk', 'Desk'],
    ['write', 'Write'],
    ['mail', 'Mail'],
    ['mail/received', 'Mail'],
    ['mail/drafts', 'Mail'],
    ['people', 'People'],
    ['people/new', 'New person'],
    ['office', 'Office'],
    ['account', 'Account'],
    ['readers', 'Who can still read what'],
  ] as const) {
    await page.goto(`${house.origin}/${path}`);
    await expect(page.getByRole('heading', { name: heading, level: 1 })).toBeVisible();
    await expect(page.getByRole('progressbar')).toHaveCount(0);
    await expectCalmAndWhole(page);
  }
  await page.goto(`${house.origin}/write`);
  await page.getByLabel('Subject').click();
  await page.getByRole('button', { name: /^Plan: / }).click();
  await page.getByRole('button', { name: 'As they see it' }).click({ trial: true });
  await page.getByRole('button', { name: 'Back to the text' }).click();

  const reading = await context.newPage();
  await reading.goto(await latestLink(house, pell));
  const texted = await latestText(house, '+447700900417');
  const send = reading.getByRole('button', { name: 'Send me the passcode' });
  await send.waitFor();
  await expectCalmAndWhole(reading);
  await send.click();
  await expect(async () => expect(await latestText(house, '+447700900417')).not.toBe(texted)).toPass();
  await reading
    .getByLabel('Passcode', { exact: true })
    .fill(/\d{6}/.exec(await latestText(house, '+447700900417'))![0]);
  await expectCalmAndWhole(reading);
  await reading.keyboard.press('Enter');
  await reading.getByRole('button', { name: 'Reply to Maren Oduya' }).click();
  await expectCalmAndWhole(reading);
  await context.close();
});

test('in the system’s own colours what is chosen shows by its edge, and nothing has an edge that is not there', async ({
  page,
  house,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await page.emulateMedia({ forcedColors: 'active' });
  await signIn(page, house);
  const edge = (target: Locator): Promise<string> =>
    target.evaluate((element) => {
      const { outlineStyle, outlineWidth, borderTopWidth } = getComputedStyle(element);
      return [outlineStyle, outlineWidth, borderTopWidth].join(' ');
    });
  const expectApart = async (chosen: Locator, other: Locator): Promise<void> =>
    expect(await edge(chosen)).not.toBe(await edge(other));
  await expectApart(
    page.getByRole('link', { name: 'Desk', exact: true }),
    page.getByRole('link', { name: 'People', exact: true }),
  );
  await expectAccessible(page);
  await page.goto(`${house.origin}/mail`);
  await expect(page.getByRole('heading', { name: 'Mail', level: 1 })).toBeVisible();
  await expectApart(
    page.getByRole('link', { name: 'Sent', exact: true }),
    page.getByRole('link', { name: 'Drafts', exact: true }),
  );
  await page.goto(`${house.origin}/write`);
  await page.getByRole('textbox', { name: 'Text', exact: true }).fill('Is the pier lit at night?');
  await page.getByRole('button', { name: 'Bold' }).click();
  await expect(page.getByRole('button', { name: 'Bold' })).toHaveAttribute('aria-pressed', 'true');
  await expectApart(page.getByRole('button', { name: 'Bold' }), page.getByRole('button', { name: 'Italic' }));
  expect(await page.getByTestId('drop-zone').evaluate((zone) => getComputedStyle(zone).borderTopWidth)).toBe('0px');
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});
