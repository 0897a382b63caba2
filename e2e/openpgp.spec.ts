/**
 * OpenPGP from a fresh start: own keys, other people's, three locks in one send, keys that come in answer, mail that
 * comes in, and what people try with it.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { deflateRawSync } from 'node:zlib';
import { type Page } from '@playwright/test';
import { armoured } from '../core/src/openpgp/armour';
import { wkdHash } from '../core/src/openpgp/discovery';
import { factsOf, type OpenPgpKey, readSecretKey } from '../core/src/openpgp/key';
import { type PrivateKey } from '../core/src/openpgp/library';
import { makeOpenPgpKey } from '../core/src/openpgp/make-key';
import { sealMessage, signApart } from '../core/src/openpgp/message';
import { openPgpKeysIn } from '../core/src/openpgp/in-file';
import { chooseFiles, desktop, expect, expectAccessible, type House, phone, signIn, test } from './house';
import { openDesk } from './letters';
import { askedElsewhere, expectShownForWhatItIs, type Tried } from './tried';
import { choosePreset, openWays } from './writing';
import { addPerson, openMeans, openPerson } from './people';

test.use({ houseFor: 'openpgp' });

const TOBIAS = 'tobias.quill@larkmoor.example';
const NILS = 'underwriting@northquay.example';
const desk = openDesk();

async function makeKey(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Make an OpenPGP key' }).click();
  await page.getByRole('button', { name: 'Make the key' }).click();
  await expect(page.getByRole('heading', { name: /^OpenPGP key of/, level: 1 })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 30_000 });
}

async function takeKey(page: Page): Promise<void> {
  await openMeans(page, 'OpenPGP key');
  await page.getByRole('button', { name: 'Look the key up' }).click();
  await page.getByRole('button', { name: /^Take it: OpenPGP key of/ }).click();
  await expect(page.getByText(/^Taken from/)).toBeVisible();
}

/** A file that the page gives to save. */
async function saved(page: Page, act: () => Promise<void>, name: string): Promise<string> {
  const download = page.waitForEvent('download');
  await act();
  const path = join(desk.folder, name);
  await (await download).saveAs(path);
  return path;
}

const outside = async (house: House, path: string): Promise<void> =>
  void (await fetch(`${house.outside}${path}`, { method: 'POST' }));

