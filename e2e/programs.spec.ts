/** Somebody sets their mail program up, sends from it, settles here what was missing, and ends it again. */
import { type Page } from '@playwright/test';
import { desktop, expect, expectAccessible, latestMail, phone, signIn, test } from './house';
import { type Door, handIn, openDoor } from './door';

test.use({ houseFor: 'mail programs' });

let door: Door;
test.beforeAll(async ({ house }) => {
  door = await openDoor(house);
});
test.afterAll(() => door.stop());

/** On the page of mail programs: makes one for this device, and reads it where it is shown. */
async function passwordFor(page: Page, device: string): Promise<string> {
  await page.getByRole('textbox', { name: 'Name of the device or program' }).fill(device);
  await page.getByRole('button', { name: 'Make a password' }).click();
  return (await page.getByText(/^[0-9a-z]{5}(-[0-9a-z]{5}){3}$/).textContent())!;
}

test('a mail program is set up; what is missing waits among the drafts, what is known leaves under lock; it is ended', async ({
  house,
  page,
  complaints,
}) => {
  const { address } = house.signIns[0]!;
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.getByRole('link', { name: 'Account', exact: true }).click();
  // Whoever reads their mail elsewhere is told there of what comes in here.
  await page.getByRole('textbox', { name: 'At another address' }).fill('maren at home');
  await page.getByRole('button', { name: 'Tell me there' }).click();
  await expect(page.getByText(/This is not a mail address/)).toBeVisible();
  await page.getByRole('textbox', { name: 'At another address' }).fill(address);
  await page.getByRole('button', { name: 'Tell me there' }).click();
  await expect(page.getByText(/Mail to this address comes in here/)).toBeVisible();
  await page.getByRole('textbox', { name: 'At another address' }).fill('maren.home@postbox.example');
  await page.getByRole('button', { name: 'Tell me there' }).click();
  await expect(page.getByText(/^You are told at maren\.home@postbox\.example/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Mail programs ›' }).click();
  await expect(page.getByText(`${door.port}, with SSL/TLS`)).toBeVisible();
  await expectAccessible(page);
  const password = await passwordFor(page, 'Laptop');
  await expect(page.getByText('The password for Laptop. It is shown this once: type it there now.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  const from = { address, password };

  // The password one signs in with here is not it.
  expect(
    handIn(door, {
      address,
      password: house.signIns[0]!.password,
      to: 'tobias.quill@larkmoor.example',
      subject: 'x',
      text: 'x',
    }),
  ).toContain('The address or the password of this mail program is wrong');
  // What the door sees stands there while it happens.
  const seen = page.getByRole('log', { name: 'What the door saw' });
  await expect(seen.getByText(/^A wrong password was typed with your address/)).toBeVisible();

  expect(
    handIn(door, {
      ...from,
      to: 'Nils Orm <nils.orm@postbox.example>',
      subject: 'Tides of the third quarter',
      text: 'As you asked.',
    }),
  ).toBe('');
  await expect(seen.getByText(/^Laptop signed in/)).toBeVisible();
  await expect(seen.getByText(/^Laptop handed in a mail of/)).toBeVisible();
  await expect(seen.getByText('waits among your drafts')).toBeVisible();
  await expectAccessible(page);
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a sheet' }).click();
  expect((await saved).suggestedFilename()).toBe('mail-program.txt');
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^A mail of yours waits at Larkmoor Ferries/ }).click();
  await expect(page.getByText(/Nils Orm: phone number for the passcode missing/).first()).toBeVisible({
    timeout: 30_000,
  });
  // Nobody reads what is answered to the office itself.
  await expect(page.getByRole('button', { name: 'Save as a file, the mail as it came' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Answer/ })).toHaveCount(0);
  await page.goto(`${house.origin}/mail/drafts`);
  await expect(page.getByText('▲ Not sent')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'From Laptop: Tides of the third quarter' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Tides of the third quarter');
  await expect(page.getByText('tides.txt')).toBeVisible();
  const draft = page.url().split('/').at(-1)!;
  await expect(page.getByText('Nils Orm').first()).toBeVisible();
  await page.goto(`${house.origin}/mail/drafts`);
  await expect(page.getByText('▲ Not sent')).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'Draft Tides of the third quarter' })).toBeVisible();
  // The link in the mail leads there, too, once it is a draft.
  await page.goto(`${house.origin}/write/handed/${draft}`);
  await expect(page.getByLabel('Subject')).toHaveValue('Tides of the third quarter');

  // To a colleague nothing is missing.
  expect(
    handIn(door, { ...from, to: 'tobias.quill@larkmoor.example', subject: 'Rota of the ferry', text: 'For Monday.' }),
  ).toBe('');
  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: /Rota of the ferry/ }).click();
  await expect(page.getByText(/^Sent .* by mail program \(Laptop\)/)).toBeVisible();
  await expectAccessible(page);
  await signIn(page, house, 1);
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^Rota of the ferry/ }).click();
  await expect(page.getByText('tides.txt', { exact: true })).toBeVisible();

  await signIn(page, house);
  await page.goto(`${house.origin}/account/programs`);
  await expect(page.getByText(/last used/)).toBeVisible();
  await page.getByRole('button', { name: 'End Laptop' }).click();
  await expectAccessible(page);
  await page.getByRole('dialog').getByRole('button', { name: 'End it' }).click();
  await expect(page.getByRole('button', { name: 'End Laptop' })).toHaveCount(0);
  expect(handIn(door, { ...from, to: 'tobias.quill@larkmoor.example', subject: 'x', text: 'x' })).toContain('is wrong');
  expect(complaints).toEqual([]);
});

