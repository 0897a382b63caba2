/**
 * What goes wrong on the way: a cut upload, a dead server, a refusing host, a second tab, bad input; and the reader's
 * dead ends.
 */
import { type Page } from '@playwright/test';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import {
  addFiles,
  desktop,
  expect,
  expectAccessible,
  latestLink,
  latestText,
  type House,
  mailCount,
  mailCountAtRest,
  phone,
  signIn,
  test,
} from './house';
import { chooseLock, choosePreset, openWays } from './writing';

test.use({ viewport: desktop });

async function write(page: Page, to: string, subject: string): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(to);
  await page.keyboard.press('Enter');
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('Please read this.');
}

async function givePhone(page: Page, number: string): Promise<void> {
  await page.getByLabel(/^Phone of/).fill(number);
  await page.getByRole('button', { name: 'Keep the number' }).click();
}

async function sendTo(page: Page, house: House, to: string, subject: string, number = '07700 900417'): Promise<string> {
  const before = await mailCountAtRest(house, to);
  await write(page, to, subject);
  if (await page.getByLabel(/^Phone of/).isVisible()) await givePhone(page, number);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: subject })).toBeVisible();
  return latestLink(house, to, before);
}

test('the plan asks for a phone number, refuses the sender’s own, and warns of somebody else’s', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await write(page, 'new.reader@postbox.example', 'Numbers');
  await expect(page.getByText(/1 thing to settle: new.reader@postbox.example: phone number/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send under lock' })).toBeDisabled();
  await expectAccessible(page);
  await givePhone(page, '12');
  await expect(page.getByText(/too short or too long|not a phone number/)).toBeVisible();
  await givePhone(page, '07700 900101');
  await expect(
    page.getByText('This is your own number: the passcode would come to you', { exact: false }).first(),
  ).toBeVisible();
  await givePhone(page, '07700 900417');
  await expect(page.getByText(/This number is known as Pell Anders’s/)).toBeVisible();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  // Another way for this person
  await openWays(page, 'new.reader');
  await page.getByRole('radio', { name: 'Passcode by second e-mail' }).click();
  await page.getByLabel(/^Second address of/).fill('new.reader@postbox.example');
  await page.getByRole('button', { name: 'Keep the address' }).click();
  await expect(page.getByText(/The second address is the same as the first/)).toBeVisible();
  expect(complaints).toEqual([]);
});

test('a pasted list is split, duplicates are merged and what is no address is said', async ({ page, house }) => {
  await signIn(page, house);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page
    .getByRole('combobox', { name: 'To' })
    .fill(
      '"Aune, Dr" <records@harbourclinic.example>; office@saltmarsh.example, OFFICE@saltmarsh.example, not an address,',
    );
  await expect(page.getByRole('button', { name: /^Remove (Aune|Saltmarsh)/ })).toHaveCount(2);
  await expect(page.getByText(/“not an address”: An address needs an @/)).toBeVisible();
});

test('a file that is too large is refused by name; a script in a text or a file name stays words', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await write(page, 'pell', 'x');
  await page.getByRole('combobox', { name: 'To' }).fill('pell.anders@postbox.example,');
  await page.getByLabel('Subject').fill('<script>alert(1)</script>\r\nBcc: x@y.example');
  const enormous = join(mkdtempSync(join(tmpdir(), 'under-lock-')), 'enormous.bin');
  writeFileSync(enormous, Buffer.alloc(25_000_001));
  await addFiles(page, [enormous]);
  await expect(page.getByText(/enormous.bin does not fit: a message holds 25 MB/)).toBeVisible();
  await addFiles(page, [
    { name: '..\\..\\<img src=x onerror=alert(1)>.txt', mimeType: 'text/plain', buffer: Buffer.from('harmless') },
  ]);
  await expect(page.getByText('_img src=x onerror=alert(1)_.txt')).toBeVisible();
  await page.getByRole('button', { name: 'As they see it' }).click();
  await page.getByRole('dialog').getByRole('radio', { name: 'The message' }).click();
  await expect(
    page.getByRole('dialog').getByRole('heading', { name: /<script>alert\(1\)<\/script> ?Bcc/ }),
  ).toBeVisible();
  expect(complaints).toEqual([]);
});

