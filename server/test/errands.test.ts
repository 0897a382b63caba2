/** Reminders and receipts: to whom, when, once, and without a link or anything of the content. */
import * as messageApi from '@under-lock/contract/outgoing';
import * as presetApi from '@under-lock/contract/handling';
import { enterPasscode, openRoom, sendPasscode } from '@under-lock/contract/room';
import { NO_RIGHTS } from '@under-lock/core/handling/handling';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { randomUUID } from 'node:crypto';
import PostalMime from 'postal-mime';
import { remindDue } from '../src/outgoing/errands';
import { demoMessage, eventually, type House, openHouse, prepare, upload, type Worker } from './house';

const HOUR = 3_600_000;
const [opener, sleeper] = ['pell.anders@postbox.example', 'office@saltmarsh.example'];

let house: House;
let ines: Worker;
let maren: Worker;
let presetId: string;
beforeAll(async () => {
  house = await openHouse();
  [ines, maren] = [await house.worker('ines.varga', 'administrator'), await house.worker('maren.oduya')];
  presetId = randomUUID();
  const terms = {
    closing: { kind: 'end-of-quarter' as const },
    check: 'text' as const,
    question: false,
    rights: NO_RIGHTS,
    watermark: false,
    copies: false,
    clear: false,
    textOpen: false,
    audience: 'anyone' as const,
    receipt: true,
    remindHours: 48,
    mayLoosen: { closing: true, identity: false, rights: false },
  };
  await ines.client(presetApi.putPreset, {
    params: { id: presetId },
    body: { name: 'Watched', sentence: 'x', terms, active: true },
  });
});
beforeEach(() => {
  house.clock.real = true;
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
});
afterAll(() => house.stop());

const mailsTo = (address: string) => house.world.store.mails.filter(({ mailbox }) => mailbox === address);
const read = (mail: { raw: string }) => PostalMime.parse(Buffer.from(mail.raw, 'base64'));

async function sendWatched(hours: number) {
  const prepared = await prepare(
    demoMessage({
      files: [],
      to: [
        { name: 'Pell', address: opener! },
        { name: 'Yard', address: sleeper! },
      ],
    }),
    { closesAt: new Date(Date.now() + hours * HOUR), terms: { rights: NO_RIGHTS } },
  );
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, presetId },
  });
  await eventually(async () =>
    (await maren.client(messageApi.getSent, { params: { id: prepared.id } })).grants.every(
      ({ notice }) => notice.state === 'accepted',
    )
      ? true
      : undefined,
  );
  return prepared;
}

async function openFirst({ dispatch }: Awaited<ReturnType<typeof sendWatched>>): Promise<void> {
  const [{ id, readerShare }] = dispatch.grants as [(typeof dispatch.grants)[0]];
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  await reader(sendPasscode, { params: { id }, body: { proof } });
  await reader(enterPasscode, {
    params: { id },
    body: { proof, passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0] },
  });
  await reader(openRoom, { params: { id } });
  await reader(openRoom, { params: { id } });
}

test('the sender gets one receipt at the first opening: who and when, nothing of the content', async () => {
  const sent = await sendWatched(100);
  await openFirst(sent);
  const mail = await read(await eventually(() => mailsTo(maren.account.address)[0], 25));
  expect(mail.subject).toBe(`${opener} has opened your message`);
  expect(mail.text).toContain('CR-2611-204');
  expect(mail.text).toContain(`/mail/${sent.id}`);
  expect(mail.text).not.toMatch(/Fitness|eyesight/);
  await new Promise((done) => setTimeout(done, 3_000));
  expect(mailsTo(maren.account.address)).toHaveLength(1);
}, 60_000);

test('whoever has not opened is reminded once within the preset’s hours, without a link; whoever has is not', async () => {
  const sent = await sendWatched(100);
  await openFirst(sent);
  const before = { [opener!]: mailsTo(opener!).length, [sleeper!]: mailsTo(sleeper!).length };
  await remindDue(house.server.context);
  expect(mailsTo(sleeper!)).toHaveLength(before[sleeper!]!);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 60 * HOUR);
  await Promise.all([
    remindDue(house.server.context),
    remindDue(house.server.context),
    remindDue(house.server.context),
  ]);
  expect(mailsTo(opener!)).toHaveLength(before[opener!]!);
  // The first test's message slept on, too.
  const reminders = await Promise.all(mailsTo(sleeper!).slice(before[sleeper!]!).map(read));
  expect(reminders).toHaveLength(2);
  for (const reminder of reminders) {
    expect(reminder.subject).toBe('Not read yet: a message from maren.oduya');
    expect(reminder.text).not.toMatch(/\/room\/|#/);
  }
  await remindDue(house.server.context);
  expect(mailsTo(sleeper!)).toHaveLength(before[sleeper!]! + 2);
  house.clock.real = true;
  expect(
    (await maren.client(messageApi.getSent, { params: { id: sent.id } })).events.map(({ kind }) => kind),
  ).toContain('reminded');
}, 60_000);

test('a mail host that is down is tried again later; what closes within the hours from the start is not reminded of', async () => {
  const sent = await sendWatched(60);
  const short = await sendWatched(24);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 20 * HOUR);
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  const before = mailsTo(sleeper!).length;
  await remindDue(house.server.context);
  expect(mailsTo(sleeper!)).toHaveLength(before);
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  await remindDue(house.server.context);
  expect(mailsTo(sleeper!)).toHaveLength(before + 1);
  house.clock.real = true;
  const kinds = async (id: string) =>
    (await maren.client(messageApi.getSent, { params: { id } })).events.map(({ kind }) => kind);
  expect(await kinds(sent.id)).toContain('reminded');
  expect(await kinds(short.id)).not.toContain('reminded');
}, 60_000);
