/** The office book: begun, colleagues let in, a person kept once and used by everybody, and let out again. */
import { type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { Openssl } from '../core/test/certificate/openssl';
import { type LdapDirectory, startLdap } from '../server/test/ldap-directory';
import { chooseFiles, desktop, expect, expectAccessible, phone, signIn, test } from './house';
import { databaseDump, withDatabase } from './readers';
import { storedIn } from './stored';
import { beginLetter, openPlan, openWays } from './writing';

// The demo's book is taken away in one of these, which a browser that has met it would notice.
test.use({ houseFor: 'office-book', apart: true });

/** A table, on the page for bringing people in. */
const bring = (page: Page, table: string): Promise<void> =>
  chooseFiles(page, 'Choose a file', { name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(table) });

const accountsOf = (names: readonly string[]): Set<string> => new Set(names.map((name) => name.split('/')[0]!));

let directory: LdapDirectory | undefined;
test.afterEach(() => directory?.stop());

test('one colleague writes a person into it, another writes to them; who is let out sees nothing of it', async ({
  house,
  page,
  complaints,
}) => {
  // The demo has one; an office begins without.
  await withDatabase(house, (database) => database.query('DELETE FROM office_keys'));
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await expect(page.getByText('No office book yet')).toBeVisible();
  await expect(page.getByText(/An administrator begins it/)).toBeVisible();
  await expectAccessible(page);

  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Begin the office book' }).click();
  await expect(page.getByText('Nobody in it yet')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Who is in (2 to let in)' }).click();
  await expect(page.getByRole('heading', { name: 'Who is in', level: 1 })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Let in Maren Oduya' }).click();
  await expect(page.getByText(/Let in by Ines Varga/)).toBeVisible();

  await page.setViewportSize(desktop);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Add a person' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Linde Brandt');
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill('linde@postbox.example');
  await page.getByRole('textbox', { name: 'Phone for passcodes' }).fill('+447700900821');
  await page.getByRole('textbox', { name: 'Firm' }).fill('North Quay Ltd');
  await page.getByRole('textbox', { name: 'Note for colleagues' }).fill('Asks for the blue form.');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('heading', { name: 'Linde Brandt', level: 1 })).toBeVisible();
  await expect(page.getByText(/Ines Varga changed name, address, firm/)).toBeVisible();
  await expectAccessible(page);

  // Who is in writes to them, and need know nothing of them.
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('link', { name: /Linde Brandt/ }).click();
  await expect(page.getByText('Asks for the blue form.')).toBeVisible();
  await page.getByRole('button', { name: 'Write to Linde Brandt' }).click();
  await expect(page.getByRole('list', { name: 'Chosen for To' }).getByText('Linde Brandt')).toBeVisible();
  await openPlan(page);
  await expect(page.getByText(/text message to .*21 · known to the office/)).toBeVisible();
  await openWays(page, 'Linde');
  await expect(page.getByText(/From the office book: .*phone/)).toBeVisible();
  await expectAccessible(page);

  // A person of one's own is shared with a press; both sides of a difference are shown.
  await page.goto(`${house.origin}/people/new`);
  await page.getByRole('textbox', { name: 'Name' }).fill('Ole Ros');
  await page.getByRole('textbox', { name: 'Address', exact: true }).fill('ole@postbox.example');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('button', { name: 'Share with the office' }).click();
  await expect(page.getByText('The office book says the same.')).toBeVisible();
  await page.getByRole('button', { name: /Change the details/ }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Ole Rosen');
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText(/You keep the name Ole Rosen, the office book Ole Ros/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Give it mine: name' }).click();
  await expect(page.getByText('The office book says the same.')).toBeVisible();

  const dump = databaseDump(house);
  for (const said of ['Linde Brandt', 'blue form', 'Ole Rosen', 'North Quay'])
    expect(dump.includes(said) || dump.includes(Buffer.from(said).toString('base64').slice(0, -4))).toBe(false);
  // On the device it lies sealed, and only for who is signed in.
  const kept = await storedIn(page, 'under-lock-stock');
  const [maren, ...others] = accountsOf(kept.names);
  expect(others).toEqual([]);
  expect(kept.names).toContain(`${maren}/book/book-person/head`);
  expect(kept.octets.length).toBeGreaterThan(500);
  for (const said of ['Linde', 'blue form', 'Ole', 'North Quay']) expect(kept.octets).not.toContain(said);

  // Let out, a new key, and nothing more for who is out.
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office/members`);
  await page.getByRole('button', { name: 'Let out Maren Oduya' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Let out', exact: true }).click();
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Make a new key' }).click();
  await expect(page.getByRole('button', { name: 'Make a new key' })).toHaveCount(0);
  await expect(page.getByRole('link', { name: /Ole Rosen/ })).toBeVisible();
  const after = accountsOf((await storedIn(page, 'under-lock-stock')).names);
  expect([after.size, after.has(maren!)]).toEqual([1, false]);
  await page.setViewportSize(phone);
  await signIn(page, house, 0);
  await page.goto(`${house.origin}/people/office`);
  await expect(page.getByText(/An administrator has let you out/)).toBeVisible();
  await beginLetter(page, 'linde@postbox.example', 'Berths');
  await openPlan(page);
  await expect(page.getByText(/known to the office/)).toHaveCount(0);
  expect(complaints).toEqual([]);
});

test('people come in from a table, what can’t be taken is said, and all go out again', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Bring in, take along' }).click();
  await bring(page, 'Colour;Size\nred;2\n');
  await expect(page.getByText(/neither a file of cards nor a table/)).toBeVisible();
  await bring(page, 'Name,Address\nUlf Sand,ulf@postbox.example\n');
  await page.getByRole('button', { name: 'Take 1' }).click();
  await expect(page.getByText('Taken: 1 person.')).toBeVisible();
  await bring(
    page,
    'E-mail;Full name;Mobile;Company\nada@yard.example;Ada Lind;+44 7700 900311;Yard\nno address;Bo;;\nulf@postbox.example;Ulf S.;+44 7700 900312;\n',
  );
  await expect(page.getByText('1 new, 1 known already (1 with something new)')).toBeVisible();
  await expect(page.getByText('▲ Number 3 is left out: no mail address (no address).')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take 2' }).click();
  await expect(page.getByText('Taken: 2 people.')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save cards' }).click();
  const saved = readFileSync(await (await download).path(), 'utf8');
  for (const line of [
    'EMAIL;PREF=1:ada@yard.example',
    'ORG:Yard',
    'FN:Ulf Sand',
    'TEL;TYPE=cell;VALUE=uri:tel:+447700900312',
  ])
    expect(saved).toContain(line);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('textbox', { name: 'Find a person or firm' }).fill('yard ada');
  await expect(page.getByRole('link', { name: /Ada Lind/ })).toBeVisible();
  await expect(page.getByRole('link', { name: /Ulf Sand/ })).toHaveCount(0);
  await page.getByRole('link', { name: /Ada Lind/ }).click();
  await expect(page.getByText(/Ines Varga imported name, address, firm, phone/)).toBeVisible();
  // What holds for everybody at a firm.
  await page.getByRole('link', { name: 'Everybody at yard.example' }).click();
  await expect(page.getByRole('heading', { name: 'yard.example', level: 1 })).toBeVisible();
  await page
    .getByRole('radiogroup', { name: 'Lock' })
    .getByRole('radio', { name: /^Carried page/ })
    .click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep for the whole office' }).click();
  await expect(page.getByRole('button', { name: 'Keep for the whole office' })).toHaveCount(0);
  await beginLetter(page, 'somebody@yard.example', 'Ropes', 'The list.');
  await openPlan(page);
  await expect(
    page
      .getByRole('listitem', { name: /carried page/i })
      .or(page.getByText(/carried page/i))
      .first(),
  ).toBeVisible();
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('link', { name: /Ada Lind/ }).click();
  // Taken out, and had back.
  await page.getByRole('button', { name: 'Take out of the office book' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('textbox', { name: 'Find a person or firm' }).fill('ada');
  await expect(page.getByRole('link', { name: /Ada Lind/ })).toBeVisible();
  expect(complaints).toEqual([]);
});

test('people come in from the office’s own directory with their certificates, and what it has anew the next time', async ({
  house,
  page,
  complaints,
}) => {
  const openssl = new Openssl();
  const { bytes: certificate } = openssl.holder(
    'sigrid',
    'p256',
    openssl.holder('root'),
    'keyUsage=critical,keyAgreement\nsubjectAltName=email:sigrid@quaymaster.example',
  ).certificate;
  directory = await startLdap(
    [
      {
        uid: 'sigrid',
        values: {
          cn: 'Sigrid Brandt',
          mail: 'sigrid@quaymaster.example',
          o: 'Quaymaster',
          mobile: '+44 7700 900831',
          'userCertificate;binary': certificate,
        },
      },
      { uid: 'ros', values: { cn: 'Ros Brandt', mail: 'ros@quaymaster.example' } },
      { uid: 'far', values: { cn: 'Far Away', mail: 'no address' } },
    ],
    { elsewhere: ['ldaps://directory.elsewhere.example/'] },
  );
  await house.killServer();
  await house.startServer({
    UNDERLOCK_LDAP_URL: directory.secureUrl,
    UNDERLOCK_LDAP_BASE: directory.base,
    UNDERLOCK_LDAP_USER: directory.user,
    UNDERLOCK_LDAP_PASSWORD: directory.password,
    UNDERLOCK_LDAP_CA: directory.ca,
  });
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Bring in, take along' }).click();
  const field = page.getByRole('textbox', { name: 'Or in the office’s directory' });
  await field.fill('Nobody at all');
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  await expect(page.getByText(/The directory has nobody like that with a mail address\./)).toBeVisible();
  await field.fill('');
  await field.press('Enter');
  await expect(page.getByText('2 new, 0 known already')).toBeVisible();
  await expect(page.getByText('With 1 certificate; nobody has compared them yet.')).toBeVisible();
  await expect(page.getByText('▲ Number 3 is left out: no mail address (no address).')).toBeVisible();
  await expect(page.getByText('Some of its people lie in another directory, which was not asked.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take 2' }).click();
  await expect(page.getByText('Taken: 2 people.')).toBeVisible();
  await field.fill('brandt');
  await field.press('Enter');
  await expect(page.getByText('0 new, 2 known already')).toBeVisible();
  await page.getByRole('button', { name: 'Leave it' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save cards' }).click();
  const saved = readFileSync(await (await download).path(), 'utf8').replace(/\r\n |\\(?=,)/g, '');
  expect(saved).toContain(`KEY:data:application/pkix-cert;base64,${Buffer.from(certificate).toString('base64')}`);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('link', { name: /sigrid@quaymaster\.example/ }).click();
  await page.getByRole('button', { name: /^Certificate: / }).click();
  await expect(page.getByText(/Nobody has compared the fingerprint with them yet/)).toBeVisible();
  await directory.stop();
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Bring in, take along' }).click();
  complaints.length = 0;
  await page.getByRole('button', { name: 'Look in the directory' }).click();
  await expect(page.getByText(/The directory does not answer as it should\. Try again later/)).toBeVisible();
  // Chrome itself puts down that a request was answered by 502.
  expect(complaints.filter((one) => !one.includes('502'))).toEqual([]);
});

test('who is in it twice is found, told apart or made one, and had back', async ({ house, page, complaints }) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: 'Bring in, take along' }).click();
  await bring(
    page,
    [
      'Name,Address,Firm,Phone,Note',
      'Orla Finn,orla@sailmakers.example,Sailmakers,,Mornings only',
      '"Finn, Orla",o.finn@sailmakers.example,Sailmakers,+44 7700 900623,',
      'Bo Marsh,bo@ropewalk.example,,+44 7700 900624,',
      'Una Marsh,una@ropewalk.example,,+44 7700 900624,',
      '',
    ].join('\r\n'),
  );
  await page.getByRole('button', { name: 'Take 4' }).click();
  await expect(page.getByText('Taken: 4 people.')).toBeVisible();
  await page.goto(`${house.origin}/people/office`);
  await page.getByRole('button', { name: /^Perhaps twice/ }).click();
  await expect(page.getByText('▲ The same name at the same firm')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^They are two people: .*@ropewalk\.example$/ }).click();
  await expect(page.getByText('Una Marsh')).toHaveCount(0);
  await page.getByRole('button', { name: 'Write to orla@sailmakers.example' }).click();
  await expect(page.getByText('Nobody twice', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: /^Undo: o\.finn@sailmakers\.example belongs to Orla Finn/ }).click();
  await page.getByRole('button', { name: 'Write to orla@sailmakers.example' }).click();
  await expect(page.getByText('Nobody twice', { exact: true })).toBeVisible();
  await page.goto(`${house.origin}/people/office`);
  await expect(page.getByRole('button', { name: /^Perhaps twice/ })).toHaveCount(0);
  await page.getByRole('link', { name: /Orla Finn/ }).click();
  await expect(page.getByText('o.finn@sailmakers.example')).toBeVisible();
  await expect(page.getByText('Mornings only')).toBeVisible();
  expect(complaints).toEqual([]);
});

test('an office book from an earlier time is not used until a member says that they go on with it', async ({
  house,
  page,
  complaints,
}) => {
  await page.setViewportSize(phone);
  await signIn(page, house, 2);
  const add = async (name: string, address: string): Promise<void> => {
    await page.goto(`${house.origin}/people/office/new`);
    await page.getByRole('textbox', { name: 'Name' }).fill(name);
    await page.getByRole('textbox', { name: 'Address', exact: true }).fill(address);
    await page.getByRole('button', { name: 'Keep' }).click();
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  };
  await add('Hanne Vik', 'hanne.vik@postbox.example');
  const now = () =>
    withDatabase(
      house,
      async (database) =>
        (await database.query(`SELECT epoch, revision FROM office_manifests WHERE kind = 'book-person'`)).rows as [
          { epoch: number; revision: number },
        ],
    );
  const [{ epoch, revision }] = await now();
  await add('Odd Moen', 'odd.moen@postbox.example');
  await withDatabase(house, async (database) => {
    await database.query(`UPDATE office_manifests SET revision = $2 WHERE epoch = $1 AND kind = 'book-person'`, [
      epoch,
      revision,
    ]);
    await database.query('DELETE FROM office_manifest_steps WHERE epoch = $1 AND revision > $2', [epoch, revision]);
  });
  await page.goto(`${house.origin}/people/office`);
  const told = page.getByText('The server gave out an older state of the office book, so nothing of it is used.');
  await expect(told.first()).toBeVisible();
  await expect(page.getByRole('link', { name: /Hanne Vik/ })).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'What can I do?' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Go on with what is there' }).click();
  await expect(page.getByRole('link', { name: /Hanne Vik/ })).toBeVisible();
  await expect(told).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('link', { name: /Odd Moen/ })).toBeVisible();
  expect(complaints).toEqual([]);
});
