/** Presets, the ways readers are known, what they may do, and colleagues: as the office and its readers do it. */
import { type Page } from '@playwright/test';
import {
  addFiles,
  desktop,
  expect,
  expectAccessible,
  type House,
  latestLink,
  latestText,
  mailCountAtRest,
  papers,
  phone,
  signIn,
  test,
} from './house';
import { paperPages, paperText } from './paper';
import { withDatabase } from './readers';
import { choosePreset, openPart } from './writing';

test.use({ viewport: desktop });

const pell = 'pell.anders@postbox.example';

/** How many mails with a way to the message of this page have come to Pell: asked for now, counted whenever. */
async function noticesOf(house: House, url: string): Promise<() => Promise<number>> {
  const id = /[0-9a-f-]{36}/.exec(url)![0];
  const { rows: grants } = await withDatabase(house, (database) =>
    database.query<{ id: string }>('SELECT id FROM grants WHERE message_id = $1', [id]),
  );
  expect(grants).toHaveLength(1);
  const outside = async <T>(path: string): Promise<T> => (await (await fetch(house.outside + path)).json()) as T;
  return async () => {
    const { messages } = await outside<{ messages: { id: string }[] }>(`/mailboxes/${encodeURIComponent(pell)}`);
    const mails = await Promise.all(messages.map((one) => outside<{ text: string }>(`/mails/${one.id}`)));
    return mails.filter(({ text }) => text.includes(grants[0]!.id)).length;
  };
}

async function begin(page: Page, to: string[], subject: string): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  for (const one of to) {
    await page.getByRole('combobox', { name: 'To' }).fill(one);
    await page.getByRole('option').first().click();
  }
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Please look through the list of names for the night boats.');
}

/** The passcode as it lies on the phone, once the page says that it was sent. */
async function enterPasscode(reading: Page, house: House): Promise<void> {
  await reading.getByLabel('Passcode', { exact: true }).waitFor();
  await reading
    .getByLabel('Passcode', { exact: true })
    .fill(/\d{6}/.exec(await latestText(house, '+447700900417'))![0]);
}

const dryDock = { preset: 'Dry dock papers', sentence: 'For the yard: a call and a question, read only.' };