test('one is written to unseen, many each alone: nobody finds the others in what they get', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await write(page, 'pell.anders@postbox.example,', 'Seen and unseen');
  await page.getByRole('button', { name: /^Cc, Bcc/ }).click();
  await page.getByRole('combobox', { name: 'Bcc' }).fill('office@saltmarsh.example,');
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'As they see it' }).click();
  await page.getByRole('dialog').getByRole('radio', { name: 'The message' }).click();
  await expect(page.getByRole('dialog').getByText(/^To: Pell Anders/)).toBeVisible();
  await expect(page.getByRole('dialog').getByRole('heading', { name: 'Seen and unseen' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Seen and unseen', level: 1 })).toBeVisible();
  await expect(page.getByText('Unseen by the others')).toHaveCount(1);
  await write(page, 'pell.anders@postbox.example, office@saltmarsh.example,', 'Each alone');
  await page.getByRole('button', { name: /^Cc, Bcc/ }).click();
  await page.getByRole('checkbox', { name: /^Each alone/ }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Each alone' })).toBeVisible();
  await expect(page.getByText('Unseen by the others')).toHaveCount(2);
  expect(complaints).toEqual([]);
});

test('one stop ends everything a sending does: the message and every copy; nothing has left, and the draft goes the next time', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  const mailbox = 'halted.reader@postbox.example';
  await write(page, `${mailbox},`, 'Stopped and sent');
  await addFiles(page, [
    { name: 'four.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(4_000_000, 7) },
  ]);
  await expect(page.getByText('4 MB of 25 MB')).toBeVisible();
  await choosePreset(page, /Everyday papers/);
  await chooseLock(page, 'Locked file');
  await page.getByRole('radio', { name: 'One we agreed' }).click();
  await page.getByRole('textbox', { name: /^The password agreed with/ }).fill('roll-of-the-northern-tide-9');
  await page.getByRole('button', { name: /^Use this password/ }).click();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  const [started, dispatched] = [new Set<string>(), [] as string[]];
  const parts = /\/api\/blobs\/([0-9a-f-]+)\/parts\/\d+$/;
  await page.route(parts, async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    started.add(parts.exec(route.request().url())![1]!);
    await new Promise((done) => setTimeout(done, 1500));
    return route.continue().catch(() => undefined);
  });
  page.on('request', (request) => {
    if (request.method() === 'POST' && /\/dispatch$/.test(request.url())) dispatched.push(request.url());
  });
  await page.getByRole('button', { name: 'Send under lock' }).click();
  // The second upload is the copy's.
  await expect.poll(() => started.size, { timeout: 60_000 }).toBeGreaterThan(1);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByText('Stopped. Nothing was sent; your draft is kept.')).toBeVisible();
  await page.waitForTimeout(2500);
  expect(dispatched).toEqual([]);
  expect(await mailCount(house, mailbox)).toBe(0);
  await page.unroute(parts);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Stopped and sent' })).toBeVisible({ timeout: 60_000 });
  await expect.poll(() => mailCount(house, mailbox), { timeout: 20_000 }).toBeGreaterThan(0);
});

test('a cut connection in the middle of sending keeps the draft; sending again goes on and sends once', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  const mailbox = 'pell.anders@postbox.example';
  const before = await mailCountAtRest(house, mailbox);
  await write(page, `${mailbox},`, 'Cut and sent');
  await addFiles(page, [
    { name: 'three.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(3_000_000, 7) },
  ]);
  await expect(page.getByText('3 MB of 25 MB')).toBeVisible();
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Remove three.bin' })).toBeVisible();
  const put: string[] = [];
  let cut = true;
  await page.context().route('**/api/blobs/*/parts/*', async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    const index = route.request().url().split('/').at(-1)!;
    if (cut && Number(index) >= 2) return route.abort('connectionreset');
    put.push(index);
    return route.continue();
  });
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/Not sent yet: your draft and what was uploaded are kept/)).toBeVisible({
    timeout: 30_000,
  });
  const arrived = [...put];
  expect(arrived.length).toBeGreaterThan(0);
  // The page is loaded anew in between: the attempt lies with the draft.
  await page.reload();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  cut = false;
  put.length = 0;
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Cut and sent' })).toBeVisible({ timeout: 30_000 });
  expect(put.filter((index) => arrived.includes(index))).toEqual([]);
  await latestLink(house, mailbox, before);
  await page.waitForTimeout(1500);
  expect(await mailCount(house, mailbox)).toBe(before + 1);
});

