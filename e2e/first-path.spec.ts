/** The whole first path as a user walks it: at a phone's size and wide, with a mistake or two on the way. */
import { type Page } from '@playwright/test';
import {
  addFiles,
  desktop,
  expect,
  expectAccessible,
  latestText,
  mailCount,
  mailCountAtRest,
  papers,
  phone,
  signIn,
  test,
} from './house';
import { asTheySeeIt, choosePreset, closePlan, openPart } from './writing';

for (const [size, viewport] of [
  ['a phone', phone],
  ['a desktop', desktop],
] as const) {
  test(`on ${size}: papers go to the deckhand, are read with a texted passcode, and are closed by withdrawing`, async ({
    page,
    context,
    house,
    complaints,
  }) => {
    await page.setViewportSize(viewport);
    await signIn(page, house);
    await expectAccessible(page);

    // Write
    await page.getByRole('link', { name: 'Write', exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Write' })).toBeVisible();
    await page.getByRole('combobox', { name: 'To' }).fill('pell');
    await page.getByRole('option', { name: /Pell Anders/ }).click();
    const subject = `Fitness papers for ${size}`;
    await page.getByLabel('Subject').fill(subject);
    await page.getByRole('button', { name: 'Reference number' }).click();
    await page.getByLabel('Reference number').fill('CR-2611-204');
    await page.getByRole('textbox', { name: 'Text', exact: true }).click();
    await page.keyboard.type('Dear Pell, please look at page two, the eyesight test.');
    await addFiles(page, papers);
    await expect(page.getByText('41 kB of 25 MB')).toBeVisible();
    await choosePreset(page, /Crew health/);
    await openPart(page, 'Closing date');
    await page.getByRole('radio', { name: /In two weeks/ }).click();
    await expect(
      page.getByRole('button', { name: /^Closing date: until \w{3} \d+ \w{3}( \d{4})?, 17:00/ }),
    ).toBeVisible();
    await expectAccessible(page);
    await closePlan(page);
    await expect(page.getByText('● Everything is settled')).toBeVisible();
    await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
    await expectAccessible(page);

    // As they see it: the very pages, from which nothing leaves
    const textBefore = await latestText(house, '+447700900417');
    const seen = await asTheySeeIt(page);
    await expect(
      seen.frameLocator('iframe').getByText(/passcode by text message to the phone ending in/),
    ).toBeVisible();
    await seen.getByRole('radio', { name: 'Before reading' }).click();
    await seen.getByRole('button', { name: 'Send me the passcode' }).click();
    await seen.getByLabel('Passcode', { exact: true }).fill('123456');
    await expectAccessible(page);
    await seen.getByRole('button', { name: 'Open the message' }).click();
    await expect(seen.getByText('fitness-2026.pdf')).toBeVisible();
    await seen.getByRole('radio', { name: 'A desktop' }).click();
    await expect(seen.getByText('Reply to Maren Oduya')).toBeVisible();
    expect(await latestText(house, '+447700900417')).toBe(textBefore);
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Back to writing' }).click();

    // Leaving and coming back loses nothing
    await page.reload();
    await expect(page.getByLabel('Subject')).toHaveValue(subject);
    await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toContainText('eyesight test');
    await expect(page.getByRole('button', { name: 'Remove eyesight.jpg' })).toBeVisible();

    const mails = await mailCountAtRest(house, 'pell.anders@postbox.example');
    await page.getByRole('button', { name: 'Send under lock' }).click();
    await expect(page.getByRole('heading', { name: subject })).toBeVisible();
    await expect(page.getByText(/^Told/)).toBeVisible();
    await expect.poll(() => mailCount(house, 'pell.anders@postbox.example')).toBeGreaterThan(mails);
    await expectAccessible(page);

    // The outside world: the notice holds the link and nothing of the content
    const outside = await context.newPage();
    await outside.setViewportSize(viewport);
    await outside.goto(`${house.origin}/outside`);
    await expect(outside.getByRole('link', { name: /Mailbox pell/ })).toBeVisible();
    await expectAccessible(outside);
    await outside.getByRole('link', { name: /Mailbox pell.anders@postbox.example/ }).click();
    await outside
      .getByRole('link', { name: /Maren Oduya has left a message/ })
      .first()
      .click();
    const notice = outside.frameLocator('iframe');
    await expect(notice.getByText(/passcode by text message to the phone ending in/)).toBeVisible();
    await expect(notice.getByText('eyesight')).toHaveCount(0);
    const [reading] = await Promise.all([
      context.waitForEvent('page'),
      notice.getByRole('link', { name: 'Open the message' }).click(),
    ]);

    // The reading room
    await reading.setViewportSize(viewport);
    await expect(reading.getByRole('heading', { name: 'Maren Oduya has written to you' })).toBeVisible();
    await expectAccessible(reading);
    await reading.getByRole('button', { name: 'Send me the passcode' }).click();
    await reading.getByLabel('Passcode', { exact: true }).fill('12');
    await reading.getByRole('button', { name: 'Open the message' }).click();
    await expect(reading.getByText('A passcode has six digits.')).toBeVisible();
    const passcode = /\d{6}/.exec(await latestText(house, '+447700900417'))![0];
    await reading.getByLabel('Passcode', { exact: true }).fill(passcode === '111111' ? '222222' : '111111');
    await reading.getByRole('button', { name: 'Open the message' }).click();
    await expect(reading.getByText(/That is not the passcode. 4 tries left/)).toBeVisible();
    await expectAccessible(reading);
    await reading.getByLabel('Passcode', { exact: true }).fill(`${passcode.slice(0, 3)} ${passcode.slice(3)}`);
    await reading.getByRole('button', { name: 'Open the message' }).click();
    await expect(reading.getByRole('heading', { name: subject })).toBeVisible();
    await expect(reading.frameLocator('iframe').getByText('please look at page two')).toBeVisible();
    await reading.getByRole('button', { name: 'Look fitness-2026.pdf' }).click();
    await expect(reading.getByRole('img', { name: 'Page 2 of 2' })).toBeVisible();
    await expect.poll(() => inkOn(reading, 'Page 1 of 2')).toBeGreaterThan(500);
    // Its words are there for who listens, because they may be copied.
    await expect(reading.getByText(/Harbour Clinic, for Larkmoor Ferries/)).toBeAttached();
    // And searched: what is found is marked on the page.
    await reading.getByRole('button', { name: 'Find', exact: true }).click();
    await reading.getByLabel('Find in this file').fill('harbour  CLINIC');
    await expect(reading.getByRole('status').getByText(/^1 of \d+$/)).toBeVisible();
    await expect(reading.locator('[data-found="current"]').first()).toBeInViewport();
    await reading.getByRole('button', { name: 'Larger' }).click();
    await expect.poll(() => inkOn(reading, 'Page 1 of 2')).toBeGreaterThan(500);
    await expectAccessible(reading);
    const isFirst = await reading.getByText('File 1 of 2').isVisible();
    await reading.getByRole('button', { name: isFirst ? 'Next' : 'Previous', exact: true }).click();
    await expect.poll(() => inkOn(reading, 'Picture eyesight.jpg')).toBeGreaterThan(500);
    await reading.getByRole('button', { name: 'Close', exact: true }).click();
    await expect(reading.getByRole('button', { name: 'Look fitness-2026.pdf' })).toBeFocused();
    await expect(reading.getByRole('button', { name: /^Save/ })).toHaveCount(0);
    await expectAccessible(reading);
    await reading.reload();
    await expect(reading.getByRole('heading', { name: subject })).toBeVisible();

    // The sender sees it, also as the reader does, moves the date, withdraws
    await page.bringToFront();
    await expect(page.getByText(/opened once/)).toBeVisible();
    await expect(page.getByText('1 wrong try')).toBeVisible();
    await page.getByRole('button', { name: 'More for Pell Anders' }).click();
    await page.getByRole('button', { name: 'As they see it: Pell Anders' }).click();
    await page.getByRole('dialog').getByRole('radio', { name: 'The message' }).click();
    await expect(page.getByRole('dialog').getByRole('heading', { name: subject })).toBeVisible();
    await page.getByRole('dialog').getByRole('button', { name: 'Close', exact: true }).click();
    await page.getByRole('button', { name: 'Less for Pell Anders' }).click();
    await page.getByRole('button', { name: 'Move the date' }).click();
    await page.getByRole('radio', { name: /A date and time/ }).click();
    const later = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
    await page.getByLabel('Date', { exact: true }).fill(later);
    await expect(
      page.getByText('The preset “Crew health” closes earlier than that. Choose an earlier date.'),
    ).toBeVisible();
    await expect(page.getByRole('dialog').getByRole('button', { name: 'Move the date' })).toBeDisabled();
    await page.getByRole('radio', { name: /End of the working week/ }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Move the date' }).click();
    await expect(
      page.getByText(/^● ?Readable until .* for Pell Anders|Readable until .* for Pell Anders/).first(),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Withdraw', exact: true }).click();
    await expect(page.getByText(/It has been read already/)).toBeVisible();
    await expectAccessible(page);
    await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
    await expect(page.getByText(/Withdrawn from Pell Anders. 1 had opened it before/)).toBeInViewport();
    // What was pressed is gone with the access.
    await expect(page.getByRole('heading', { level: 1 })).toBeFocused();
    // The open page closes by itself; a fresh visit finds nothing either.
    await reading.bringToFront();
    await expect(reading.getByRole('heading', { name: /This message was withdrawn/ })).toBeVisible({ timeout: 25_000 });
    await reading.reload();
    await expect(reading.getByRole('heading', { name: /This message was withdrawn/ })).toBeVisible();
    await expectAccessible(reading);

    // Wrong passcodes are answered with 403: the browser itself notes that in the console.
    expect(complaints.filter((line) => !/403 \(Forbidden\)/.test(line))).toEqual([]);
  });
}

/** Pixels on a canvas that are not white: a blank canvas has none. */
async function inkOn(page: Page, name: string): Promise<number> {
  return page.getByRole('img', { name, exact: true }).evaluate((canvas: HTMLCanvasElement) => {
    // Read from a copy: the page's own canvas is made for drawing, and the browser complains of being asked twice.
    const copy = Object.assign(document.createElement('canvas'), { width: canvas.width, height: canvas.height });
    const context = copy.getContext('2d', { willReadFrequently: true })!;
    if (canvas.width === 0) return 0;
    context.drawImage(canvas, 0, 0);
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
    let ink = 0;
    for (let at = 0; at < data.length; at += 4)
      if (data[at + 3]! > 0 && data[at]! + data[at + 1]! + data[at + 2]! < 600) ink += 1;
    return ink;
  });
}