test('a key is made, backed up with proof and published; one message goes by three locks; the encrypted answer opens', async ({
  house,
  page,
  complaints,
}) => {
  test.setTimeout(300_000);
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await makeKey(page);
  await expectAccessible(page);
  await expect(page.getByText(/● published/)).toBeVisible();

  // Backed up, with a wrong password on the way
  await page.getByRole('button', { name: 'Back it up' }).click();
  await page.getByRole('textbox', { name: 'New password' }).fill('gulls over the weir at noon');
  await page.getByRole('textbox', { name: 'The same once more' }).fill('gulls over the weir at noon');
  const backup = await saved(page, () => page.getByRole('button', { name: 'Save the file' }).click(), 'backup.asc');
  expect(readFileSync(backup, 'latin1')).toContain('BEGIN PGP PRIVATE KEY BLOCK');
  await page.getByRole('textbox', { name: 'Password of the file' }).fill('gulls under the weir');
  await chooseFiles(page, 'Choose the file and prove it', backup);
  await expect(page.getByText(/That password does not open the file/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole('textbox', { name: 'Password of the file' }).fill('gulls over the weir at noon');
  await chooseFiles(page, 'Choose the file and prove it', backup);
  await expect(page.getByText(/● backed up, proved/)).toBeVisible({ timeout: 30_000 });

  // Anybody finds it by the address
  const [key] = await openPgpKeysIn(
    new Uint8Array(
      await (
        await fetch(
          `${house.origin}/.well-known/openpgpkey/larkmoor.example/hu/${wkdHash('maren.oduya')}?l=maren.oduya`,
        )
      ).arrayBuffer(),
    ),
  );
  expect(key!.users).toMatchObject([{ name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' }]);

  // Somebody's key, found at their own domain and vouched for
  await addPerson(page, { name: 'Nils Rook', address: NILS });
  await takeKey(page);
  await expect(page.getByText('Northquay Insurance vouches for it.')).toBeVisible();
  await page.getByRole('button', { name: /^Fingerprint and details/ }).click();
  await page.getByRole('button', { name: /^As words/ }).click();
  await page.getByRole('button', { name: /^As a picture/ }).click();
  await expect(page.getByRole('img', { name: 'Fingerprint of Nils Rook as a QR picture' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Compare it/ }).click();
  await page.getByRole('button', { name: 'We compared it: it is the same' }).click();
  await expect(page.getByText(/● compared by Maren Oduya/)).toBeVisible();

  // A certificate person, and one with nothing
  await openPerson(page, /^Dr Aune, Harbour Clinic/);
  await openMeans(page, 'Certificate');
  // Whoever signed in before may have it already.
  const taken = page.getByText(/^Taken from the directory/);
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  const offered = page.getByRole('button', { name: /^Take it: certificate/ });
  await expect(taken.or(offered).first()).toBeVisible({ timeout: 30_000 });
  if (await offered.isVisible()) await offered.click();
  await expect(taken).toBeVisible();

  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page
    .getByRole('combobox', { name: 'To' })
    .fill(`records@harbourclinic.example, ${NILS}, pell.anders@postbox.example,`);
  await page.getByLabel('Subject').fill('Accident report MV Teal');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('The report as agreed.');
  await choosePreset(page, /Everyday papers/);
  const lines = page.getByRole('list', { name: 'Recipients' });
  await expect(lines.getByRole('button', { name: /^Nils Rook: OpenPGP key · stays with them/ })).toBeVisible({
    timeout: 30_000,
  });
  await expect(lines.getByRole('button', { name: /: certificate · stays with them/ })).toBeVisible();
  await expect(lines.getByRole('button', { name: /^Pell Anders: reading room · / })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toHaveCount(2, { timeout: 60_000 });
  await expect(page.getByText(`OpenPGP key, to ${NILS}`)).toBeVisible();
  await expect(page.getByText('Certificate, to records@harbourclinic.example')).toBeVisible();
  await expectAccessible(page);

  // Outside: their program opens it, and answers encrypted
  await page.goto(`${house.origin}/outside/mailbox/${NILS}`);
  await page.getByRole('link', { name: /A confidential message from Larkmoor Ferries/ }).click();
  await expect(
    page.getByText('Their mail program opened it with their OpenPGP key. Signed by Maren Oduya.'),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Accident report MV Teal' })).toBeVisible();
  await page.getByRole('button', { name: 'Answer from here' }).click();
  await page.getByRole('textbox', { name: 'Text' }).fill('All in order here.');
  await page.getByRole('radio', { name: 'Signed and encrypted' }).click();
  await page.getByRole('button', { name: 'Send it' }).click();
  await expect(page.getByText('Sent to maren.oduya@larkmoor.example.')).toBeVisible();
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^Encrypted mail, from Nils Rook/ }).click();
  await expect(
    page.getByText(
      /Signed by Nils Rook, for underwriting@northquay.example, and unchanged since. Northquay Insurance vouches for the key/,
    ),
  ).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('All in order here.')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'The conversation' })).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('a notice answered with a key: it is told on the desk, shown for checking, kept, and is their lock from then on', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await addPerson(page, { name: 'Lene Hjort', address: LENE, phone: '+447700900456' });
  await openMeans(page, 'OpenPGP key');
  await page.getByRole('button', { name: 'Look the key up' }).click();
  await expect(page.getByText(/No key for lene.hjort@pilots.example is published/)).toBeVisible();
  await write(page, LENE, 'Pilot rota');
  const line = page.getByRole('list', { name: 'Recipients' });
  await expect(line.getByRole('button', { name: /^Lene Hjort: reading room · / })).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('heading', { name: 'Pilot rota' })).toBeVisible({ timeout: 30_000 });

  await answerFrom(page, house, LENE, /message for you|Maren Oduya/, async () =>
    page.getByRole('checkbox', { name: 'With their OpenPGP key as a file' }).click(),
  );
  await page.goto(`${house.origin}/desk`);
  await expect(page.getByText('Lene Hjort has answered, and a key or a certificate came along')).toBeVisible();
  await page.getByRole('button', { name: 'Look at the answer of Lene Hjort' }).click();
  await expect(page.getByRole('heading', { name: 'OpenPGP keys that came with it' })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Came with it as a file.')).toBeVisible();
  await expect(
    page.getByRole('button', { name: 'Where it came from: pilots.example says that it sent this.' }),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'The conversation' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: `Keep the key, for ${LENE}` }).click();
  await expect(page.getByText('● the key you have for them')).toBeVisible();
  await write(page, LENE, 'Pilot rota, corrected');
  await expect(line.getByRole('button', { name: /^Lene Hjort: OpenPGP key · / })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Nobody has compared their key with them/)).toBeVisible();
  expect(complaints).toEqual([]);
});

test('somebody is asked with an OpenPGP key for a signature; their answer brings the newest kind of key, and the waiting draft goes under it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  await makeKey(page);
  await write(page, CUSTOMS, 'Customs papers');
  await expect(page.getByText(/Draft kept, sealed/)).toBeVisible();
  await openWays(page);
  await page.getByRole('button', { name: /^Ask for a signed message/ }).click();
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText(/Asked for a signed message on/)).toBeVisible({ timeout: 30_000 });
  await answerFrom(page, house, CUSTOMS, /Tobias Quill asks you for a signed message/, async () => {
    await expect(page.getByText('Not encrypted. Signed by Tobias Quill.')).toBeVisible();
    await page.getByRole('radio', { name: 'Signed', exact: true }).click();
  });
  await page.goto(`${house.origin}/desk`);
  await page.getByRole('button', { name: /^Look at the answer of Skerry Freight/ }).click();
  await expect(page.getByText(/You asked Skerry Freight, customs desk for a signed message/)).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByText(/Anybody can make such a key: until you have compared it/)).toBeVisible();
  await expect(page.getByText('Told in the head of the mail (Autocrypt).')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: `Keep the key, for ${CUSTOMS}` }).click();
  await page.getByRole('button', { name: 'Go on with the draft Customs papers' }).click();
  await expect(page.getByText('● Everything is settled')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toBeVisible({ timeout: 60_000 });
  await page.goto(`${house.origin}/outside/mailbox/${CUSTOMS}`);
  await page.getByRole('link', { name: /A confidential message from Larkmoor Ferries/ }).click();
  await expect(page.getByText(/^Their mail program opened it with their OpenPGP key/)).toBeVisible();
  expect(complaints).toEqual([]);
});