test('an administrator makes a preset; a worker sends under it, tightens it and can’t loosen it', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await expect(page.getByText('Crew health', { exact: true })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'New preset' }).click();
  await page.getByRole('button', { name: 'Keep the preset' }).click();
  await expect(page.getByText('Give it a name that says what it is for.')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('crew HEALTH');
  await page.getByLabel('One sentence').fill(dryDock.sentence);
  await page.getByRole('button', { name: 'Keep the preset' }).click();
  await expect(page.getByText('Another preset has this name.')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill(dryDock.preset);
  await page.getByRole('radio', { name: /Passcode by voice call/ }).click();
  await page.getByRole('checkbox', { name: /Ask a question besides/ }).click();
  await page.getByRole('checkbox', { name: /^Copy text/ }).click();
  await page.getByRole('checkbox', { name: /^Reply,/ }).click();
  await expect(page.getByText(/look only · workers may only tighten/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the preset' }).click();
  const line = page.getByTestId(`preset-${dryDock.preset}`);
  await expect(line.getByText(dryDock.sentence)).toBeVisible();
  await line.getByRole('button', { name: /^Up/ }).click();
  await line.getByRole('button', { name: /^Make it the default/ }).click();
  await expect(line.getByText('● Default')).toBeVisible();

  await begin(page, ['tobias'], 'Under the new default');
  await expect(page.getByText(dryDock.sentence)).toBeVisible();
  await openPart(page, 'What they may do');
  await page.getByRole('checkbox', { name: /^Print/ }).click();
  await expect(page.getByText(`They may not print, because the preset “${dryDock.preset}” says so.`)).toBeVisible();
  await openPart(page, 'Closing date');
  await page.getByRole('radio', { name: /End of the working week/ }).click();
  await expect(page.getByRole('button', { name: /^Closing date: until \w{3} \d+/ })).toBeVisible();

  // Back to what the others expect.
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page
    .getByTestId('preset-Everyday papers')
    .getByRole('button', { name: /^Make it the default/ })
    .click();
  await expect(page.getByTestId('preset-Everyday papers').getByText('● Default')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('a preset changed later leaves what is held as it was sent, until the office says that it counts there, too', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house, 2);
  const rota = { name: 'Night rota', sentence: 'For the rota: two weeks and no longer.' };
  const openPreset = async (): Promise<void> => {
    await page.getByRole('link', { name: 'Office', exact: true }).click();
    await page.getByRole('button', { name: `Change ${rota.name}` }).click();
  };
  const keepPreset = async (): Promise<void> => {
    await page.getByRole('button', { name: 'Keep the preset' }).click();
    await expect(page.getByTestId(`preset-${rota.name}`)).toBeVisible();
  };
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('button', { name: 'New preset' }).click();
  await expect(page.getByRole('checkbox', { name: /^Also for what is held/ })).toHaveCount(0);
  await page.getByLabel('Name', { exact: true }).fill(rota.name);
  await page.getByLabel('One sentence').fill(rota.sentence);
  await keepPreset();

  await begin(page, ['tobias'], 'Rota of the night boats');
  await choosePreset(page, new RegExp(rota.name));
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/In their Received since/)).toBeVisible();
  const message = page.url();
  const far = new Date(Date.now() + 40 * 86_400_000).toISOString().slice(0, 10);
  const askForLater = async (): Promise<void> => {
    await page.goto(message);
    await page.getByRole('button', { name: 'Move the date' }).click();
    await page.getByRole('radio', { name: /A date and time/ }).click();
    // The browser's own: picked as well as typed.
    await expect(page.getByLabel('Date', { exact: true })).toHaveAttribute('type', 'date');
    await page.getByLabel('Date', { exact: true }).fill(far);
  };
  const refused = page.getByText(`The preset “${rota.name}” closes earlier than that. Choose an earlier date.`);
  const move = page.getByRole('dialog').getByRole('button', { name: 'Move the date' });

  await openPreset();
  await page.getByRole('checkbox', { name: /^A later closing date/ }).click();
  await expect(page.getByText('Messages sent before keep to the preset as it was when they were sent')).toBeVisible();
  await expectAccessible(page);
  await keepPreset();
  await askForLater();
  await expect(refused).toBeVisible();
  await expect(move).toBeDisabled();

  await page.keyboard.press('Escape');
  await openPreset();
  await page.getByRole('checkbox', { name: /^Also for what is held/ }).click();
  await expect(page.getByText(/follows this version, whenever the message was sent/)).toBeVisible();
  await expectAccessible(page);
  await keepPreset();
  await askForLater();
  await move.click();
  await expect(page.getByText(/Readable until .* for Tobias Quill/).first()).toBeVisible();
  expect(complaints).toEqual([]);
});

test('staff only with an outsider is stopped by name, and goes without them; the colleague reads it in Received', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await begin(page, ['pell', 'tobias'], 'Among ourselves');
  await choosePreset(page, /Inside the house/);
  await expect(page.getByText('■ An outsider, and this handling is for staff only')).toBeVisible();
  await expect(page.getByText(/1 thing to settle: Pell Anders: an outsider/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Leave out Pell Anders' }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/In their Received since/)).toBeVisible();

  const context = await browser.newContext({ viewport: phone, locale: 'en-GB', timezoneId: 'Europe/Lisbon' });
  const tobias = await context.newPage();
  await signIn(tobias, house, 1);
  await tobias.getByRole('link', { name: 'Mail', exact: true }).click();
  await tobias.getByRole('link', { name: /^Received/ }).click();
  const unread = tobias.getByRole('link', { name: /Among ourselves, from Maren Oduya, Unread/ });
  await expect(unread).toBeVisible();
  await expectAccessible(tobias);
  await unread.click();
  await expect(tobias.getByRole('heading', { name: 'Among ourselves' })).toBeVisible();
  await expect(tobias.getByTestId('watermark')).toBeVisible();
  await expectAccessible(tobias);
  await page.bringToFront();
  await expect(page.getByText(/opened once/)).toBeVisible();
  // Withdrawn, it closes in front of them.
  await page.getByRole('button', { name: 'Withdraw', exact: true }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await tobias.bringToFront();
  await expect(tobias.getByRole('heading', { name: 'This message was withdrawn' })).toBeVisible();
  await context.close();
  expect(complaints).toEqual([]);
});

test('a call and a question together: wrong answers count, another way is asked and given, and what is only to be looked at is', async ({
  page,
  context,
  house,
  complaints,
}) => {
  await signIn(page, house);
  const before = await mailCountAtRest(house, pell);
  await begin(page, ['pell'], 'Bank details for the winter');
  await choosePreset(page, /Pay and bank details/);
  await expect(page.getByText('■ Question missing')).toBeVisible();
  await page.getByLabel('Question for Pell Anders').fill('Which boat did we meet on?');
  await page.getByLabel(/^Answer of/).fill('Anders');
  await expect(page.getByText(/The answer stands in their name or address/)).toBeVisible();
  await page.getByLabel(/^Answer of/).fill('MV Teal');
  await expectAccessible(page);
  await addFiles(page, papers);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/^Told/)).toBeVisible();
  const link = await latestLink(house, pell, before);

  const reading = await context.newPage();
  await reading.setViewportSize(phone);
  await reading.goto(link);
  await expect(reading.getByText(/read out in a call to the phone ending in/)).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'I can’t get at that phone or mailbox' }).click();
  await reading.getByLabel('What would work for you').fill('a text to the yard');
  await reading.getByRole('button', { name: 'Tell the sender' }).click();
  await expect(reading.getByText(/Maren Oduya has been told/)).toBeVisible();

  await page.bringToFront();
  await expect(page.getByText('▲ Asks for another way: “a text to the yard”')).toBeVisible();
  await page
    .getByRole('button', { name: /^Change the way Pell/ })
    .first()
    .click();
  await page.getByRole('radio', { name: 'Passcode by text message' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Use this from now on' }).click();
  await expect(page.getByText(/The next passcode for Pell Anders goes there/)).toBeVisible();

  await reading.bringToFront();
  await reading.reload();
  await reading.getByRole('button', { name: 'Send me the passcode' }).click();
  await expect(reading.getByText('Which boat did we meet on?')).toBeVisible();
  await enterPasscode(reading, house);
  await reading.getByLabel('Your answer').fill('Heron');
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByText(/That is not the answer. 4 tries left/)).toBeVisible();
  await expectAccessible(reading);
  await reading.getByLabel('Your answer').fill('mv téal');
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByRole('heading', { name: 'Bank details for the winter' })).toBeVisible();
  await expect(reading.getByTestId('watermark')).toBeVisible();
  await expectAccessible(reading);

  // Only to be looked at: nothing offered, nothing selected, nothing on paper.
  await expect(reading.getByRole('button', { name: /^(Save|Print)/ })).toHaveCount(0);
  await reading.keyboard.press('Control+A');
  const selected = await reading.evaluate(() => String(getSelection()));
  expect(selected).toContain('Larkmoor Ferries'); // the page around it can be
  for (const part of ['Bank details', 'list of names', 'fitness-2026.pdf']) expect(selected).not.toContain(part);
  expect(paperText(await reading.pdf({ format: 'A4' }))).toMatch(
    /Not for paper\s+The sender has switched printing off/,
  );
  expect(complaints.filter((line) => !line.includes('403 (Forbidden)'))).toEqual([]);
});

