/**
 * The first path against real PostgreSQL and a real SMTP conversation: send, be told, prove, read, move the date,
 * withdraw.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import * as roomApi from '@under-lock/contract/room';
import { partCount } from '@under-lock/contract/blob';
import { concat } from '@under-lock/core/bytes';
import { joinKey, shareFromFragment, shareProof } from '@under-lock/core/locks/room/grant';
import { roomLock } from '@under-lock/core/locks/room/index';
import { demoMessage, type House, linkFromMail, openHouse, send, type Worker } from './house';

let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
});
afterAll(() => house.stop());

test('a message is sent, told, opened with a texted passcode, moved and withdrawn', async () => {
  const message = demoMessage();
  const sent = await send(maren, message);
  const { grantId, fragment } = await linkFromMail(house, 'pell.anders@postbox.example');
  const share = shareFromFragment(fragment)!;
  const reader = house.visitor();

  const room = await reader(roomApi.lookAtRoom, { params: { id: grantId } });
  expect(room).toMatchObject({ state: 'held', check: { kind: 'text', hint: '···\u00a0417' }, identified: false });

  const proof = await shareProof(share);
  await reader(roomApi.sendPasscode, { params: { id: grantId }, body: { proof } });
  const passcode = /^(\d{6})/.exec(house.world.store.texts.at(-1)!.text)![1]!;
  await expect(reader(roomApi.openRoom, { params: { id: grantId } })).rejects.toMatchObject({ code: 'not-identified' });
  await expect(
    reader(roomApi.enterPasscode, {
      params: { id: grantId },
      body: { proof, passcode: passcode === '000000' ? '000001' : '000000' },
    }),
  ).rejects.toMatchObject({ code: 'passcode-wrong' });
  await reader(roomApi.enterPasscode, { params: { id: grantId }, body: { proof, passcode } });
  // Spent: the same digits open no second session.
  await expect(
    house.visitor()(roomApi.enterPasscode, { params: { id: grantId }, body: { proof, passcode } }),
  ).rejects.toMatchObject({ code: 'passcode-expired' });

  const released = await reader(roomApi.openRoom, { params: { id: grantId } });
  const parts = await Promise.all(
    Array.from({ length: partCount(released.size) }, (_, index) =>
      reader(roomApi.getRoomPart, { params: { id: grantId, index } }),
    ),
  );
  const key = await joinKey(share, released, { grantId, messageId: released.messageId });
  const opened = await roomLock.open({ content: concat(...parts), key });
  expect(opened.subject).toBe(message.subject);
  expect(Buffer.compare(opened.files[0]!.bytes, message.files[0]!.bytes)).toBe(0); // toEqual takes a minute over 2.5 MB

  await reader(roomApi.openRoom, { params: { id: grantId } }); // a reload
  const [line] = (await maren.client(messageApi.getSent, { params: { id: sent.id } })).grants;
  expect(line).toMatchObject({ notice: { state: 'accepted' }, opened: { count: 1 }, wrongTries: 1, state: 'held' });

  const later = new Date(Date.now() + 20 * 86_400_000);
  await maren.client(messageApi.moveClosing, {
    params: { id: sent.id },
    body: { grantIds: [grantId], closesAt: later },
  });
  expect((await reader(roomApi.lookAtRoom, { params: { id: grantId } })) as object).toMatchObject({ closesAt: later });

  expect(
    await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [grantId] } }),
  ).toEqual({ withdrawn: 1, hadOpened: 1 });
  expect((await reader(roomApi.lookAtRoom, { params: { id: grantId } })).state).toBe('withdrawn');
  await expect(reader(roomApi.getRoomPart, { params: { id: grantId, index: 0 } })).rejects.toMatchObject({
    code: 'not-identified',
  });
});