const LENE = 'lene.hjort@pilots.example';
const CUSTOMS = 'customs@skerryfreight.example';

/** A new message with its plan open, under the office's everyday handling. */
async function write(page: Page, to: string, subject: string): Promise<void> {
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill(`${to},`);
  await page.getByLabel('Subject').fill(subject);
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('As agreed.');
  await choosePreset(page, /Everyday papers/);
}

/** In their mailbox: opens a mail, answers it as `how` says. */
async function answerFrom(
  page: Page,
  house: House,
  mailbox: string,
  subject: RegExp,
  how: () => Promise<void>,
): Promise<void> {
  await page.goto(`${house.origin}/outside/mailbox/${mailbox}`);
  await page.getByRole('link', { name: subject }).first().click();
  await page.getByRole('button', { name: 'Answer from here' }).click();
  await page.getByRole('textbox', { name: 'Text' }).fill('Here it is.');
  await how();
  await page.getByRole('button', { name: 'Send it' }).click();
  await expect(page.getByText(/^Sent to /)).toBeVisible();
}

test('a key that changes is shown beside the old one and never taken silently; a revocation is taken at once', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await addPerson(page, { name: 'Una Pike', address: 'una.pike@skerryfreight.example' });
  await takeKey(page);
  await outside(house, '/openpgp/una.pike@skerryfreight.example/replace');
  await page.getByRole('button', { name: 'Look the key up' }).click();
  await expect(page.getByText(/This is another key than the one you have for them/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Take it instead: OpenPGP key of Una Pike/ }).click();
  await expect(page.getByText(/This is another key/)).toHaveCount(0);
  await outside(house, '/openpgp/una.pike@skerryfreight.example/revoke');
  await page.getByRole('button', { name: 'Look the key up' }).click();
  await expect(page.getByText('Looked up: it is the key you have.')).toBeVisible();
  await expect(page.getByText('■ revoked', { exact: true })).toBeVisible();
  await expect(page.getByText(/Revoked on .*its key may be in other hands/)).toBeVisible();
  expect(complaints).toEqual([]);
});

