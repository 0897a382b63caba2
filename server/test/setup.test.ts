/** Setting up a new office: what is done is known, a test mail tells what the mail host says, the starters are taken. */
import { listPresets, putPreset } from '@under-lock/contract/handling';
import { getSetup, sayRecordsPublished, tryMail } from '@under-lock/contract/office';
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
