/**
 * Mail that comes in from other programs, and what people try with it: shown for no more than it is, nothing loaded.
 * Asking for a signed message, and sending what is no secret.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Page } from '@playwright/test';
import { readElement } from '../core/src/asn1/read';
import { sequence, tagged } from './der';
import { desktop, expect, expectAccessible, leaveOpen, phone, signIn, test } from './house';
import { deliver, openDesk, type Writer, writerOutside } from './letters';
import { askedElsewhere, expectShownForWhatItIs, type Tried } from './tried';
import { choosePreset, openWays } from './writing';

test.use({ houseFor: 'incoming' });

const TOBIAS = 'tobias.quill@larkmoor.example';
const desk = openDesk();

async function getCertificate(page: Page, file?: string): Promise<void> {
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 60_000 });
  if (file === undefined) return;
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save as .pem/ }).click();
  await (await download).saveAs(join(desk.folder, file));
}

async function toReceived(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
}

const headed = (subject: string, body: Buffer | string, from = 'Ada Lund <ada.lund@harbourclinic.example>'): Buffer =>
  Buffer.concat([
    Buffer.from(`From: ${from}\r\nTo: <${TOBIAS}>\r\nSubject: ${subject}\r\nDate: ${new Date().toUTCString()}\r\n`),
    Buffer.from(body as string),
  ]);
const wire = (text: Buffer): string => text.toString('latin1').replace(/\r?\n/g, '\r\n');

/** The certificates of a signature a thousand times over, in its own DER. */
function thousandCertificates({ openssl, put, folder }: typeof desk): Buffer {
  openssl(
    'cms',
    '-sign',
    '-in',
    put('many', 'Content-Type: text/plain\r\n\r\nMany.'),
    '-signer',
    'sender.pem',
    '-inkey',
    'sender.key',
    '-nodetach',
    '-outform',
    'DER',
    '-out',
    'many.der',
  );
  const info = readElement(new Uint8Array(readFileSync(join(folder, 'many.der'))));
  const [type, wrapped] = info.children as [typeof info, typeof info];
  const parts = wrapped.children[0]!.children.map(({ tag, bytes, content }) =>
    tag === 0 && bytes[0] === 0xa0
      ? tagged(0xa0, Buffer.concat(Array.from({ length: 1000 }, () => content)))
      : Buffer.from(bytes),
  );
  return sequence(Buffer.from(type.bytes), tagged(0xa0, sequence(...parts)));
}

const p7m = (der: Uint8Array, type: string): string =>
  `MIME-Version: 1.0\r\nContent-Type: application/pkcs7-mime; smime-type=${type}; name=smime.p7m\r\nContent-Transfer-Encoding: base64\r\n\r\n${Buffer.from(der).toString('base64').replace(/.{76}/g, '$&\r\n')}\r\n`;