test('once a member has let the door in, it knows whom the office knows', async ({ house, page, complaints }) => {
  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.goto(`${house.origin}/account/programs`);
  const password = await passwordFor(page, 'Phone');
  await page.goto(`${house.origin}/people/office/members`);
  await expect(page.getByText(/^It is not in: what colleagues send/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Let the door in' }).click();
  await expect(page.getByText(/^It reads the office book/)).toBeVisible();
  expect(
    handIn(door, {
      address: house.signIns[0]!.address,
      password,
      to: 'lotte.haan@saltmarsh.example',
      subject: 'Berths in spring',
      text: 'As agreed.',
    }),
  ).toBe('');
  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: /Berths in spring/ }).click();
  await expect(page.getByText(/by mail program \(Phone\)/)).toBeVisible();
  await expect(page.getByText(/lotte\.haan@saltmarsh\.example/).first()).toBeVisible();
  await expect(page.getByText(/Passcode by text message/).first()).toBeVisible();
  expect(complaints).toEqual([]);
});

test('what a rule lets leave open leaves as it was written, and Sent says so', async ({ house, page, complaints }) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: /^Rules/ }).click();
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Timetables');
  await page.getByLabel('Workers read').fill('Timetables hang at every quay.');
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('button', { name: 'Where they receive it: a domain' }).click();
  await page.getByRole('textbox', { name: 'Domains' }).fill('islandecho.example');
  await page.getByRole('button', { name: 'Add what it asks' }).click();
  await page.getByRole('button', { name: 'From mail programs it leaves open, as it was written' }).click();
  await page.getByRole('radio', { name: 'On', exact: true }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByRole('link', { name: /^Timetables, on/ })).toBeVisible();

  await page.setViewportSize(phone);
  await signIn(page, house);
  await page.goto(`${house.origin}/account/programs`);
  const password = await passwordFor(page, 'Tablet');
  const letter = { to: 'news@islandecho.example', subject: 'Winter timetable', text: 'From Monday at seven.' };
  expect(handIn(door, { address: house.signIns[0]!.address, password, ...letter })).toBe('');
  const arrived = await latestMail(house, letter.to, /Winter timetable/);
  expect(arrived.text).toContain(letter.text);
  await expect(page.getByText(/^Tablet handed in a mail of/)).toBeVisible();
  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: /^Winter timetable/ }).click();
  await expect(page.getByRole('heading', { name: 'Sent, open' })).toBeVisible();
  await expect(
    page.getByText(/Gone as ordinary mail as it was written\. .* the rule “Timetables” lets it leave open/),
  ).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('where a rule locks the files and leaves the text, a password is made, and its writer tells it from Sent', async ({
  house,
  page,
  complaints,
}) => {
  const to = 'rota@islandecho.example';
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/office/rules`);
  await page.getByRole('button', { name: 'New rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Rotas');
  await page.getByLabel('Workers read').fill('Rotas go with their files locked.');
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByRole('button', { name: 'Where they receive it: a domain' }).click();
  await page.getByRole('textbox', { name: 'Domains' }).fill('islandecho.example');
  await page.getByRole('button', { name: 'Add what it asks' }).click();
  await page.getByRole('button', { name: 'From mail programs its files are locked, its text stays open' }).click();
  await page.getByRole('radio', { name: 'ZIP', exact: true }).click();
  await page.getByRole('radio', { name: 'On', exact: true }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the rule' }).click();
  await expect(page.getByRole('link', { name: /^Rotas, on/ })).toBeVisible();

  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  await page.goto(`${house.origin}/account/programs`);
  const password = await passwordFor(page, 'Bridge');
  await page.getByRole('radio', { name: /^Of each mail/ }).click();
  await expect(page.getByRole('radio', { name: /^Of each mail/ })).toBeChecked();
  await expectAccessible(page);
  const letter = { to, subject: 'Rota for June', text: 'Two of you change over.' };
  expect(handIn(door, { address: house.signIns[1]!.address, password, ...letter })).toBe('');
  const arrived = await latestMail(house, to, /Rota for June/);
  expect(arrived.text).toContain(letter.text);

  await page.goto(`${house.origin}/mail`);
  await page.getByRole('link', { name: /^Rota for June/ }).click();
  await expect(page.getByText('▲ Tell them the password on the phone')).toBeVisible();
  await page.getByRole('button', { name: `Show the password of the file to ${to}` }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^I have told them/ }).click();
  await expect(page.getByText('They have the password.')).toBeVisible();
  // What is told by mail came in here, like any other.
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /a password is to be told/ }).click();
  await expect(page.getByText(/as a locked file: rota@islandecho\.example/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Go to it' }).click();
  await expect(page.getByRole('heading', { name: 'Rota for June', level: 1 })).toBeVisible();
  expect(complaints).toEqual([]);
});

test('the door signs in somebody’s name with keys of its own, until they are taken back or revoked', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  await page.goto(`${house.origin}/account/programs`);
  const signing = page.getByRole('main').last();
  await expect(signing.getByText('Nothing is signed to whoever gets mail under S/MIME.')).toBeVisible();
  await signing.getByRole('button', { name: 'Get a certificate for it' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Let it sign' }).click();
  await expect(signing.getByText(/^Signs to whoever gets mail under S\/MIME since/)).toBeVisible();
  await signing.getByRole('button', { name: 'Make an OpenPGP key for it' }).click();
  await page.getByRole('button', { name: 'Let it sign' }).click();
  await expect(signing.getByText(/^Signs to whoever gets mail under OpenPGP since/)).toBeVisible();
  await expectAccessible(page);

  await page.goto(`${house.origin}/keys`);
  await expect(page.getByText(/^Signs what your mail programs send/)).toHaveCount(2);
  await page
    .getByRole('link', { name: /^OpenPGP key for/ })
    .first()
    .click();
  await page.getByRole('button', { name: /^Revoke/ }).click();
  await page.getByRole('button', { name: 'Revoke it for good' }).click();
  await expect(page.getByText(/^Revoked, and published as revoked/)).toBeVisible();

  await page.goto(`${house.origin}/account/programs`);
  await expect(signing.getByText('Nothing is signed to whoever gets mail under OpenPGP.')).toBeVisible();
  await signing.getByRole('button', { name: 'Take it back: a certificate of the door’s' }).click();
  await page.getByRole('button', { name: 'Take it back', exact: true }).last().click();
  await expect(signing.getByText('Nothing is signed to whoever gets mail under S/MIME.')).toBeVisible();
  expect(complaints).toEqual([]);
});