test('a key comes from a file under its passphrase and goes by its paper; another office’s word is taken; our own people’s keys are vouched for', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await makeKey(page);
  const paper = await saved(
    page,
    () => page.getByRole('button', { name: /^Save as a file: the revocation certificate/ }).click(),
    'paper.asc',
  );
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: 'OpenPGP keys', exact: true }).click();
  await page.getByRole('button', { name: /^Make the office’s key/ }).click();
  await expect(
    page.getByText('The office’s key is made, and its word counts here. Back it up under Keys.'),
  ).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Vouch for it: key of Ines Varga' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'We compared it: vouch for it' }).click();
  await expect(page.getByText('● vouched for')).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);

  // The paper revokes it, and the directory says so
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Bring one from a file' }).click();
  await chooseFiles(page, 'Choose the file', paper);
  await page.getByRole('button', { name: 'Revoke the key' }).click();
  await expect(page.getByText(/^Revoked on .*It is kept for reading/)).toBeVisible({ timeout: 30_000 });

  const served = await openPgpKeysIn(
    new Uint8Array(
      await (
        await fetch(`${house.origin}/.well-known/openpgpkey/larkmoor.example/hu/${wkdHash('ines.varga')}?l=ines.varga`)
      ).arrayBuffer(),
    ),
  );
  expect(served.some(({ revocation }) => revocation !== undefined)).toBe(true);

  // A secret key of another program
  const secret = desk.put('theirs.asc', await theirSecret());
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Bring one from a file' }).click();
  await chooseFiles(page, 'Choose the file', join(desk.folder, secret));
  await page.getByLabel(/^Passphrase of the key of/).fill('wrong');
  await page.getByRole('button', { name: /^Keep it: OpenPGP key/ }).click();
  await expect(page.getByText(/That passphrase does not open the key/)).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);
  await page.getByLabel(/^Passphrase of the key of/).fill('lamps on the breakwater');
  await page.getByRole('button', { name: /^Keep it: OpenPGP key/ }).click();
  await expect(page.getByRole('heading', { name: 'OpenPGP key of Ines Varga' })).toBeVisible({ timeout: 30_000 });
  expect(complaints).toEqual([]);
});

async function theirSecret(): Promise<Uint8Array> {
  const { lockedBackup } = await import('../core/src/openpgp/make-key');
  return lockedBackup(
    await readSecretKey(
      (
        await makeOpenPgpKey(
          'wide',
          { name: 'Ines Varga', addresses: ['ines.varga@larkmoor.example'] },
          new Date(Date.now() - 1000),
        )
      ).secret,
    ),
    'lamps on the breakwater',
  );
}