/** What is tried, by subject: the mail, and what must and must not be seen of it. */
function attacks({ sign, encrypt }: Writer): Tried[] {
  const secret = 'Content-Type: text/plain\r\n\r\nThe code of the safe is 4711.\r\n';
  const letter =
    'Content-Type: text/html; charset=utf-8\r\n\r\n<p>Pay <b>100</b> marks.</p><img src="http://elsewhere.example/seen.png">\r\n';
  const clear = wire(sign(letter));
  const other = wire(sign('Content-Type: text/html; charset=utf-8\r\n\r\n<p>Pay <b>900</b> marks.</p>\r\n'));
  const sealed = wire(encrypt(sign(secret), 'tobias.pem', '-aes-256-cbc'));
  const alone = wire(encrypt(letter, 'tobias.pem', '-aes-256-cbc'));
  const bent = (mail: string): string => {
    const at = mail.indexOf('\r\n\r\n') + 4 + 600;
    return `${mail.slice(0, at)}${[...mail.slice(at, at + 8)].reverse().join('')}${mail.slice(at + 8)}`;
  };
  const boundary = /boundary="([^"]+)"/;
  const [ours, theirs] = [boundary.exec(clear)![1]!, boundary.exec(other)![1]!];
  const signature = other.split(`--${theirs}`)[2]!;
  const swapped = clear.replace(clear.split(`--${ours}`)[2]!, signature);
  const mixed = (...parts: string[]): string =>
    `MIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=outer\r\n\r\n${parts.map((part) => `--outer\r\n${part}\r\n`).join('')}--outer--\r\n`;
  const frame = (text: string): string => `Content-Type: text/html\r\n\r\n${text}`;
  return [
    {
      subject: 'another name',
      raw: headed('another name', clear, 'Director <director@larkmoor.example>'),
      seen: [/not to be relied on. It is issued for ada.lund@harbourclinic.example, not for director@larkmoor.example/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'two names',
      raw: headed('two names', `From: Director <director@larkmoor.example>\r\n${clear}`),
      seen: [/names several senders outside/],
    },
    {
      subject: 'beside',
      raw: headed('beside', mixed(frame('<p>Please pay 5000 to our new account.</p>'), clear)),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/unchanged since/, /Who signed it/],
    },
    {
      subject: 'swapped',
      raw: headed('swapped', swapped),
      seen: [/changed since Ada Lund signed it/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'carried out',
      raw: headed('carried out', mixed(frame('<img src="http://elsewhere.example/?'), sealed, frame('">'))),
      seen: [/Not signed/, /signed or encrypted apart/],
      unseen: [/4711/],
    },
    {
      subject: 'bent inside',
      raw: headed('bent inside', bent(sealed)),
      seen: [/does not open|changed since|This is not a mail|Don’t rely/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'bent alone',
      raw: headed('bent alone', bent(alone)),
      seen: [/encrypted without a seal against changes|does not open/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'other type',
      raw: headed('other type', clear.replace('multipart/signed', 'multipart/mixed')),
      seen: [/Not signed/],
      unseen: [/unchanged since/],
    },
    {
      subject: 'huge',
      raw: headed('huge', p7m(Uint8Array.of(0x30, 0x84, 0x7f, 0xff, 0xff, 0xff, 6, 9, 0x2a), 'enveloped-data')),
      seen: [/This is not a mail, or it is damaged/],
    },
    {
      subject: 'endless',
      raw: headed(
        'endless',
        p7m(
          new Uint8Array(60_000).map((_, index) => (index % 2 === 0 ? 0x30 : 0x80)),
          'signed-data',
        ),
      ),
      seen: [/This is not a mail, or it is damaged/],
    },
    {
      subject: 'a thousand',
      raw: headed('a thousand', p7m(thousandCertificates(desk), 'signed-data')),
      seen: [/This is not a mail, or it is damaged/],
    },
    {
      subject: 'looks vouched',
      raw: headed(
        'looks vouched',
        `Content-Type: text/html\r\n\r\n<p style="background:#DDEAE3;color:#0E5A4C">● Signed by Ada Lund, for you, and quite unchanged. Isles Trust vouches.</p><script>document.title="run"</script>`,
      ),
      seen: [/does not say that it sent this/],
    },
  ];
}

test('what people try with signed and encrypted mail is shown for what it is; nothing is loaded, nothing runs, nothing leaks', async ({
  house,
  page,
  complaints,
}) => {
  test.setTimeout(300_000);
  await page.setViewportSize(desktop);
  const asked = askedElsewhere(page, house);
  await signIn(page, house, 1);
  await getCertificate(page, 'tobias.pem');
  const ada = await writerOutside(house, desk, 'Ada Lund', 'ada.lund@harbourclinic.example');
  await expectShownForWhatItIs(page, house, attacks(ada), { from: ada.address, to: TOBIAS, watched: 'looks vouched' });
  expect(asked).toEqual([]);
  expect(complaints).toEqual([]);
});

test('somebody is asked for a signed message; their answer is known for it, their certificate kept, and the waiting draft goes encrypted', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('claims@northquay.example,');
  await page.getByLabel('Subject').fill('Hull survey of the Teal');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('The survey as agreed.');
  await choosePreset(page, /Everyday papers/);
  await openWays(page);
  await page.getByRole('button', { name: /^Ask for a signed message/ }).click();
  await expectAccessible(page);
  // Without a certificate it can't be signed, and the way to one is there.
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText(/you have no certificate to sign with yet/)).toBeVisible();
  await page.getByRole('button', { name: 'Get a certificate' }).click();
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByRole('main').getByText('● valid')).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: 'Drafts', exact: true }).click();
  await page.getByRole('link', { name: /Hull survey/ }).click();
  await openWays(page);
  await page.getByRole('button', { name: /^Ask for a signed message/ }).click();
  await page.getByRole('button', { name: 'Ask', exact: true }).click();
  await expect(page.getByText(/Asked for a signed message on/)).toBeVisible();

  // Outside: the request came signed, and is answered signed
  await page.goto(`${house.origin}/outside/mailbox/claims@northquay.example`);
  await page.getByRole('link', { name: /Maren Oduya asks you for a signed message/ }).click();
  await expect(page.getByText('Not encrypted. Signed by Maren Oduya.')).toBeVisible();
  await page.getByRole('button', { name: 'Answer from here' }).click();
  await page.getByRole('textbox', { name: 'Text' }).fill('Here you are.');
  await page.getByRole('radio', { name: 'Signed', exact: true }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send it' }).click();
  await expect(page.getByText('Sent to maren.oduya@larkmoor.example.')).toBeVisible();

  await page.goto(`${house.origin}/desk`);
  await expect(page.getByText('North Quay Claims has answered your request for a signed message')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Look at the answer of North Quay Claims' }).click();
  await expect(
    page.getByText(/Signed by North Quay Claims, for claims@northquay.example, and unchanged since/),
  ).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/You asked North Quay Claims for a signed message/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Keep the certificate/ }).click();
  await page.getByRole('button', { name: 'Go on with the draft Hull survey of the Teal' }).click();
  await expect(page.getByText('● Everything is settled')).toBeVisible();
  await page.getByRole('button', { name: 'Send under lock' }).click();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toBeVisible({ timeout: 30_000 });

  // They answer encrypted; it opens here, is answered in the same conversation, and gone for good when deleted
  await page.goto(`${house.origin}/outside/mailbox/claims@northquay.example`);
  await page.getByRole('link', { name: /A confidential message from Larkmoor Ferries/ }).click();
  await expect(
    page.getByText('Their mail program opened it with their certificate. Signed by Maren Oduya.'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Answer from here' }).click();
  await page.getByRole('textbox', { name: 'Text' }).fill('Thank you, all is in order.');
  await page.getByRole('radio', { name: 'Signed and encrypted' }).click();
  await page.getByRole('button', { name: 'Send it' }).click();
  await expect(page.getByText('Sent to maren.oduya@larkmoor.example.')).toBeVisible();
  await page.goto(`${house.origin}/mail/received`);
  await page.getByRole('link', { name: /^Encrypted mail, from North Quay Claims/ }).click();
  await expect(page.getByText('● encrypted to you')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Thank you, all is in order.')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'The conversation' })).toBeVisible();
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await expect(page.getByLabel('Subject')).toHaveValue('Re: Hull survey of the Teal');
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: /^Received/ }).click();
  await page.getByRole('link', { name: /^Re: Hull survey of the Teal, from North Quay Claims, Read/ }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByRole('link', { name: /^Re: Maren Oduya asks you/ })).toBeVisible();
  const survey = page.getByRole('link', { name: /^Re: Hull survey of the Teal, from/ });
  await expect(survey).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Undo: “Re: Hull survey of the Teal” is deleted.' }).click();
  await expect(survey).toBeVisible();
  expect(complaints).toEqual([]);
});