test('a full disk at the server is said, keeps the draft, and sending goes on once there is room', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  await write(page, 'pell.anders@postbox.example,', 'Sent when there was room');
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  const database = new pg.Client({ connectionString: house.databaseUrl });
  await database.connect();
  // What PostgreSQL answers when its disk is full (error code 53100).
  await database.query(
    `CREATE FUNCTION full_disk() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'could not extend file' USING ERRCODE = '53100'; END $$`,
  );
  await database.query(
    'CREATE TRIGGER full_disk BEFORE INSERT ON blob_parts FOR EACH ROW EXECUTE FUNCTION full_disk()',
  );
  try {
    await page.getByRole('button', { name: 'Send under lock' }).click();
    await expect(page.getByText(/The server has no room left.*Not sent yet/)).toBeVisible({ timeout: 30_000 });
  } finally {
    await database.query('DROP FUNCTION full_disk() CASCADE');
    await database.end();
  }
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Sent when there was room' })).toBeVisible({ timeout: 30_000 });
});

test('a server that dies is said; what was written is kept when it is back', async ({ page, house }) => {
  await signIn(page, house);
  await write(page, 'pell.anders@postbox.example,', 'Written before the storm');
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  await house.killServer();
  await page.getByLabel('Subject').fill('Written in the storm');
  await expect(page.getByText('Not kept yet; trying again')).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/can’t be reached/).first()).toBeVisible();
  await house.startServer();
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible({ timeout: 30_000 });
  await page.reload();
  await expect(page.getByLabel('Subject')).toHaveValue('Written in the storm');
});

test('a part of the page that can’t be fetched is said, and the page loaded again has it', async ({ page, house }) => {
  await signIn(page, house);
  await page.context().route('**/threads/keys-*', (route) => route.abort());
  await page.goto(`${house.origin}/keys`);
  const said = page.getByText(/A part of this page could not be fetched/);
  await expect(said).toBeVisible();
  await expectAccessible(page);
  await page.context().unroute('**/threads/keys-*');
  await page.getByRole('button', { name: 'Load again' }).click();
  await expect(page.getByRole('heading', { name: 'Keys', level: 1 })).toBeVisible();
  await expect(said).toBeHidden();
});

test('where the page moves under a finger, what was pressed is pressed, and nothing that lies there now', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  const get = page.getByRole('button', { name: 'Get a certificate' }).first();
  const begin = async (): Promise<{ x: number; y: number }> => {
    await page.getByRole('link', { name: 'Keys', exact: true }).click();
    await get.hover();
    const { x, y, width, height } = (await get.boundingBox())!;
    return { x: x + width / 2, y: y + height / 2 };
  };
  const moveAway = (): Promise<void> => get.evaluate((element) => void (element.style.marginTop = '400px'));
  const arrived = page.getByRole('heading', { name: /certificate/i, level: 1 });

  // Whoever takes the finger elsewhere has thought better of it.
  const { x, y } = await begin();
  await page.mouse.down();
  await moveAway();
  await page.mouse.move(x - 60, y + 60);
  await page.mouse.up();
  await expect(page).toHaveURL(/\/keys$/);
  await begin();
  await page.mouse.down();
  await moveAway();
  await page.mouse.up();
  await expect(arrived).toBeVisible();

  const finger = await page.context().newCDPSession(page);
  await finger.send('Emulation.setTouchEmulationEnabled', { enabled: true });
  const at = await begin();
  await finger.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
  await moveAway();
  await finger.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect(arrived).toBeVisible();
});

