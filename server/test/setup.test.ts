/** Setting up a new office: what is done is known, a test mail tells what the mail host says, the starters are taken. */
import { listPresets, putPreset } from '@under-lock/contract/handling';
import { getSetup, listSigningKeys, lookUpRecords, sayRecordsPublished, tryMail } from '@under-lock/contract/office';
import { STARTERS } from '@under-lock/core/handling/starters';
import { codeOf, type House, openHouse, type Worker } from './house';

let house: House;
let ines: Worker;
beforeAll(async () => {
  house = await openHouse();
  ines = await house.worker('ines.varga', 'administrator');
});
afterEach(() => {
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
});
afterAll(() => house.stop());

test('a new office has nothing set up; each step is done once it is', async () => {
  expect(await ines.client(getSetup)).toEqual({
    presets: 0,
    authorities: 0,
    colleagues: 1,
    tlsRequired: false,
  });
  for (const starter of STARTERS)
    await ines.client(putPreset, { params: { id: crypto.randomUUID() }, body: { ...starter, active: true } });
  expect((await ines.client(listPresets)).presets.map(({ name }) => name)).toEqual(STARTERS.map(({ name }) => name));
  await ines.client(sayRecordsPublished);
  const worker = await house.worker('maren.oduya');
  expect(await ines.client(getSetup)).toMatchObject({
    presets: 4,
    colleagues: 2,
    recordsPublishedAt: expect.any(Date),
  });
  expect(await codeOf(worker.client(getSetup))).toBe('not-allowed');
  expect(await codeOf(worker.client(tryMail))).toBe('not-allowed');
});

test('a test mail goes to whoever asks; what the mail host says to it is kept, also when it says no or nothing', async () => {
  expect(await ines.client(tryMail)).toMatchObject({ outcome: 'accepted' });
  const mail = house.world.store.mails.find(({ mailbox }) => mailbox === ines.account.address)!;
  expect(Buffer.from(mail.raw, 'base64').toString()).toContain('Subject: Mail leaves ');
  expect((await ines.client(getSetup)).mailTried).toMatchObject({ outcome: 'accepted', at: expect.any(Date) });
  house.world.behaviour.current = { mail: 'refuse', phone: 'deliver' };
  const refused = await ines.client(tryMail);
  expect(refused.outcome).toBe('refused');
  expect(refused.answer).not.toBe('');
  expect((await ines.client(getSetup)).mailTried).toMatchObject(refused);
});

test('records are looked up as the DNS has them; they count as published once both are right', async () => {
  const { config } = house.server.context;
  const { keys } = await ines.client(listSigningKeys);
  const { name, value } = keys[0]!.record;
  const host = new URL(config.roomOrigin).hostname;
  const found = async () => {
    const { records } = await ines.client(lookUpRecords);
    return Object.fromEntries(records.map(({ what, state, found: instead }) => [what, [state, instead]]));
  };
  const openpgp = `openpgpkey.${config.office.mailDomain}`;
  expect(await found()).toEqual({ 'signing-key': ['missing', undefined], keys: ['missing', undefined] });

  house.world.entered.push(
    { name, type: 'TXT', data: 'v=DKIM1; k=rsa; p=MIIB' },
    { name: openpgp, type: 'A', data: '192.0.2.7' },
  );
  expect(await found()).toEqual({ 'signing-key': ['other', 'v=DKIM1; k=rsa; p=MIIB'], keys: ['other', '192.0.2.7'] });
  const before = await ines.client(getSetup);

  // As people enter it: with spaces in between.
  house.world.entered.splice(0, 2, { name, type: 'TXT', data: value.replace(/(.{60})/g, '$1 ') });
  expect((await found())['signing-key']).toEqual(['right', undefined]);
  expect(await ines.client(getSetup)).toEqual(before);

  house.world.entered.push({ name: openpgp, type: 'A', data: host });
  expect(await found()).toEqual({ 'signing-key': ['right', undefined], keys: ['right', undefined] });
  expect((await ines.client(getSetup)).recordsPublishedAt).not.toEqual(before.recordsPublishedAt);
});

test('where nobody answers it is said so, and nothing counts', async () => {
  const { config } = house.server.context;
  const { dns } = config;
  const before = await ines.client(getSetup);
  config.dns = '127.0.0.1:9';
  try {
    const { records } = await ines.client(lookUpRecords);
    expect(records.map(({ state }) => state)).toEqual(['unanswered', 'unanswered']);
  } finally {
    config.dns = dns;
  }
  expect(await ines.client(getSetup)).toEqual(before);
  expect(await codeOf((await house.worker('tobias.quill')).client(lookUpRecords))).toBe('not-allowed');
});
