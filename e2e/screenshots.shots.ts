/** The pictures in docs/screenshots, made from the demo's data: `npm run screenshots`. */
import { type Page } from '@playwright/test';
import { addFiles, desktop, latestLink, mailCountAtRest, papers, phone, signIn, test } from './house';
import { passByText } from './readers';
import { beginLetter, chooseLock, choosePreset } from './writing';
import { addPerson, openMeans, openPerson } from './people';

const picture = async (page: Page, name: string): Promise<void> => {
  await page.waitForTimeout(1200); // charts and fonts settle
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

test('pictures', async ({ page, context, browser, house }) => {
  const link = await latestLink(house, 'pell.anders@postbox.example');
  await page.setViewportSize(phone);
  await signIn(page, house);
  await picture(page, 'desk-phone');
  await page.setViewportSize(desktop);
  await picture(page, 'desk-wide');
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  await page.getByRole('link', { name: /Winter allowances/ }).waitFor();
  await picture(page, 'received-phone');
  await page.getByRole('link', { name: 'Sent', exact: true }).click();
  await page.setViewportSize(desktop);
  await page.getByRole('textbox', { name: 'Search' }).fill('teal');
  await page.getByRole('link', { name: /^Accident report/ }).click();
  await page.getByRole('heading', { name: /^Accident report/, level: 1 }).waitFor();
  await picture(page, 'mail-wide');
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  for (const name of ['pell', 'northquay c']) {
    await page.getByRole('combobox', { name: 'To' }).fill(name);
    await page.getByRole('option').first().click();
  }
  await page.getByLabel('Subject').fill('Fitness papers before the winter season');
  await page.getByRole('button', { name: 'Reference number' }).click();
  await page.getByLabel('Reference number').fill('CR-2611-204');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type(
    'Dear all,\n\nthe papers for Pell’s season are attached. Please look at page two, the eyesight test from 12 November, and tell me by Friday whether the restriction stays.',
  );
  await addFiles(page, papers);
  await page.evaluate(() => document.querySelector('[role=main]')?.scrollTo(0, 0));
  await picture(page, 'write-phone');
  await page.setViewportSize(desktop);
  await picture(page, 'write-wide');
  await page.getByRole('button', { name: 'As they see it' }).click();
  await page.getByRole('radio', { name: 'Before reading' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Send me the passcode' }).waitFor();
  await picture(page, 'seen-wide');

  await page.getByRole('button', { name: 'Back to writing' }).click();
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await page.getByRole('main').getByText('● valid').waitFor();
  await page.setViewportSize(desktop);
  await openPerson(page, /records@harbourclinic.example/);
  await openMeans(page, 'Certificate');
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  await page.getByRole('button', { name: /^Take it/ }).click();
  await page.getByText('Nobody has compared').waitFor();
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Make an OpenPGP key' }).click();
  await page.getByRole('button', { name: 'Make the key' }).click();
  await page.getByRole('main').getByText('● valid').waitFor();
  await addPerson(page, { name: 'Nils Rook', address: 'underwriting@northquay.example' });
  await openMeans(page, 'OpenPGP key');
  await page.getByRole('button', { name: 'Look the key up' }).click();
  await page.getByRole('button', { name: /^Take it: OpenPGP/ }).click();
  await page.getByText(/^Taken from/).waitFor();
  await page.getByRole('button', { name: /^Fingerprint and details/ }).click();
  await page.getByRole('button', { name: /^As words/ }).click();
  await page.getByRole('button', { name: /^OpenPGP key: / }).evaluate((one) => one.scrollIntoView());
  await picture(page, 'person-key-phone');
  await page.setViewportSize(desktop);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page
    .getByRole('button', { name: /Begin a new one|New message|Another/ })
    .click({ timeout: 2000 })
    .catch(() => undefined);
  await page
    .getByRole('combobox', { name: 'To' })
    .fill(
      'records@harbourclinic.example, underwriting@northquay.example, pell.anders@postbox.example, office@saltmarsh.example, mira.talvik@saltmarsh.example,',
    );
  await page.getByLabel('Subject').fill('Survey of MV Teal');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.type('Dear all,\n\nthe survey of MV Teal is on Thursday at nine, on berth four.');
  await page
    .getByText(/stays with them/)
    .nth(1)
    .waitFor();
  await chooseLock(page, 'Carried page', 'Mira Talvik');
  await chooseLock(page, 'Locked file', 'Saltmarsh Yard');
  await page.getByRole('button', { name: /^Use this password/ }).click();
  await page.getByText('● Everything is settled').waitFor();
  await page
    .getByText('Pell Anders', { exact: true })
    .last()
    .evaluate((one) => one.scrollIntoView());
  await picture(page, 'locks-wide');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await page.getByRole('heading', { name: 'Survey of MV Teal' }).waitFor({ timeout: 60_000 });
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('link', { name: 'Password book' }).click();
  await page
    .getByRole('link', { name: /Saltmarsh/ })
    .first()
    .click();
  await page.getByRole('button', { name: /^Show the password/ }).click();
  await picture(page, 'passwords-phone');
  const letter = {
    from: 'records@harbourclinic.example',
    to: house.signIns[0]!.address,
    subject: 'Results of the winter examination',
    text: 'All twelve of your crew are fit for the winter season.\nThe certificates follow by the end of the week; Odile Brask has signed them.\n\nHarbour Clinic, records',
    sign: true,
    encrypt: true,
  };
  await fetch(`${house.outside}/mails`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(letter),
  });
  await page.setViewportSize(phone);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  await page.getByRole('link', { name: /^Encrypted mail/ }).click();
  await page.getByText('● the certificate you have for them').waitFor();
  await picture(page, 'incoming-phone');

  const reading = await context.newPage();
  await reading.setViewportSize(phone);
  await reading.goto(link);
  await reading.getByRole('button', { name: 'Send me the passcode' }).waitFor();
  await picture(reading, 'room-ask-phone');
  await passByText(reading, house, '+447700900417');
  await reading.getByRole('button', { name: 'Look fitness-2026.pdf' }).waitFor();
  await picture(reading, 'room-read-phone');
  await reading.goto(await latestLink(house, 'mira.talvik@saltmarsh.example'));
  await reading.getByRole('button', { name: 'Choose the file' }).waitFor();
  await picture(reading, 'carried-phone');
  await page.goto(`${house.origin}/office/slots`);
  await reading.goto(await page.getByText(/^http\S+\/slot\/[\w-]{16}$/).innerText());
  await reading.getByLabel('Your mail address').fill('lene.hjort@postbox.example');
  await reading.getByLabel('Your name').fill('Lene Hjort');
  await reading.getByLabel('Subject').fill('Pilot’s licence, renewal');
  await reading.getByLabel('Text', { exact: true }).fill('Here is the renewed licence with the medical page.');
  await picture(reading, 'slot-phone');
  await reading.goto(`${house.origin}/room/list`);
  await reading.getByLabel('Your mail address').fill('mira.talvik@saltmarsh.example');
  await reading.getByLabel('Password', { exact: true }).fill('seven lanterns at low tide');
  await reading.getByRole('button', { name: 'Sign in' }).click();
  await reading.getByText('Photographs of the damage').waitFor();
  await picture(reading, 'list-phone');

  // Under a preset that lets readers choose.
  const before = await mailCountAtRest(house, 'pell.anders@postbox.example');
  await page.setViewportSize(desktop);
  await beginLetter(page, 'pell.anders@postbox.example', 'Berths this winter', 'The berths are as agreed.');
  await choosePreset(page, /^Everyday papers/);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await page.getByRole('heading', { name: 'Berths this winter' }).waitFor();
  await reading.goto(await latestLink(house, 'pell.anders@postbox.example', before));
  await passByText(reading, house, '+447700900417');
  await reading.getByRole('button', { name: 'Choose', exact: true }).click();
  await reading.getByRole('radio', { name: /^As a locked file/ }).waitFor();
  await picture(reading, 'choose-phone');

  const office = await (
    await browser.newContext({ viewport: desktop, locale: 'en-GB', timezoneId: 'Europe/Lisbon' })
  ).newPage();
  await signIn(office, house, 2);
  await office.getByRole('link', { name: 'Office', exact: true }).click();
  await office.getByRole('link', { name: 'Notices', exact: true }).click();
  await office.getByRole('button', { name: 'Word them yourself' }).click();
  await picture(office, 'notices-wide');
  await office.getByRole('link', { name: /^Rules/ }).click();
  await office.getByRole('link', { name: /^Bank details/ }).click();
  await office.getByText('as expected').nth(2).waitFor();
  await picture(office, 'rules-wide');
});