test('what is no secret goes signed and readable, where a preset says so; a lost device is dealt with in one step', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Write', exact: true }).click();
  await page.getByRole('combobox', { name: 'To' }).fill('press@islandecho.example,');
  await page.getByLabel('Subject').fill('Winter timetable');
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('From 1 December the last boat leaves at six.');
  await leaveOpen(page);
  await expect(page.getByText(/you have no certificate to sign with yet/).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send signed' })).toBeDisabled();
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('radio', { name: /^Two certificates/ }).click();
  await page.getByRole('radio', { name: /P-256/ }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Make both keys and ask' }).click();
  await expect(page.getByText(/^Signing only/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/^Encrypting only/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await page.getByRole('link', { name: 'Drafts', exact: true }).click();
  await page.getByRole('link', { name: /Winter timetable/ }).click();
  await expect(page.getByText('Signed, not locked')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send signed' }).click();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: 'Sent signed, open' })).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${house.origin}/outside/mailbox/press@islandecho.example`);
  await page.getByRole('link', { name: /Winter timetable/ }).click();
  await expect(page.getByText('Not encrypted. Signed by Ines Varga.')).toBeVisible();
  await expect(page.frameLocator('iframe').getByText(/the last boat leaves at six/)).toBeVisible();

  await page.goto(`${house.origin}/keys`);
  await page.getByRole('button', { name: 'I lost my device' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Revoke and sign out' }).click();
  await expect(page.getByText(/2 certificates are revoked, and \d+ other sign-ins? ha(s|ve) ended/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Kept for reading' })).toBeVisible();
  await expectAccessible(page);
  expect(complaints).toEqual([]);
});

test('an authority the office does not trust may be trusted by one worker alone, said wherever it counts, and taken back', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  const { openssl, put } = desk;
  openssl(
    'req',
    '-x509',
    '-newkey',
    'rsa:2048',
    '-nodes',
    '-keyout',
    'root.key',
    '-out',
    'root.pem',
    '-days',
    '900',
    '-subj',
    '/CN=Skerry Root/O=Skerry Mail',
    '-addext',
    'basicConstraints=critical,CA:TRUE',
    '-addext',
    'keyUsage=critical,keyCertSign,cRLSign',
  );
  openssl('req', '-newkey', 'rsa:2048', '-nodes', '-keyout', 'bo.key', '-out', 'bo.csr', '-subj', '/CN=Bo Skerry');
  openssl(
    'x509',
    '-req',
    '-in',
    'bo.csr',
    '-CA',
    'root.pem',
    '-CAkey',
    'root.key',
    '-days',
    '300',
    '-out',
    'bo.pem',
    '-extfile',
    put(
      'bo.ext',
      'subjectAltName=email:bo@skerry.example\nextendedKeyUsage=emailProtection\nkeyUsage=digitalSignature,keyEncipherment\n',
    ),
  );
  const signed = openssl(
    'cms',
    '-sign',
    '-in',
    put('bo.txt', 'Content-Type: text/plain\r\n\r\nHello from the skerry.\r\n'),
    '-signer',
    'bo.pem',
    '-inkey',
    'bo.key',
    '-certfile',
    'root.pem',
  );
  await deliver(
    house,
    Buffer.concat([
      Buffer.from('From: Bo Skerry <bo@skerry.example>\r\nTo: <ines.varga@larkmoor.example>\r\nSubject: Hello\r\n'),
      signed,
    ]),
    'bo@skerry.example',
    'ines.varga@larkmoor.example',
  );
  await toReceived(page);
  await page.getByRole('link', { name: /^Hello, from Bo Skerry/ }).click();
  await expect(page.getByText(/which your office does not trust/).first()).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: /^Trust the authority for myself/ }).click();
  await expect(page.getByRole('dialog', { name: 'Trust Skerry Root for yourself?' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'I compared it: trust it' }).click();
  await expect(page.getByText(/Skerry Root vouches for them, whom only you trust/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/Only you trust its authority; your office does not/)).toBeVisible();
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Authorities only you trust' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Stop trusting it: Skerry Root' }).click();
  await expect(page.getByRole('heading', { name: 'Authorities only you trust' })).toHaveCount(0);
  await toReceived(page);
  await page.getByRole('link', { name: /^Hello, from Bo Skerry/ }).click();
  await expect(page.getByText(/which your office does not trust/).first()).toBeVisible({ timeout: 30_000 });
  expect(complaints).toEqual([]);
});

test('mail to a further address comes to whom an administrator gave it, is answered from it, and signed with a certificate for it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(desktop);
  await signIn(page, house, 2);
  await page.getByRole('link', { name: 'Office', exact: true }).click();
  await page.getByRole('link', { name: 'Colleagues' }).click();
  await page.getByRole('button', { name: 'Further addresses of Tobias Quill' }).click();
  await page.getByRole('textbox', { name: 'Another address' }).fill('maren.oduya@larkmoor.example');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(
    page.getByText('maren.oduya@larkmoor.example is an address of Maren Oduya.', { exact: false }),
  ).toBeVisible();
  await page.getByRole('textbox', { name: 'Another address' }).fill('Payroll@larkmoor.example');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('button', { name: 'Take away payroll@larkmoor.example' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Done', exact: true }).click();

  await signIn(page, house, 1);
  await deliver(
    house,
    'From: Wren <wren@postbox.example>\r\nTo: <payroll@larkmoor.example>\r\nSubject: My November slip\r\nMessage-ID: <slip@postbox.example>\r\n\r\nIt has not come.\r\n',
    'wren@postbox.example',
    'payroll@larkmoor.example',
  );
  await page.getByRole('link', { name: 'Keys', exact: true }).click();
  await page.getByRole('button', { name: 'Get a certificate', exact: true }).click();
  await page.getByRole('checkbox', { name: 'payroll@larkmoor.example' }).click();
  await page.getByRole('radio', { name: /P-256/ }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Make the key and ask' }).click();
  await expect(page.getByText('tobias.quill@larkmoor.example, payroll@larkmoor.example').first()).toBeVisible({
    timeout: 60_000,
  });
  await toReceived(page);
  await page.getByRole('link', { name: /^My November slip, from Wren/ }).click();
  await page.getByRole('button', { name: 'Answer', exact: true }).click();
  await expect(page.getByRole('radio', { name: 'payroll@larkmoor.example' })).toBeChecked();
  await page.getByRole('textbox', { name: 'Text', exact: true }).click();
  await page.keyboard.insertText('It leaves today.');
  await leaveOpen(page);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send signed' }).click();
  await expect(page.getByText(/from payroll@larkmoor.example/)).toBeVisible();
  await expect(page.getByRole('main').getByText('● Copy delivered')).toBeVisible({ timeout: 30_000 });
  await page.goto(`${house.origin}/outside/mailbox/wren@postbox.example`);
  await page.getByRole('link', { name: /Re: My November slip/ }).click();
  await expect(page.getByText('Not encrypted. Signed by Tobias Quill.')).toBeVisible();
  await expect(page.getByText(/From Tobias Quill <payroll@larkmoor.example>/)).toBeVisible();
  await page.getByRole('button', { name: 'Show the source' }).click();
  await expect(page.getByText(/In-Reply-To: <slip@postbox.example>/)).toBeVisible();
  // The browser notes the refusal that was asked for.
  expect(complaints.filter((one) => !one.endsWith('409 (Conflict)'))).toEqual([]);
});