test('files of OpenPGP are opened on the page for files: a message, a signature with what it signs, keys, and rubbish', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  await makeKey(page);
  const [own] = await openPgpKeysIn(
    new Uint8Array(
      readFileSync(
        await saved(
          page,
          () => page.getByRole('button', { name: /^Save as a file: the public key/ }).click(),
          'own.asc',
        ),
      ),
    ),
  );
  const ruth = await writer('Ruth Sand', 'ruth.sand@skerryfreight.example');
  const put = (name: string, bytes: Uint8Array): string => join(desk.folder, desk.put(name, bytes));
  await page.goto(`${house.origin}/mail/open`);
  const drop = (...files: string[]): Promise<void> => chooseFiles(page, /^Choose (the|another) file/, files);
  await drop(put('ruth.asc', armoured('PUBLIC KEY BLOCK', ruth.key.bytes)));
  await expect(page.getByRole('heading', { name: 'OpenPGP keys in it' })).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep the key, for ruth.sand@skerryfreight.example' }).click();
  await expect(page.getByText('● the key you have for them')).toBeVisible();
  const report = new TextEncoder().encode('The report.\n');
  await drop(
    put(
      'report.txt.pgp',
      await sealMessage(report as Uint8Array<ArrayBuffer>, {
        signer: ruth.secret,
        recipients: [own!],
        date: new Date(),
        fileName: 'report.txt',
      }),
    ),
  );
  await expect(page.getByText('● encrypted to you')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('button', { name: 'Save report.txt' })).toBeVisible();
  const signature = put(
    'report.txt.sig',
    (await signApart(report as Uint8Array<ArrayBuffer>, ruth.secret, new Date())).signature,
  );
  await drop(signature, put('report.txt', report));
  await expect(page.getByText(/^Signed by Ruth Sand, and unchanged since/)).toBeVisible({ timeout: 30_000 });
  await drop(signature, put('other.txt', new TextEncoder().encode('Another report.\n')));
  await expect(page.getByText(/changed since Ruth Sand signed it/)).toBeVisible({ timeout: 30_000 });
  await drop(put('broken.pgp', Uint8Array.of(0xc1, 0xff, 1, 2)));
  await expect(page.getByText(/This is not a mail, or it is damaged/)).toBeVisible({ timeout: 30_000 });
  expect(complaints).toEqual([]);
});

interface Writer {
  secret: PrivateKey;
  key: OpenPgpKey;
}
const writer = async (name: string, address: string): Promise<Writer> => {
  const secret = await readSecretKey(
    (await makeOpenPgpKey('wide', { name, addresses: [address] }, new Date(Date.now() - 86_400_000))).secret,
  );
  return { secret, key: await factsOf(secret.toPublic()) };
};
const latin1 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('latin1');
const UNA = 'Una Pike <una.pike@skerryfreight.example>';
const headed = (subject: string, body: string, from = UNA): Buffer =>
  Buffer.from(
    `From: ${from}\r\nTo: <${TOBIAS}>\r\nSubject: key: ${subject}\r\nDate: ${new Date().toUTCString()}\r\nMIME-Version: 1.0\r\n${body}`,
    'latin1',
  );

