/**
 * Certificates from the interface: got and backed up with proof, another's taken from the directory and compared, a
 * copy encrypted and signed in the browser, opened outside; and the private key nowhere but in the vault.
 */
import { randomBytes } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Page } from '@playwright/test';
import { openDesk, writerOutside } from './letters';
import { chooseFiles, desktop, expect, expectAccessible, phone, signIn, test } from './house';
import { choosePreset, openWays } from './writing';
import { databaseDump } from './readers';
import { addPerson, openMeans, openPerson } from './people';

test.use({ houseFor: 'certificates' });

const PASSWORD = 'anchor chain and bell';
const desk = openDesk();
const { folder, openssl } = desk;

/** From nothing to a certificate that is backed up. Leaves the browser on its page. */
async function getCertificate(page: Page): Promise<string> {
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByRole('heading', { name: 'Certificate of Maren Oduya' })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Back it up' }).click();
  await page.getByRole('textbox', { name: 'New password' }).fill('short');
  await page.getByRole('button', { name: 'Save the file' }).click();
  await expect(page.getByText(/Use at least 12 characters/)).toBeVisible();
  await page.getByRole('textbox', { name: 'New password' }).fill(PASSWORD);
  await page.getByRole('textbox', { name: 'The same once more' }).fill(PASSWORD);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the file' }).click();
  const file = join(folder, 'maren.p12');
  await (await download).saveAs(file);
  await expect(page.getByText('▲ not backed up', { exact: true })).toBeVisible();
  const prove = 'Choose the file and prove it';
  await page.getByRole('textbox', { name: 'Password of the file' }).fill('anchor chain and ball');
  await chooseFiles(page, prove, file);
  await expect(page.getByText(/That password does not open the file/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Password of the file' }).fill(PASSWORD);
  await chooseFiles(page, prove, {
    name: 'holiday.p12',
    mimeType: 'application/x-pkcs12',
    buffer: Buffer.from('not a backup'),
  });
  await expect(page.getByText(/That file is not a backup of keys/)).toBeVisible();
  await chooseFiles(page, prove, file);
  await expect(page.getByText(/● backed up, proved/)).toBeVisible();
  return file;
}

test('a certificate is got, backed up with proof, used for a copy that opens outside; its private key is nowhere but in the vault', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 0);
  const file = await getCertificate(page);
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await expect(page.getByRole('link', { name: /maren.oduya@larkmoor.example/ })).toBeVisible();
  await expectAccessible(page);

  // The same file opens in other programs, and brought back here it is known.
  const key = openssl('pkcs12', '-in', file, '-passin', `pass:${PASSWORD}`, '-nocerts', '-nodes');
  writeFileSync(join(folder, 'key.pem'), key);
  writeFileSync(
    join(folder, 'maren.pem'),
    openssl('pkcs12', '-in', file, '-passin', `pass:${PASSWORD}`, '-nokeys', '-clcerts'),
  );
  await page.getByRole('button', { name: 'Bring one from a file' }).click();
  await chooseFiles(page, 'Choose the file', file);
  await page.getByRole('textbox', { name: 'Password of the file' }).fill('wrong');
  await page.getByRole('button', { name: 'Open the file' }).click();
  await expect(page.getByText(/That password does not open the file/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Password of the file' }).fill(PASSWORD);
  await page.getByRole('button', { name: 'Open the file' }).click();
  await expect(page.getByText('○ already yours')).toBeVisible();
  await expectAccessible(page);
  // As text, and the certificate alone, whose key is here
  for (const [name, buffer] of [
    ['maren.pem', Buffer.concat([key, readFileSync(join(folder, 'maren.pem'))])],
    ['maren.cer', openssl('x509', '-in', 'maren.pem', '-outform', 'DER')],
  ] as const) {
    await chooseFiles(page, 'Choose another file', {
      name,
      mimeType: 'application/octet-stream',
      buffer,
    });
    await page.getByRole('button', { name: 'Open the file' }).click();
    await expect(page.getByText('○ already yours')).toBeVisible();
  }

  // Somebody else's, from the directory, compared by phone
  await openPerson(page, /records@harbourclinic.example/);
  await openMeans(page, 'Certificate');
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  await page.getByRole('button', { name: /^Take it/ }).click();
  await expect(page.getByText('Nobody has compared the fingerprint with them yet.')).toBeVisible();
  await page.getByRole('button', { name: /^Compare it/ }).click();
  await page.getByRole('button', { name: 'We compared it: it is the same' }).click();
  await expect(page.getByText(/● compared by Maren Oduya/)).toBeVisible();
  await expectAccessible(page);

  // A copy of their own, where the handling allows it; the room where it does not
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('records@harbourclinic.example,');
  await page.getByLabel('Subject').fill('Winter crew list, Łódź');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('The list as agreed.');
  await openWays(page);
  await expect(page.getByText(/Opens in their own mail program; it stays with them/)).toBeVisible();
  await choosePreset(page, /Crew health/);
  await expect(page.getByText(/Needs nothing but a browser at their end/)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Certificate', exact: true })).toHaveCount(0);
  await choosePreset(page, /Everyday papers/);
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toBeVisible({ timeout: 30_000 });
  await expectAccessible(page);

  // Outside it opens with their certificate, and our signature is right there
  await page.goto(`${house.origin}/outside/mailbox/records@harbourclinic.example`);
  await page.getByRole('link', { name: /A confidential message from Larkmoor Ferries/ }).click();
  await expect(
    page.getByText('Their mail program opened it with their certificate. Signed by Maren Oduya.'),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Winter crew list, Łódź' })).toBeVisible();

  // What the server has: neither the key nor the words, in no spelling
  const text = databaseDump(house);
  const der = openssl('pkcs8', '-topk8', '-nocrypt', '-in', 'key.pem', '-outform', 'DER');
  const inside = der.subarray(der.length - 400, der.length - 100);
  for (const spelled of [
    inside.toString('hex'),
    inside.toString('base64').slice(4, 200),
    inside.toString('base64url').slice(4, 200),
    inside.toString('latin1'),
  ])
    expect(text.includes(spelled)).toBe(false);
  for (const said of ['Winter crew list', PASSWORD, Buffer.from('The list as agreed.').toString('hex')])
    expect(text.includes(said)).toBe(false);
  // The public half is there, so that the search would have found the other.
  const certificate = openssl('x509', '-in', 'maren.pem', '-outform', 'DER');
  expect(text.includes(certificate.toString('hex'))).toBe(true);
  expect(complaints).toEqual([]);
});

test('people’s certificates that must not be used are said to be so, and the plan goes round them; a changed one is shown beside the old', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  const raw = async (address: string): Promise<Buffer> => {
    const { entries } = (await (
      await fetch(`${house.outside}/web/directory.islestrust.example/people?mail=${address}`)
    ).json()) as { entries: { certificates: string[] }[] };
    return Buffer.from(entries[0]!.certificates[0]!, 'base64');
  };
  await addPerson(page, { name: 'Harbour Clinic wards', address: 'wards@harbourclinic.example' });
  await openMeans(page, 'Certificate');
  const bring = async (name: string, buffer: Buffer): Promise<void> =>
    chooseFiles(page, 'Bring it from a file', {
      name,
      mimeType: 'application/pkix-cert',
      buffer,
    });
  await bring('letter.cer', Buffer.from('Dear all,'));
  await expect(page.getByText(/There is no certificate in this file/)).toBeVisible();
  await bring('billing.cer', await raw('billing@harbourclinic.example'));
  await expect(
    page.getByText(/It is issued for billing@harbourclinic.example, not for wards@harbourclinic.example/),
  ).toBeVisible();
  await expect(page.getByText(/Expired on/)).toBeVisible();
  await bring('wards.cer', await raw('wards@harbourclinic.example'));
  await expect(page.getByText(/Revoked on .*its key may be in other hands/)).toBeVisible();
  await expectAccessible(page);
  // What was judged while it was offered is not judged again before it is shown: nothing moves under a finger.
  await page.evaluate(() => {
    new MutationObserver(() => {
      if (document.body.textContent.includes('Judging it')) document.body.dataset.judgedTwice = 'yes';
    }).observe(document.body, { childList: true, subtree: true, characterData: true });
  });
  await page.getByRole('button', { name: /^Take it/ }).click();
  await expect(page.getByRole('button', { name: 'Certificate: revoked' })).toBeVisible();
  await expect(page.getByText('Taken from a file on')).toBeVisible();
  expect(await page.evaluate(() => document.body.dataset.judgedTwice)).toBeUndefined();
  await bring('other.cer', await raw('billing@harbourclinic.example'));
  await expect(page.getByText(/This is another certificate than the one you have for them/)).toBeVisible();

  // What runs out soon is said in good time
  await addPerson(page, { name: 'Pilot office', address: 'duty@pilots.example' });
  await openMeans(page, 'Certificate');
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  await page.getByRole('button', { name: /^Take it/ }).click();
  await expect(page.getByText('Nobody has compared the fingerprint with them yet.')).toBeVisible();
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await expect(page.getByText('Certificate of Pilot office')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/After that they get no copies; the reading room stays/)).toBeVisible();
  await expectAccessible(page);

  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('wards@harbourclinic.example,');
  await choosePreset(page, /Everyday papers/);
  await openWays(page);
  await expect(page.getByText(/Needs nothing but a browser at their end/)).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Certificate', exact: true })).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test('a certificate revoked by its owner is out of use at once, and stays for reading', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('radio', { name: /P-256/ }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Revoke', exact: true }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Revoke it for good' }).click();
  await expect(page.getByText(/Revoked. From now on/)).toBeVisible();
  await expect(page.getByText('■ revoked', { exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('link', { name: '‹ Keys' }).click();
  await expect(page.getByRole('heading', { name: 'Kept for reading' })).toBeVisible();
  await expectAccessible(page);

  // Whom the office trusts is said by its administrators
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: 'Certificate authorities' }).click();
  await expect(page.getByText('Isles Trust Root')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Stop trusting it: Isles Trust Root' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Stop trusting it', exact: true }).click();
  await expect(page.getByText('Isles Trust Root is not trusted any more.')).toBeVisible();
  const root = Buffer.from(await (await fetch(`${house.outside}/web/ca.islestrust.example/root.cer`)).arrayBuffer());
  await chooseFiles(page, /^Add one from a file/, {
    name: 'root.cer',
    mimeType: 'application/pkix-cert',
    buffer: root,
  });
  await page.getByRole('dialog').getByRole('button', { name: 'Trust it', exact: true }).click();
  await expect(page.getByText('Isles Trust Root is trusted from now on.')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('mail from a file is opened with what is to be known beside its sender; the signer’s certificate is kept after looking', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 1);
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 60_000 });
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save as .pem/ }).click();
  await (await download).saveAs(join(folder, 'tobias.pem'));

  // A correspondent with another program
  const ada = await writerOutside(house, desk, 'Ada Lund', 'ada.lund@harbourclinic.example');
  const content =
    'Content-Type: text/html; charset=utf-8\r\n\r\n<p>The papers are <b>complete</b>.</p><img src="http://elsewhere.example/seen.png">\r\n';
  const head = ['-from', ada.address, '-to', 'tobias.quill@larkmoor.example', '-subject', 'Papers complete'];
  const both = ada.encrypt(ada.sign(content), 'tobias.pem', '-aes-256-cbc', ...head);
  const alone = ada.encrypt(content, 'tobias.pem', '-des3', ...head);
  const clear = ada.sign(content, ...head);
  const open = (name: string, buffer: Buffer): Promise<void> =>
    chooseFiles(page, /^Choose (the|another) file$/, {
      name,
      mimeType: 'message/rfc822',
      buffer,
    });

  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  await page.getByRole('button', { name: 'Open mail from a file' }).click();
  await expect(page.getByRole('heading', { name: 'Open mail from a file' })).toBeVisible();
  await expectAccessible(page);
  // What is no mail is said by what it is, before anything reads it
  for (const [name, bytes, words] of [
    ['letter.eml', Buffer.from('not a mail'), /a text without a sender/],
    [
      'holiday.jpg',
      Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe0]), randomBytes(8_000_000)]),
      /a picture, not a mail/,
    ],
    [
      'tour.eml',
      Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypmp42'), randomBytes(8_000_000)]),
      /a film, not a mail/,
    ],
    ['noise.p7m', Buffer.concat([Buffer.from([0, 1]), randomBytes(8_000_000)]), /Nothing here knows what this file is/],
  ] as const) {
    await open(name, bytes);
    await expect(page.getByText(words)).toBeVisible();
  }
  await open('letter.eml', Buffer.from('From: x@elsewhere.example\r\n\r\nno signature'));
  await expect(page.getByText(/Not signed: anybody may have written this/)).toBeVisible();
  await open('other.p7m', Buffer.from([0x30, 0x82, 0x01, 0x00, 0x06]));
  await expect(page.getByText(/This is not a mail, or it is damaged/)).toBeVisible();
  await open('both.eml', both);
  await expect(
    page.getByText(
      /Signed by Ada Lund, for ada.lund@harbourclinic.example, and unchanged since. Isles Trust Mail vouches for them./,
    ),
  ).toBeVisible();
  await expect(page.getByText('● encrypted to you')).toBeVisible();
  await expect(page.frameLocator('iframe').getByText('complete')).toBeVisible();
  await expect(page.getByText('Not signed', { exact: false })).toHaveCount(0);
  await expect(page.getByText(/Nobody could be asked/)).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Keep the certificate/ }).click();
  await expect(page.getByText('● the certificate you have for them')).toBeVisible();

  // Encrypted in an old way and vouched for by nobody: its text, and nothing that could load or lead anywhere
  await open('alone.eml', alone);
  await expect(page.getByText(/Encrypted in an old way \(3DES-CBC\)/)).toBeVisible();
  await expect(page.getByText(/encrypted without a seal against changes/)).toBeVisible();
  await expect(page.locator('iframe')).toHaveCount(0);
  await expect(page.getByText('The papers are complete.')).toBeVisible();

  // A letter changed, and another's name outside
  await open('changed.eml', Buffer.from(clear.toString('latin1').replace('<b>complete', '<b>refused!'), 'latin1'));
  await expect(page.getByText(/It has been changed since Ada Lund signed it/)).toBeVisible();
  await open('name.eml', Buffer.from(clear.toString('latin1').replace('From: ada.lund@', 'From: director@'), 'latin1'));
  await expect(
    page.getByText(
      /not to be relied on. It is issued for ada.lund@harbourclinic.example, not for director@harbourclinic.example/,
    ),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: /^Keep the certificate/ })).toHaveCount(0);

  // What was kept is used at the next writing
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('ada.lund@harbourclinic.example,');
  await choosePreset(page, /Everyday papers/);
  await openWays(page);
  await expect(page.getByText(/Opens in their own mail program/)).toBeVisible();
  expect(complaints).toEqual([]);
});