test('paper where it is allowed: a letter on A4 and on Letter, with numbered pages; the sender sees who printed and saved', async ({
  page,
  context,
  house,
  complaints,
}) => {
  await signIn(page, house);
  const before = await mailCountAtRest(house, pell);
  await begin(page, ['pell'], 'Timetable for the winter');
  await page.getByRole('button', { name: 'Reference number' }).click();
  await page.getByLabel('Reference number').fill('TT-2611-004');
  await page.keyboard.press('Tab');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.press('Control+End');
  for (let line = 1; line <= 240; line++)
    await page.keyboard.insertText(`Departure ${line} of the night boat, ${'a'.repeat(line === 40 ? 300 : 3)}.\n`);
  await addFiles(page, papers);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/^Told/)).toBeVisible({ timeout: 30_000 });
  const reading = await context.newPage();
  await reading.setViewportSize(phone);
  await reading.goto(await latestLink(house, pell, before));
  await reading.getByRole('button', { name: 'Send me the passcode' }).click();
  await enterPasscode(reading, house);
  await reading.getByRole('button', { name: 'Open the message' }).click();
  await expect(reading.getByRole('heading', { name: 'Timetable for the winter' })).toBeVisible();
  await expectAccessible(reading);
  await expect(reading.locator('#paper .text')).toContainText('Departure 240');
  for (const format of ['A4', 'Letter'] as const) {
    const pdf = await reading.pdf({ format });
    const text = paperText(pdf);
    for (const part of [
      'Timetable for the winter',
      'Maren Oduya <maren.oduya@larkmoor.example>',
      'Pell Anders <pell.anders@postbox.example>',
      'TT-2611-004',
      'Readable until',
      'Departure 1 of',
      'Departure 240 of',
      'fitness-2026.pdf, 24 kB',
      'Printed by Pell Anders',
    ])
      expect(text).toContain(part);
    expect(text).not.toContain('Close this page for others');
    // The word of 300 letters is broken, not cut.
    expect((text.match(/a/g) ?? []).length).toBeGreaterThan(300);
    const pages = paperPages(pdf);
    expect(pages).toBeGreaterThan(1);
    for (let number = 1; number <= pages; number++)
      expect(text).toMatch(new RegExp(`\\b${number}\\s*/\\s*${pages}\\b`));
  }
  // A file's pages, printed by the page's own button; the browser's dialog is not there without a screen.
  await reading.evaluate(() => {
    window.print = () =>
      void document.body.setAttribute('data-printed', String(document.querySelectorAll('#paper img.sheet').length));
  });
  await reading.getByRole('button', { name: 'Print fitness-2026.pdf' }).click();
  await expect(reading.locator('body[data-printed="2"]')).toBeVisible();
  expect(paperPages(await reading.pdf({ format: 'A4' }))).toBe(2);
  const [download] = await Promise.all([
    reading.waitForEvent('download'),
    reading.getByRole('button', { name: 'Save eyesight.jpg' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('eyesight.jpg');
  await page.bringToFront();
  await expect(page.getByText('Pell Anders saved a file')).toBeVisible();
  await expect(page.getByText('Pell Anders printed it').first()).toBeVisible();
  expect(complaints).toEqual([]);
});

test('sent for later it waits, is taken back as it was, and goes when it is sent at once', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await begin(page, ['pell'], 'For tomorrow');
  await page.getByRole('button', { name: /^Leaves/ }).click();
  await page.getByRole('radio', { name: /^Later/ }).click();
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
  await page.getByLabel('Day it leaves').fill(tomorrow);
  await page.getByLabel('Time it leaves').fill('09:00');
  await expect(page.getByText(/^Leaves \w{3} \d+ \w{3}, 09:00$/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Send \w{3} \d+ \w{3}, 09:00/ }).click();
  await expect(page.getByText(/It has not left yet: it leaves/)).toBeVisible();
  const waiting = await noticesOf(house, page.url());
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Sent', exact: false }).first().click();
  await expect(page.getByRole('link', { name: /For tomorrow, to Pell Anders, Not left yet/ })).toBeVisible();
  await page.getByRole('link', { name: /For tomorrow, to Pell Anders/ }).click();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('For tomorrow');
  await expect(page.getByRole('textbox', { name: 'Text', exact: true })).toContainText('night boats');
  expect(await waiting()).toBe(0);
  await page.getByRole('radio', { name: /^At once/ }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/^Told/)).toBeVisible();
  const sent = await noticesOf(house, page.url());
  expect(await sent()).toBe(1);
  expect(await waiting()).toBe(0);
  // Whether the earlier try is there is asked, and answered with 404.
  expect(complaints.filter((line) => !line.includes('404 (Not Found)'))).toEqual([]);
});