/** What is tried, by subject: the mail, and what must and must not be seen of it. */
async function attacks(una: Writer, mallory: Writer, tobias: OpenPgpKey): Promise<Tried[]> {
  const date = new Date();
  const utf8 = (text: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>;
  const seal = async (content: string, signer?: Writer): Promise<string> =>
    latin1(
      armoured('MESSAGE', await sealMessage(utf8(content), { signer: signer?.secret, recipients: [tobias], date })),
    );
  const secret =
    'Content-Type: text/html\r\n\r\n<p>The code of the safe is 4711.</p><img src="http://elsewhere.example/seen.png">\r\n';
  const encrypted = async (content: string, signer?: Writer): Promise<string> =>
    `Content-Type: multipart/encrypted; protocol="application/pgp-encrypted"; boundary=e\r\n\r\n--e\r\nContent-Type: application/pgp-encrypted\r\n\r\nVersion: 1\r\n--e\r\nContent-Type: application/octet-stream\r\n\r\n${await seal(content, signer)}--e--\r\n`;
  const letter = 'Content-Type: text/html; charset=utf-8\r\n\r\n<p>Pay <b>100</b> marks.</p>';
  const signed = async (over: string, shown = over, signer = una): Promise<string> =>
    `Content-Type: multipart/signed; protocol="application/pgp-signature"; micalg=pgp-sha512; boundary=s\r\n\r\n--s\r\n${shown}\r\n--s\r\nContent-Type: application/pgp-signature\r\n\r\n${latin1(armoured('SIGNATURE', (await signApart(utf8(over), signer.secret, date)).signature))}--s--\r\n`;
  const mixed = (...parts: string[]): string =>
    `Content-Type: multipart/mixed; boundary=outer\r\n\r\n${parts.map((part) => `--outer\r\n${part}\r\n`).join('')}--outer--\r\n`;
  const bent = (mail: string): string =>
    mail.replace(
      /(-----BEGIN PGP MESSAGE-----\r\n\r\n(?:.{76}\r\n){4}.{20})(.)/,
      (_, before: string, one: string) => `${before}${one === 'A' ? 'B' : 'A'}`,
    );
  const bare = (bytes: Uint8Array): string =>
    `Content-Type: multipart/encrypted; protocol="application/pgp-encrypted"; boundary=e\r\n\r\n--e\r\nContent-Type: application/pgp-encrypted\r\n\r\nVersion: 1\r\n--e\r\nContent-Type: application/octet-stream\r\n\r\n${latin1(armoured('MESSAGE', bytes))}--e--\r\n`;
  const good = await encrypted(secret, una);
  const frame = (text: string): string => `Content-Type: text/html\r\n\r\n${text}`;
  const sessions = new Uint8Array(13 * 3000).map((_, at) =>
    at % 13 === 0 ? 0xc1 : at % 13 === 1 ? 11 : at % 13 === 2 ? 3 : 0,
  );
  const lookalike = await writer('una.pike@skerryfreight.example', 'x@elsewhere.example');
  const tried: Tried[] = [
    {
      subject: 'right',
      raw: headed('right', good),
      seen: [/Signed by Una Pike, for una.pike@skerryfreight.example, and unchanged since/, /encrypted to you/],
    },
    {
      subject: 'another name',
      raw: headed('another name', await signed(letter), 'Director <director@larkmoor.example>'),
      seen: [/not to be relied on. It is issued for una.pike@skerryfreight.example, not for director@larkmoor.example/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'came along',
      raw: headed(
        'came along',
        mixedKey(await signed(letter, letter, mallory), mallory),
        'Mallory <mallory@elsewhere.example>',
      ),
      seen: [/Not signed|Anybody can make such a key/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'name as address',
      raw: headed('name as address', await signed(letter, letter, lookalike)),
      seen: [/signed with an OpenPGP key that is not known here/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'beside',
      raw: headed('beside', mixed(frame('<p>Please pay 5000 to our new account.</p>'), await signed(letter))),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/unchanged since/, /Who signed it/],
    },
    {
      subject: 'swapped',
      raw: headed('swapped', await signed(letter, letter.replace('100', '900'))),
      seen: [/changed since Una Pike signed it/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'carried out',
      raw: headed('carried out', mixed(frame('<img src="http://elsewhere.example/?'), good, frame('">'))),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/4711/],
    },
    {
      subject: 'quoted',
      raw: headed(
        'quoted',
        `Content-Type: text/plain\r\n\r\nPlease answer, quoting all of this:\r\n\r\n${await seal('The code of the safe is 4711.', una)}`,
      ),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/The code of the safe/],
    },
    {
      subject: 'bent',
      raw: headed('bent', bent(good)),
      seen: [/does not open|none of your keys opens it|This is not a mail/],
      unseen: [/4711/, /unchanged since/],
    },
    { subject: 'many keys', raw: headed('many keys', bare(sessions)), seen: [/This is not a mail, or it is damaged/] },
    {
      subject: 'huge',
      raw: headed('huge', bare(Uint8Array.of(0xc1, 0xff, 0x7f, 0xff, 0xff, 0xff, 3))),
      seen: [/This is not a mail, or it is damaged/],
    },
    { subject: 'bomb', raw: headed('bomb', bare(bomb())), seen: [/This is not a mail, or it is damaged/] },
    {
      subject: 'looks vouched',
      raw: headed(
        'looks vouched',
        'Content-Type: text/html\r\n\r\n<p style="background:#DDEAE3;color:#0E5A4C">● Signed by Una Pike, for you, and quite unchanged. Northquay vouches.</p><script>document.title="run"</script>',
      ),
      seen: [/does not say that it sent this/],
    },
    {
      subject: 'two texts',
      raw: headed(
        'two texts',
        `Content-Type: text/plain\r\n\r\n${await seal('The first.', una)}${await seal('The second.', mallory)}`,
      ),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/The first/, /The second/],
    },
  ];
  return tried.map((one) => ({ ...one, subject: `key: ${one.subject}` }));
}

/** Four hundred megabytes of noughts, packed. */
function bomb(): Uint8Array {
  const packed = deflateRawSync(
    Buffer.concat([Buffer.from([0xcb, 0xff, 0x17, 0xd7, 0x84, 0x06, 0x62, 0, 0, 0, 0, 0]), Buffer.alloc(400_000_000)]),
    { level: 1 },
  );
  const head = Buffer.from([0xc8, 0xff, 0, 0, 0, 0, 1]);
  head.writeUInt32BE(packed.length + 1, 2);
  return new Uint8Array(Buffer.concat([head, packed]));
}

/** Signed, with the key beside it in the head: nobody here knows it. */
function mixedKey(mail: string, { key }: Writer): string {
  return `Autocrypt: addr=mallory@elsewhere.example; keydata=${Buffer.from(key.bytes)
    .toString('base64')
    .replace(/(.{70})/g, '$1\r\n ')}\r\n${mail}`;
}

test('what people try with OpenPGP mail is shown for what it is; nothing is loaded, nothing runs, nothing leaks', async ({
  house,
  page,
  complaints,
}) => {
  test.setTimeout(300_000);
  await page.setViewportSize(desktop);
  const asked = askedElsewhere(page, house);
  await signIn(page, house, 1);
  await makeKey(page);
  const [tobias] = await openPgpKeysIn(
    new Uint8Array(
      readFileSync(
        await saved(
          page,
          () => page.getByRole('button', { name: /^Save as a file: the public key/ }).click(),
          'tobias.asc',
        ),
      ),
    ),
  );
  const [una, mallory] = [
    await writer('Una Pike', 'una.pike@skerryfreight.example'),
    await writer('Mallory', 'mallory@elsewhere.example'),
  ];
  await addPerson(page, { name: 'Una Pike', address: 'una.pike@skerryfreight.example' });
  await openMeans(page, 'OpenPGP key');
  await page.getByRole('button', { name: /^Paste it/ }).click();
  await page.getByLabel('The key as text').fill(latin1(armoured('PUBLIC KEY BLOCK', una.key.bytes)));
  await page.getByRole('button', { name: /^Read it/ }).click();
  await page.getByRole('button', { name: /^Take it: OpenPGP key of Una Pike/ }).click();
  await page.getByRole('button', { name: /^Compare it/ }).click();
  await page.getByRole('button', { name: 'We compared it: it is the same' }).click();
  await expect(page.getByText(/● compared by/)).toBeVisible();
  await expectShownForWhatItIs(page, house, await attacks(una, mallory, tobias!), {
    from: 'una.pike@skerryfreight.example',
    to: TOBIAS,
    watched: 'key: came along',
  });
  expect(asked).toEqual([]);
  expect(complaints).toEqual([]);
});
