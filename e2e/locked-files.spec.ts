/**
 * Locked files from a fresh start: password made in the plan, file opened by other programs, page opened from a disk
 * without a network, files that come in, the password book.
 */
import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { type Page } from '@playwright/test';
import { buildMessage } from '../core/src/message/build';
import {
  addFiles,
  chooseFiles,
  desktop,
  expect,
  expectAccessible,
  latestMail,
  latestText,
  leaveOpen,
  phone,
  signIn,
  test,
} from './house';
import { deliver, openDesk } from './letters';
import { chooseLock, choosePreset, closePlan, openWays } from './writing';
import { databaseDump } from './readers';
import { openMeans } from './people';

const TOBIAS = 'tobias.quill@larkmoor.example';
const desk = openDesk();
const paper = {
  name: 'Muster Größe.txt',
  mimeType: 'text/plain',
  buffer: Buffer.from('Pell Anders, fit for duty\n'.repeat(40)),
};

async function write(page: Page, to: string, subject: string, text: string): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(`${to},`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText(text);
  await addFiles(page, [paper]);
}

const unpacked = (archive: Uint8Array, password: string, folder: string): Record<string, string> => {
  const place = join(desk.folder, folder);
  mkdirSync(place, { recursive: true });
  writeFileSync(join(desk.folder, `${folder}.zip`), archive);
  execFileSync('7zz', ['x', '-y', `-p${password}`, `-o${place}`, join(desk.folder, `${folder}.zip`)], {
    env: { ...process.env, LC_ALL: 'C.UTF-8' },
    stdio: 'pipe',
  });
  return Object.fromEntries(
    readdirSync(place).map((name) => [name.normalize('NFC'), readFileSync(join(place, name), 'utf8')]),
  );
};

test('a password is made, stopped where it stands in the mail, read out; another program opens the file', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await write(page, 'harbour.master@skerryport.example', 'Muster roll for Thursday', 'Here is the roll.');
  await choosePreset(page, /Everyday papers/);
  await chooseLock(page, 'Locked file');
  await expect(page.getByText('■ Password for the locked file missing')).toBeVisible();
  await page.getByRole('radio', { name: 'One we agreed' }).click();
  const typed = page.getByRole('textbox', { name: /^The password agreed with/ });
  await typed.fill('Sommer2026');
  await expect(page.getByText('▲ Too easy: guessed at once')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Use this password/ })).toBeDisabled();
  await typed.fill('roll-of-the-northern-tide-9');
  await expect(page.getByText(/^● Hard/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Use this password/ }).click();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  // It slips into the text: the plan stops it.
  await closePlan(page);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText(' The password is Roll of the northern tide 9.');
  await expect(page.getByText(/the password stands in the text/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send under lock' })).toBeDisabled();
  for (let letters = 0; letters < ' The password is Roll of the northern tide 9.'.length; letters++)
    await page.keyboard.press('Backspace');
  await openWays(page);
  await page.getByRole('button', { name: /^Read it out/ }).click();
  await expect(page.getByRole('list', { name: /to read out/ })).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Muster roll for Thursday' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Copy delivered').first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: /^Show the password/ }).click();
  await expect(page.getByText('roll-of-the-northern-tide-9', { exact: true })).toBeVisible();
  await expectAccessible(page);
  const mail = await latestMail(house, 'harbour.master@skerryport.example', /confidential message/);
  expect(mail.text).toContain('It opens with the password that you and Maren Oduya have agreed');
  expect(mail.text).not.toContain('Here is the roll');
  const files = unpacked(mail.files[0]!.bytes, 'roll-of-the-northern-tide-9', 'roll');
  expect(Object.keys(files).sort()).toEqual(['Message.html', 'Muster Größe.txt']);
  expect(files['Muster Größe.txt']).toBe(paper.buffer.toString());
  expect(files['Message.html']).toContain('Here is the roll.');
  // The server has had the mail and the vault: in no spelling has it the password.
  const dump = databaseDump(house);
  const secret = Buffer.from('roll-of-the-northern-tide-9');
  const inBase64 = [0, 1, 2].map((shift) =>
    Buffer.concat([Buffer.alloc(shift), secret])
      .toString('base64')
      .slice(shift === 0 ? 0 : 4, -4),
  );
  for (const spelled of [
    secret.toString(),
    secret.toString('hex'),
    ...inBase64,
    Buffer.from(secret.toString(), 'utf16le').toString('hex'),
    'northern-tide',
  ])
    expect(dump.includes(spelled)).toBe(false);
  // The recipient's address is there, so that the search would have found it.
  expect(dump).toContain('harbour.master@skerryport.example');
  expect(complaints).toEqual([]);
});