test('a second tab that changes the draft is said, and neither version is lost', async ({ page, context, house }) => {
  await signIn(page, house);
  await write(page, 'pell.anders@postbox.example,', 'First tab');
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByLabel('Subject')).toHaveValue('First tab');
  await second.getByLabel('Subject').fill('Second tab');
  await expect(second.getByText(/Draft kept, sealed/)).toBeVisible();
  await page.bringToFront();
  await page.getByRole('button', { name: 'Reference number' }).click();
  await page.getByLabel('Reference number').fill('R-1');
  await expect(page.getByText(/changed in another tab or on another device/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the other version' }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Second tab');
});

test('a refusing mail host and a returned notice are on the message’s page and on the desk', async ({
  page,
  house,
}) => {
  await signIn(page, house);
  await write(page, 'no-such-person@postbox.example,', 'To nobody');
  await givePhone(page, '07700 900262');
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByText(/Notice refused .*no such mailbox/)).toBeVisible();
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await expect(page.getByText('To nobody, no-such-person@postbox.example')).toBeVisible();
  await expect(
    page.getByRole('link', { name: 'Notice came back: To nobody, no-such-person@postbox.example' }),
  ).toBeVisible();
});

test('what exactly left the house can be looked at, and matches what was recorded', async ({
  page,
  house,
  complaints,
}) => {
  await signIn(page, house);
  await sendTo(page, house, 'pell.anders@postbox.example', 'Looked at afterwards');
  await expect(page.getByText(/^Told/)).toBeVisible();
  await page.getByRole('link', { name: /What left the house/ }).click();
  await expect(page.getByText('● Exactly this left')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Looked at afterwards' })).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test.describe('the reading room’s dead ends', () => {
  test.use({ viewport: phone });

  test('an incomplete link, an unknown one, somebody else’s notice, no connection', async ({
    page,
    browser,
    house,
  }) => {
    const office = await browser.newPage({ viewport: desktop });
    await signIn(office, house);
    const link = await sendTo(office, house, 'pell.anders@postbox.example', 'Dead ends');
    await page.goto(link.slice(0, -5));
    await expect(page.getByRole('heading', { name: /This link leads nowhere/ })).toBeVisible();
    await expectAccessible(page);
    await page.goto('about:blank');
    await page.goto(link.replace(/room\/\w/, (start) => start.slice(0, -1) + (start.endsWith('0') ? '1' : '0')));
    await expect(page.getByRole('heading', { name: /This link leads nowhere/ })).toBeVisible();
    await page.goto('about:blank');
    await page.goto(link);
    await expect(page.getByRole('button', { name: 'Send me the passcode' })).toBeVisible();
    await page.context().setOffline(true);
    await page.getByRole('button', { name: 'Send me the passcode' }).click();
    await expect(page.getByRole('heading', { name: /No connection/ })).toBeVisible();
    await page.context().setOffline(false);
    await page.getByRole('button', { name: 'Try again' }).click();
    await page.getByRole('button', { name: 'That phone or address is not mine' }).click();
    await expect(page.getByRole('heading', { name: /This is not for you/ })).toBeVisible();
    // Whose room it is still stands above.
    await expect(page.getByText('Larkmoor Ferries · reading room')).toBeVisible();
    await expectAccessible(page);
    await expect(office.getByText(/said it is not for them/)).toBeVisible();
    await office.close();
  });

  test('a silent phone is said; five wrong passcodes stop everything for a while; access given again opens', async ({
    page,
    browser,
    house,
  }) => {
    const office = await browser.newPage({ viewport: desktop });
    await signIn(office, house);
    const link = await sendTo(office, house, 'office@saltmarsh.example', 'Guessed at');
    await page.goto(link);
    await house.behave({ phone: 'down' });
    await page.getByRole('button', { name: 'Send me the passcode' }).click();
    await expect(page.getByText(/could not be sent just now/)).toBeVisible();
    await house.behave({});
    await page.getByRole('button', { name: 'Send me the passcode' }).click();
    await expect(page.getByText(/You can ask for another one in \d+ seconds/)).toBeVisible();
    const right = /\d{6}/.exec(await latestText(house, '+447700900262'))![0];
    const wrong = right === '000000' ? '000001' : '000000';
    for (let tries = 4; tries > 0; tries--) {
      await page.getByLabel('Passcode', { exact: true }).fill(wrong);
      await page.getByRole('button', { name: 'Open the message' }).click();
      await expect(page.getByText(new RegExp(`${tries} (try|tries) left`))).toBeVisible();
    }
    await page.getByLabel('Passcode', { exact: true }).fill(wrong);
    await page.getByRole('button', { name: 'Open the message' }).click();
    await expect(page.getByRole('heading', { name: /Too many wrong passcodes/ })).toBeVisible();
    await expectAccessible(page);

    await expect(office.getByRole('main').getByText('■ Passcode stopped')).toBeVisible();
    const before = await mailCountAtRest(house, 'office@saltmarsh.example');
    await office.getByRole('button', { name: 'Withdraw', exact: true }).click();
    await office.getByRole('dialog').getByRole('button', { name: 'Withdraw' }).click();
    await office.getByRole('button', { name: /Give access again/ }).click();
    await office.getByRole('dialog').getByRole('button', { name: 'Give access' }).click();
    await expect(office.getByText(/has access again/)).toBeVisible();
    const again = await latestLink(house, 'office@saltmarsh.example', before);
    await page.goto('about:blank');
    await page.goto(again);
    await page.getByRole('button', { name: 'Send me the passcode' }).click();
    await page.getByLabel('Passcode', { exact: true }).waitFor();
    await page.getByLabel('Passcode', { exact: true }).fill(/\d{6}/.exec(await latestText(house, '+447700900262'))![0]);
    await page.getByRole('button', { name: 'Open the message' }).click();
    await expect(page.getByRole('heading', { name: 'Guessed at' })).toBeVisible();
    await office.close();
  });
});

test('a vault from an earlier time is not used until its owner says so', async ({ page, house, complaints }) => {
  const database = new pg.Client({ connectionString: house.databaseUrl });
  await database.connect();
  const vault = async <Row extends pg.QueryResultRow>(sql: string, values: unknown[] = []): Promise<Row[]> =>
    (await database.query<Row>(sql, values)).rows;
  await signIn(page, house, 1);
  const people = page.getByRole('link', { name: 'People', exact: true });
  const add = async (name: string, address: string): Promise<void> => {
    await people.click();
    await page.getByRole('button', { name: 'Add a person' }).click();
    await page.getByLabel('Name', { exact: true }).fill(name);
    await page.getByLabel('Address', { exact: true }).fill(address);
    await page.getByRole('button', { name: /^Keep/ }).click();
    await people.click();
    await expect(page.getByText(name).first()).toBeVisible();
  };
  await add('Ines Falk', 'ines.falk@postbox.example');
  const [before] = await vault<{ account_id: string; revision: number }>(
    `SELECT m.account_id, m.revision FROM vault_manifests m JOIN accounts a ON a.id = m.account_id WHERE m.kind = 'person' AND a.address = $1`,
    [house.signIns[1]!.address],
  );
  await add('Joris Wend', 'joris.wend@postbox.example');
  await vault(`UPDATE vault_manifests SET revision = $2 WHERE account_id = $1 AND kind = 'person' AND whole <= $2`, [
    before!.account_id,
    before!.revision,
  ]);
  await vault(`DELETE FROM vault_manifest_steps WHERE account_id = $1 AND kind = 'person' AND revision > $2`, [
    before!.account_id,
    before!.revision,
  ]);
  await page.reload();
  await expect(
    page.getByText('The server gave out an older state of your vault, so nothing of it is used.').first(),
  ).toBeVisible();
  await expect(page.getByText('Ines Falk')).toHaveCount(0);
  await page.getByRole('button', { name: 'What can I do?' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Go on with what is there' }).click();
  await expect(page.getByText('Ines Falk').first()).toBeVisible();
  await expect(page.getByText('The server gave out an older state')).toHaveCount(0);
  await page.reload();
  await expect(page.getByText('Joris Wend').first()).toBeVisible();
  await database.end();
  expect(complaints).toEqual([]);
});