test('a message to many: readers are found and worked on by selection, and a firm’s accesses end across messages', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(
    Array.from({ length: 11 }, (_, index) => `crew${index}@islandferry.example`)
      .join(', ')
      .concat(','),
  );
  await page.getByLabel('Subject').fill('To the whole crew');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('The list for the winter.');
  // Nobody's phone is known: for these a question is asked.
  await choosePreset(page, /Everyday papers/);
  await openPart(page, 'Readers prove who they are');
  await page.getByRole('radio', { name: /^A question you both know the answer to, Needs/ }).click();
  for (let index = 0; index < 11; index++) {
    await page.getByLabel(`Question for crew${index}@islandferry.example`).fill('Which boat are you on?');
    await page.getByLabel(`Answer of crew${index}@islandferry.example`).fill(`Boat number ${index}`);
  }
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'To the whole crew' })).toBeVisible({ timeout: 30_000 });
  await page.getByLabel('Find a reader').fill('crew1');
  await expect(page.getByTestId(/^grant-/)).toHaveCount(2);
  await page.getByRole('button', { name: 'Select these 2' }).click();
  await expect(page.getByText('2 selected')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Withdraw from 2 selected' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText(/Withdrawn from 2 people. Nobody had opened it./)).toBeVisible();
  await page.getByLabel('Find a reader').fill('');
  await page.getByRole('radio', { name: 'Closed or withdrawn' }).click();
  await expect(page.getByTestId(/^grant-/)).toHaveCount(2);

  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await page.getByRole('link', { name: /By person and firm/ }).click();
  await expect(page.getByRole('heading', { name: 'Who can still read what' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Withdraw everything from islandferry.example' }).click();
  await expect(page.getByText('9 accesses of 9 people in all your messages.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText('9 accesses to 1 message withdrawn. None had been opened.')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('somebody who reads German is told in German, and the reading room speaks the browser’s language', async ({
  page,
  browser,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await page.goto(`${house.origin}/people/new`);
  await page.getByLabel('Name', { exact: true }).fill('Greta Holm');
  await page.getByLabel('Address', { exact: true }).fill('greta@postbox.example');
  await page.getByLabel('Phone for passcodes').fill('+447700900551');
  await page.getByLabel('Language of notices').selectOption('German');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Greta Holm', level: 1 })).toBeVisible();
  await begin(page, ['greta'], 'Fahrplan');
  await page.getByRole('button', { name: 'As they see it' }).click();
  await expect(page.getByRole('dialog').getByText('Maren Oduya hat eine Nachricht für Sie hinterlegt')).toBeVisible();
  await page.getByRole('button', { name: 'Back to writing' }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  const link = await latestLink(house, 'greta@postbox.example');
  for (const [locale, heading, button] of [
    ['de-AT', 'Maren Oduya hat Ihnen geschrieben', 'Code schicken'],
    ['pt-PT', 'Maren Oduya escreveu-lhe', 'Enviar-me o código'],
    ['fi-FI', 'Maren Oduya has written to you', 'Send me the passcode'],
  ] as const) {
    const context = await browser.newContext({ viewport: phone, locale, timezoneId: 'Europe/Lisbon' });
    const reading = await context.newPage();
    await reading.goto(link);
    await expect(reading.getByRole('heading', { name: heading })).toBeVisible();
    await expect(reading.getByRole('button', { name: button })).toBeVisible();
    await expectAccessible(reading);
    if (locale === 'de-AT') {
      await reading.getByRole('button', { name: button }).click();
      await reading.getByLabel('Code', { exact: true }).waitFor();
      const text = await latestText(house, '+447700900551');
      expect(text).toMatch(/ist Ihr Code .* 10 Minuten lang/);
      await reading.getByLabel('Code', { exact: true }).fill(/\d{6}/.exec(text)![0]);
      await reading.getByRole('button', { name: 'Nachricht öffnen' }).click();
      await expect(
        reading
          .locator('#root')
          .getByText(
            /Sie dürfen antworten, allen antworten, weitergeben, drucken, Text kopieren und die Dateien speichern/,
          ),
      ).toBeVisible();
      expect(await reading.evaluate(() => document.documentElement.lang)).toBe('de');
    }
    await context.close();
  }
  expect(complaints).toEqual([]);
});
