/**
 * Sending later and taking back: until it leaves nobody is told and nobody can read; taken back, nothing of it stays.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import { getReceived, listReceived, openReceived } from '@under-lock/contract/received';
import { lookAtRoom, sendPasscode } from '@under-lock/contract/room';
import { sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { randomUUID } from 'node:crypto';
import { rows } from '../src/data/database';
import {
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

const HOUR = 3_600_000;
const pell = 'pell.anders@postbox.example';

let house: House;
let maren: Worker;
let tobias: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  [maren, tobias] = [await house.worker('maren.oduya'), await house.worker('tobias.quill')];
  key = await giveKeyPair(tobias);
});
beforeEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

/** To Pell by a link and to Tobias as a colleague, to leave at a time. */
async function sendAt(leavesAt: Date) {
  const prepared = await prepare(
    demoMessage({
      files: [],
      to: [
        { name: '', address: pell },
        { name: '', address: tobias.account.address },
      ],
    }),
  );
  const [link, { readerShare, id, address, name, role, houseShare, wrappedKey }] = prepared.dispatch.grants as [
    (typeof prepared.dispatch.grants)[0],
    (typeof prepared.dispatch.grants)[0],
  ];
  const colleague = {
    id,
    address,
    name,
    role,
    houseShare,
    wrappedKey,
    reader: {
      kind: 'account' as const,
      accountId: tobias.account.id,
      sealedShare: await sealTo(key, readerShare, shareContext(id)),
      sealedSummary: await sealSummary({ subject: 'x' }, readerShare, id),
    },
  };
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const body = { ...prepared.dispatch, leavesAt, grants: [link, colleague] };
  const reply = await maren.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body });
  return { ...prepared, body, reply, link, colleague };
}
const mails = () => house.world.store.mails.filter(({ mailbox }) => mailbox === pell).length;

test('until it leaves it lies nowhere: no notice, no page under its link, nothing in Received, no need on the desk', async () => {
  const before = mails();
  const leavesAt = new Date(Date.now() + HOUR);
  const sent = await sendAt(leavesAt);
  expect(sent.reply.sentAt).toEqual(leavesAt);
  await new Promise((done) => setTimeout(done, 1500));
  expect(mails()).toBe(before);
  const params = { id: sent.link.id };
  await expect(house.visitor()(lookAtRoom, { params })).rejects.toMatchObject({ code: 'wrong-link' });
  await expect(
    house.visitor()(sendPasscode, { params, body: { proof: await shareProof(sent.link.readerShare) } }),
  ).rejects.toMatchObject({ code: 'wrong-link' });
  expect((await tobias.client(listReceived)).messages).toEqual([]);
  for (const refused of [getReceived, openReceived])
    await expect(
      tobias.client(refused as typeof getReceived, { params: { id: sent.colleague.id } }),
    ).rejects.toMatchObject({ code: 'not-found' });
  expect((await maren.client(messageApi.getDesk)).needs).toEqual([]);
  // When its time has come it is there.
  house.clock.real = false;
  house.clock.now = new Date(leavesAt.getTime() + 1000);
  expect((await house.visitor()(lookAtRoom, { params })).state).toBe('held');
  expect((await tobias.client(listReceived)).messages).toMatchObject([
    { grantId: sent.colleague.id, arrivedAt: leavesAt },
  ]);
});

test('a second later it goes by itself, with that time on its notice', async () => {
  const before = mails();
  const sent = await sendAt(new Date(Date.now() + 1200));
  expect(mails()).toBe(before);
  // The mail host has it a moment before our record says so.
  const notice = await eventually(
    async () => (await maren.client(messageApi.getSent, { params: { id: sent.id } })).notices[0],
    20,
  );
  expect(mails()).toBe(before + 1);
  expect(notice.sentAt).toEqual(sent.reply.sentAt);
}, 40_000);

test('taken back, nothing of it stays and the same draft can be sent again; what has left can’t be', async () => {
  const sent = await sendAt(new Date(Date.now() + HOUR));
  await expect(tobias.client(messageApi.takeBack, { params: { id: sent.id } })).rejects.toMatchObject({
    code: 'not-found',
  });
  await maren.client(messageApi.takeBack, { params: { id: sent.id } });
  const { db } = house.server.context;
  expect(await rows(db, 'SELECT 1 FROM grants WHERE message_id = $1', [sent.id])).toHaveLength(0);
  expect(await rows(db, 'SELECT 1 FROM vault_items WHERE id = $1', [sent.id])).toHaveLength(0);
  expect(await rows(db, `SELECT 1 FROM outbox WHERE grant_id = $1`, [sent.link.id])).toHaveLength(0);
  const { leavesAt: _, ...now } = sent.body;
  await maren.client(messageApi.dispatchMessage, { params: { id: sent.id }, body: now });
  await expect(maren.client(messageApi.takeBack, { params: { id: sent.id } })).rejects.toMatchObject({
    code: 'conflict',
  });
});

test('the closing date counts from when it leaves; too far ahead is refused', async () => {
  const prepared = await prepare(demoMessage({ files: [] }), { closesAt: new Date(Date.now() + 10 * HOUR) });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const attempt = (leavesAt: Date) =>
    maren.client(messageApi.dispatchMessage, {
      params: { id: randomUUID() },
      body: { ...prepared.dispatch, leavesAt },
    });
  await expect(attempt(new Date(Date.now() + 11 * HOUR))).rejects.toMatchObject({ code: 'closing-out-of-range' });
  await expect(attempt(new Date(Date.now() + 120 * 24 * HOUR))).rejects.toMatchObject({ code: 'invalid-input' });
});

test('the office’s seconds for taking back pass before anybody is told', async () => {
  const slow = await openHouse({ UNDERLOCK_UNDO_SECONDS: '3' });
  try {
    const worker = await slow.worker('maren.oduya');
    const prepared = await prepare(demoMessage({ files: [] }));
    await upload(worker.client, prepared.contentBlobId, prepared.content);
    await worker.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch });
    expect(slow.world.store.mails).toHaveLength(0);
    await worker.client(messageApi.takeBack, { params: { id: prepared.id } });
    await new Promise((done) => setTimeout(done, 5000));
    expect(slow.world.store.mails).toHaveLength(0);
  } finally {
    await slow.stop();
  }
}, 40_000);
