/**
 * Writing back: from the reading room to the office and to all, answered by the office, the conversation together on
 * both sides.
 */
import {
  desktop,
  expect,
  expectAccessible,
  latestLink,
  mailCount,
  mailCountAtRest,
  papers,
  phone,
  signIn,
  test,
} from './house';
import { passByText } from './readers';

test.use({ viewport: desktop });

const pell = 'pell.anders@postbox.example';
const yard = 'office@saltmarsh.example';

test('a reply with a file comes back under lock, survives a cut line, is answered, and both sides see the conversation', async ({
  page,
  context,
  house,
  complaints,
}) => {
  await signIn(page, house);
  const [before, beforeYard] = [await mailCountAtRest(house, pell), await mailCountAtRest(house, yard)];
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  for (const one of ['pell', 'Saltmarsh Yard']) {
    await page.getByRole('combobox', { name: 'To' }).fill(one);
    await page.getByRole('option').first().click();
  }
  await page.getByLabel('Subject').fill('Dates for the dry dock');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Which week suits you?');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Dates for the dry dock' })).toBeVisible();
  const link = await latestLink(house, pell, before);
  await latestLink(house, yard, beforeYard);

  const reading = await context.newPage();
  await reading.setViewportSize(phone);
  await reading.goto(link);
  await passByText(reading, house, '+447700900417');
  await reading.getByRole('button', { name: 'Reply to Maren Oduya' }).click();
  await expect(reading.getByText('Goes to Maren Oduya.')).toBeVisible();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Send the reply' }).click();
  await expect(reading.getByText('Write something or add a file.')).toBeVisible();
  await reading.getByLabel('Your reply', { exact: true }).fill('The second week of December.\nPapers attached.');
  await Promise.all([
    reading.waitForEvent('filechooser').then((chooser) => chooser.setFiles(papers)),
    reading.getByRole('button', { name: 'Add files' }).click(),
  ]);
  await expect(reading.getByText(/eyesight.jpg, \d+ kB/)).toBeVisible();
  // The line is cut: what was written stays, and goes once when it is back.
  await context.setOffline(true);
  await reading.getByRole('button', { name: 'Send the reply' }).click();
  await expect(reading.getByText(/No connection. What you wrote is still here/)).toBeVisible({ timeout: 30_000 });
  await context.setOffline(false);
  await reading.getByRole('button', { name: 'Send the reply' }).click();
  await expect(reading.getByText(/Sent. You can read it again here/)).toBeVisible({ timeout: 30_000 });
  await reading.getByRole('button', { name: /^Look Your reply/ }).click();
  await expect(reading.getByText('The second week of December.')).toBeVisible();
  await expectAccessible(reading);

  // The office: on the desk, in Received, in the conversation.
  await page.bringToFront();
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await page.getByRole('link', { name: 'Read what was received' }).click();
  await page.getByRole('link', { name: /Re: Dates for the dry dock, from Pell Anders, Unread/ }).click();
  await expect(page.locator('#root').getByText('The second week of December.')).toBeVisible();
  await expect(page.getByText('fitness-2026.pdf', { exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: /^You to Pell Anders, Saltmarsh Yard/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Re: Dates for the dry dock');
  await expect(page.getByRole('button', { name: 'Remove Pell Anders' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Then it is settled.');
  const beforeAnswer = await mailCountAtRest(house, pell);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText('The conversation')).toBeVisible();
  await expect(page.getByRole('link', { name: /^From Pell Anders/ })).toBeVisible();
  await latestLink(house, pell, beforeAnswer);

  // To all: the yard gets a notice of its own, from the office's mailbox, and finds who wrote.
  const [now, nowYard] = [await mailCountAtRest(house, pell), await mailCountAtRest(house, yard)];
  await reading.bringToFront();
  await reading.getByRole('button', { name: 'Reply to all' }).click();
  await expect(reading.getByText('Goes to Maren Oduya and Saltmarsh Yard.')).toBeVisible();
  await reading.getByLabel('Your reply', { exact: true }).fill('And the yard should know too.');
  await reading.getByRole('button', { name: 'Send the reply' }).click();
  await expect(reading.getByText(/Sent. You can read it again here/)).toBeVisible({ timeout: 30_000 });
  const yardLink = await latestLink(house, yard, nowYard);
  expect(await mailCount(house, pell)).toBe(now);
  const atTheYard = await context.newPage();
  await atTheYard.setViewportSize(phone);
  await atTheYard.goto(yardLink);
  await expect(atTheYard.getByRole('heading', { name: 'Pell Anders has written to you' })).toBeVisible();
  await passByText(atTheYard, house, '+447700900262');
  await expect(atTheYard.locator('#root').getByText('And the yard should know too.')).toBeVisible();

  // Withdrawn while something is being written: said, and the page is another one.
  await reading.bringToFront();
  await reading.getByRole('button', { name: 'Reply to Maren Oduya' }).click();
  await reading.getByLabel('Your reply', { exact: true }).fill('Too late.');
  await page.bringToFront();
  await page.getByRole('link', { name: /^You to Pell Anders, Saltmarsh Yard/ }).click();
  await page.getByRole('button', { name: 'Withdraw all' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText(/Withdrawn from 2 people/)).toBeVisible();
  // The page may have noticed by itself already: then there is nothing to press any more.
  await reading
    .getByRole('button', { name: 'Send the reply' })
    .click({ timeout: 3_000 })
    .catch(() => undefined);
  await reading.bringToFront();
  await expect(reading.getByRole('heading', { name: /This message was withdrawn/ })).toBeVisible();
  expect(
    complaints.filter((line) => !/ERR_INTERNET_DISCONNECTED|401 \(Unauthorized\)|410 \(Gone\)/.test(line)),
  ).toEqual([]);
});

test('what may be passed on reaches one more person, who is known in a way of their own; the sender sees it and ends the branch', async ({
  page,
  context,
  house,
  complaints,
}) => {
  await signIn(page, house);
  const before = await mailCountAtRest(house, pell);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('pell');
  await page.getByRole('option').first().click();
  await page.getByLabel('Subject').fill('Orders for the galley');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('As last winter.');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/^Told/)).toBeVisible();
  const reading = await context.newPage();
  await reading.setViewportSize(phone);
  await reading.goto(await latestLink(house, pell, before));
  await passByText(reading, house, '+447700900417');
  await reading.getByRole('button', { name: 'Pass it on' }).click();
  await expectAccessible(reading);
  await reading.getByRole('button', { name: 'Pass it on' }).click();
  await expect(reading.getByText('That is not a mail address.')).toBeVisible();
  await reading.getByLabel('Their name').fill('The yard’s office');
  await reading.getByLabel('Their mail address').fill(yard);
  await reading.getByLabel('Their phone, with country code').fill('+44 7700 900417');
  const nowYard = await mailCountAtRest(house, yard);
  await reading.getByRole('button', { name: 'Pass it on' }).click();
  await expect(reading.getByText('That is your own phone or mailbox: the passcode would come to you.')).toBeVisible();
  await reading.getByLabel('Their phone, with country code').fill('+44 7700 900262');
  await reading.getByRole('button', { name: 'Pass it on' }).click();
  await expect(reading.getByText('The yard’s office is being told.')).toBeVisible();
  await expectAccessible(reading);

  const atTheYard = await context.newPage();
  await atTheYard.setViewportSize(phone);
  await atTheYard.goto(await latestLink(house, yard, nowYard));
  await passByText(atTheYard, house, '+447700900262');
  await expect(atTheYard.getByRole('heading', { name: 'Orders for the galley' })).toBeVisible();

  const line = page.getByTestId(`grant-${yard}`);
  await expect(line.getByText('Passed on by Pell Anders; ends with theirs')).toBeVisible();
  await expect(line.getByText(/opened once/)).toBeVisible();
  await expectAccessible(page);
  await page.bringToFront();
  await page.getByTestId(`grant-${pell}`).getByRole('button', { name: 'More for Pell Anders' }).click();
  await page.getByRole('button', { name: 'Withdraw from Pell Anders' }).click();
  await expect(page.getByText(`They passed it on to ${yard}: that ends too.`)).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
  await expect(line.getByText('○ Withdrawn')).toBeVisible();
  await atTheYard.bringToFront();
  await expect(atTheYard.getByRole('heading', { name: /This message was withdrawn/ })).toBeVisible({ timeout: 25_000 });
  expect(complaints.filter((line_) => !/400 \(Bad Request\)|401 \(Unauthorized\)/.test(line_))).toEqual([]);
});