test('a self-opening page opens from a disk without a network, refuses a wrong password, and loads nothing', async ({
  house,
  page,
  complaints,
  browser,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await page.getByRole('link', { name: 'People', exact: true }).click();
  await page.getByRole('button', { name: 'Add a person' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Sunniva Dale');
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill('sunniva.dale@postbox.example');
  await page.getByRole('textbox', { name: 'Phone for passcodes' }).fill('+447700900466');
  await page.getByLabel('Language of notices').selectOption('Portuguese');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sunniva Dale', level: 1 })).toBeVisible();
  await openMeans(page, 'Locked file');
  await page.getByRole('button', { name: 'Change how they get locked files' }).click();
  await page.getByRole('radio', { name: /^Self-opening page/ }).click();
  await expect(page.getByText(/^Self-opening page; text and files/)).toBeVisible();
  await expectAccessible(page);
  await write(page, 'sunniva.dale@postbox.example', 'Papers for Sunniva', 'Come on Thursday.');
  await choosePreset(page, /Everyday papers/);
  await chooseLock(page, 'Locked file');
  await page.getByRole('radio', { name: 'By text message' }).click();
  await page.getByRole('button', { name: /^Use this password/ }).click();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Papers for Sunniva' })).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: /^Show the password/ }).click();
  const password = await page
    .getByText(/^[a-z]+(?:-[a-z-]+){4}$/)
    .first()
    .innerText();
  await page.getByRole('button', { name: /^Send it as a text message/ }).click();
  await expect(page.getByText('They have the password.')).toBeVisible();
  expect(await latestText(house, '+447700900466')).toBe(
    `Palavra-passe do ficheiro fechado de Maren Oduya, Larkmoor Ferries: ${password}`,
  );
  const mail = await latestMail(house, 'sunniva.dale@postbox.example', /confidencial/);
  expect(mail.text).toContain('A palavra-passe chega ao seu telefone por mensagem de texto');
  const file = join(desk.folder, 'papers.html');
  writeFileSync(file, mail.files[0]!.bytes);
  const readable = Buffer.from(mail.files[0]!.bytes).toString('latin1');
  for (const text of ['Come on Thursday', 'Papers for Sunniva', 'fit for duty', 'Maren'])
    expect(readable).not.toContain(text);

  const alone = await browser.newContext({ offline: true, acceptDownloads: true });
  const opened = await alone.newPage();
  const asked: string[] = [];
  const errors: string[] = [];
  opened.on('request', (request) => asked.push(request.url()));
  opened.on('console', (line) => line.type() === 'error' && errors.push(line.text()));
  await opened.goto(pathToFileURL(file).href);
  await expect(opened.getByRole('heading', { name: 'Um ficheiro fechado' })).toBeVisible();
  await opened.getByLabel('Palavra-passe', { exact: true }).fill('another-password');
  await opened.getByRole('button', { name: 'Abrir' }).click();
  await expect(opened.getByText(/Esta palavra-passe não o abre/)).toBeVisible({ timeout: 30_000 });
  await expectAccessible(opened);
  await opened.getByLabel('Palavra-passe', { exact: true }).fill(password);
  await opened.getByRole('button', { name: 'Abrir' }).click();
  await expect(opened.getByRole('heading', { name: 'Papers for Sunniva' })).toBeVisible({ timeout: 30_000 });
  await expect(opened.getByText('Come on Thursday.')).toBeVisible();
  await expect(opened.getByText('Pell Anders, fit for duty').first()).toBeVisible();
  await expectAccessible(opened);
  const download = opened.waitForEvent('download');
  await opened.getByRole('button', { name: `Guardar ${paper.name}` }).click();
  const path = join(desk.folder, 'saved.txt');
  await (await download).saveAs(path);
  expect(readFileSync(path, 'utf8')).toBe(paper.buffer.toString());
  expect(asked.filter((url) => !url.startsWith('file:') && !url.startsWith('blob:'))).toEqual([]);
  expect(errors).toEqual([]);
  await alone.close();
  expect(complaints).toEqual([]);
});

test('a locked file that comes in is asked for once, remembered, and opened at once from then on; the book shows and keeps it', async ({
  house,
  page,
  complaints,
}) => {
  const from = 'yard.office@saltmarsh.example';
  const letter = async (subject: string, name: string): Promise<void> => {
    writeFileSync(join(desk.folder, 'bid.txt'), `The bid of ${subject}`);
    const archive = join(desk.folder, name);
    execFileSync('7zz', ['a', '-tzip', '-mem=AES256', '-pkeel-7', archive, join(desk.folder, 'bid.txt')], {
      stdio: 'pipe',
    });
    await deliver(
      house,
      buildMessage({
        messageId: `${name}@saltmarsh.example`,
        from: { name: 'Yard Office', address: from },
        to: [{ name: '', address: TOBIAS }],
        cc: [],
        subject,
        date: new Date(),
        reference: '',
        text: 'See the file.',
        html: '',
        files: [{ name, type: 'application/zip', bytes: new Uint8Array(readFileSync(archive)) }],
      }),
      from,
      TOBIAS,
    );
  };
  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  await letter('First bid', 'bid-1.zip');
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  await page.getByRole('link', { name: /First bid/ }).click();
  await page.getByRole('textbox', { name: 'Password of bid-1.zip' }).fill('keel-8');
  await page.getByRole('button', { name: /^Open it/ }).click();
  await expect(page.getByText('■ This password does not open it.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('textbox', { name: 'Password of bid-1.zip' }).fill('keel-7');
  await page.getByRole('button', { name: /^Open it/ }).click();
  await expect(page.getByText(/^bid\.txt · /)).toBeVisible();
  await expect(page.getByText(/^First opened here/)).toBeVisible();
  await page.getByRole('button', { name: 'Look at bid.txt' }).click();
  await expect(page.getByText('The bid of First bid')).toBeVisible();
  await letter('Second bid', 'bid-2.zip');
  await page.getByRole('link', { name: 'Received', exact: false }).first().click();
  await page.getByRole('link', { name: /Second bid/ }).click();
  await expect(
    page.getByText(/^● ?Opened with a password from your book|Opened with a password from your book/),
  ).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);

  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  // What stands above it is there: it moves no more.
  await expect(page.getByRole('main').getByRole('status')).toHaveCount(0);
  await page.getByRole('link', { name: 'Password book' }).click();
  await page
    .getByRole('link', { name: /what they send/i })
    .first()
    .click();
  await page.getByRole('button', { name: /^Show the password for what comes from/ }).click();
  await expect(page.getByText('keel-7', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: /^Another password in the place of/ }).click();
  await page.getByRole('textbox', { name: /^Password for what/ }).fill('rudder-9');
  await page.getByRole('button', { name: /^Keep it/ }).click();
  await expect(page.getByText(/^keel-7 {2}until/)).toBeVisible();
  await expectAccessible(page);

  // Out as a locked file, in again with a line that differs.
  await page.getByRole('link', { name: '‹ Password book' }).click();
  await page.getByRole('button', { name: 'Save it locked' }).click();
  await page.getByRole('textbox', { name: 'New password' }).fill('gulls over the weir at noon');
  await page.getByRole('textbox', { name: 'The same once more' }).fill('gulls over the weir at noon');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the file' }).click();
  const path = join(desk.folder, 'password-book.zip');
  await (await download).saveAs(path);
  expect(unpacked(readFileSync(path), 'gulls over the weir at noon', 'book')['password-book.csv']).toContain(
    '"yard.office@saltmarsh.example","they send","rudder-9"',
  );
  const bring = (file: string): Promise<void> => chooseFiles(page, 'Bring one in', file);
  await bring(path);
  await page.getByRole('textbox', { name: 'Password of the file' }).fill('gulls over the weir at noon');
  await page.getByRole('button', { name: 'Open the file' }).click();
  await expect(page.getByText('0 new, 0 different from yours, 1 the same')).toBeVisible();
  const table = join(desk.folder, 'table.csv');
  writeFileSync(
    table,
    'address,direction,password\r\nyard.office@saltmarsh.example,they send,anchor-3\r\nnew@saltmarsh.example,we send,bollard-over-the-quay\r\nnobody,we send,x\r\n',
  );
  await bring(table);
  await expect(page.getByText('1 new, 1 different from yours, 0 the same')).toBeVisible();
  await expect(page.getByText(/Line 4 is left out: no mail address/)).toBeVisible();
  await page.getByRole('radio', { name: /^Take those of the file/ }).click();
  await page.getByRole('button', { name: 'Take them' }).click();
  await expect(page.getByText(/^Taken: 2 passwords/)).toBeVisible({ timeout: 30_000 });
  const expectInBook = async (password: string): Promise<void> => {
    await page
      .getByRole('link', { name: /what they send/i })
      .first()
      .click();
    await page.getByRole('button', { name: /^Show the password for what comes from/ }).click();
    await expect(page.getByText(password, { exact: true })).toBeVisible();
    await page.getByRole('link', { name: '‹ Password book' }).click();
  };
  await expectInBook('anchor-3');
  // Two that differ, decided one by one.
  writeFileSync(
    table,
    'address,direction,password\r\nyard.office@saltmarsh.example,they send,anchor-4\r\nnew@saltmarsh.example,we send,bollard-under-the-quay\r\n',
  );
  await bring(table);
  await page.getByRole('radio', { name: 'Decide one by one' }).click();
  await expect(page.getByRole('button', { name: 'Take them' })).toBeDisabled();
  await page.getByRole('checkbox', { name: /^Take the file’s for new@saltmarsh/ }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take them' }).click();
  await expect(page.getByText(/^Taken: 1 password/)).toBeVisible({ timeout: 30_000 });
  await expectInBook('anchor-3');
  expect(complaints).toEqual([]);
});

test('the office words the note, allows what a partner needs, and makes an exception for their gateway; the next file goes out so', async ({
  house,
  page,
  complaints,
  browser,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: 'Locked files', exact: true }).click();
  await page.getByRole('button', { name: 'Add an exception' }).click();
  await expect(page.getByText(/An exception is for nobody yet/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Address or domain 1' }).fill('gateway.example');
  await page.getByRole('textbox', { name: 'Another ending, for gateway.example' }).fill('exe');
  await expect(page.getByText(/none that a computer would run/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Another ending, for gateway.example' }).fill('zi_');
  await page.getByRole('textbox', { name: 'Largest size in MB, for gateway.example' }).fill('0.5');
  await page.getByRole('button', { name: 'Word it yourself: the note in English' }).click();
  const note = page.getByRole('textbox', { name: 'The note in English' });
  await note.fill('From {sender}: {file}. {open}');
  await expect(page.getByText(/\{password\} is missing: how its password comes/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep the rules' })).toBeDisabled();
  const types = page.getByRole('textbox', { name: 'File types packed without compression' });
  await types.fill('.DAT d/t');
  await expect(page.getByText(/“d\/t” can’t be the ending of a file’s name/)).toBeVisible();
  await types.fill('dat, bin');
  await note.fill('From {sender}: {file}. {password}\n\n{open}\n\nQuestions? Ring Ines Varga at the harbour office.');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the rules' }).click();
  await expect(page.getByText(/^● ?Kept\.|Kept\. Every locked file/)).toBeVisible();

  const other = await (await browser.newContext({ viewport: desktop })).newPage();
  await signIn(other, house, 0);
  await write(other, 'bids@gateway.example', 'Bid for the slipway', 'Our bid.');
  await choosePreset(other, /Everyday papers/);
  await chooseLock(other, 'Locked file');
  await other.getByRole('button', { name: /^Use this password/ }).click();
  await addFiles(other, [
    { name: 'plans.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(600_000, 7) },
  ]);
  await expect(other.getByText('■ Their mail gateway takes files of 500 kB at most')).toBeVisible();
  await other.getByRole('button', { name: /^Remove plans\.bin/ }).click();
  await other.getByRole('button', { name: 'Send under lock' }).click();
  await expect(other.getByRole('heading', { name: 'Bid for the slipway' })).toBeVisible({ timeout: 60_000 });
  const mail = await latestMail(house, 'bids@gateway.example', /confidential message/);
  expect(mail.text).toContain('Ring Ines Varga at the harbour office');
  expect(mail.text).toContain('change the ending to “.zip”');
  expect(mail.files[0]!.name).toMatch(/\.zi_$/);

  // The firm's own page says it and changes it.
  await page.goto(`${house.origin}/people/firm/gateway.example`);
  await expect(
    page.getByText('gateway.example: files of 500 kB at most, locked files ending in .zi_.', { exact: true }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Change for everybody there' }).click();
  const size = page.getByRole('textbox', { name: 'Largest size in MB, for gateway.example' });
  await size.fill('0.05');
  await expect(page.getByText('A number from 0.1 to 1000.')).toBeVisible();
  await size.fill('0.2');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep for the whole office' }).click();
  await expect(page.getByText(/^gateway\.example: files of 200 kB at most/)).toBeVisible();
  await write(other, 'bids@gateway.example', 'More plans', 'And these.');
  await choosePreset(other, /Everyday papers/);
  await addFiles(other, [{ name: 'more.bin', mimeType: 'application/octet-stream', buffer: Buffer.alloc(300_000, 7) }]);
  await chooseLock(other, 'Reading room');
  await expect(
    other.getByText('Their mail gateway takes files of 200 kB at most: nothing larger goes along with a mail to them.'),
  ).toBeVisible();
  await expectAccessible(other);
  await page.getByRole('button', { name: 'Change for everybody there' }).click();
  await page.getByRole('button', { name: 'As to everybody' }).click();
  await expect(page.getByText(/^As to everybody: the office’s own limits/)).toBeVisible();
  await expect(other.getByText(/^Their mail gateway takes/)).toHaveCount(0);
  await other.context().close();
  expect(complaints).toEqual([]);
});

test('what is no secret goes only packed where that is asked for, and is called so everywhere', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await write(page, 'press@northquay.example', 'Winter timetable', 'The boats from December on.');
  await leaveOpen(page);
  await chooseLock(page, 'Packed files');
  await expect(page.getByText('only packed, not locked')).toBeVisible();
  await expect(page.getByText('▲ Not protected: anybody on its way can read the files.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send packed' }).click();
  await expect(page.getByRole('heading', { name: 'Winter timetable' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('heading', { name: 'Sent packed, open' })).toBeVisible();
  await expect(page.getByText(/Your reason: “It hangs on the pier”/)).toBeVisible();
  await expect(page.getByText('Copy delivered').first()).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Locked|password/i)).toHaveCount(0);
  const mail = await latestMail(house, 'press@northquay.example', /Winter timetable/);
  expect(mail.text).toContain('The boats from December on.');
  const place = join(desk.folder, 'packed.zip');
  writeFileSync(place, mail.files[0]!.bytes);
  // Another program lists and unpacks it without a password.
  expect(
    execFileSync('bsdtar', ['-tf', place], { env: { ...process.env, LC_ALL: 'C.UTF-8' }, encoding: 'utf8' }),
  ).toContain('Muster Größe.txt');
  expect(
    execFileSync('bsdtar', ['-xOf', place, 'Muster Größe.txt'], {
      env: { ...process.env, LC_ALL: 'C.UTF-8' },
      encoding: 'utf8',
    }),
  ).toBe(paper.buffer.toString());
  expect(complaints).toEqual([]);
});
