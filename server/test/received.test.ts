/**
 * Colleagues: a message lies in their Received at once, opens with their own key and sign-in, and keeps its sender's
 * limits.
 */
import { ALL_RIGHTS } from '@under-lock/core/handling/handling';
import { listColleagues, putAccountKey } from '@under-lock/contract/account';
import * as messageApi from '@under-lock/contract/outgoing';
import {
  getReceived,
  getReceivedPart,
  listReceived,
  markReceived,
  openReceived,
  recordReceivedUse,
} from '@under-lock/contract/received';
import { lookAtRoom } from '@under-lock/contract/room';
import { fetchWords } from '@under-lock/contract/search';
import { openFrom, openSummary, shareContext } from '@under-lock/core/account/key-pair';
import { concat, randomBytes } from '@under-lock/core/bytes';
import { joinKey } from '@under-lock/core/locks/room/grant';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import {
  demoMessage,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  prepare,
  sendToColleague,
  upload,
  type Worker,
  receivedOf,
} from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let ines: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  [maren, tobias, ines] = [
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
    await house.worker('ines.varga'),
  ];
  key = await giveKeyPair(tobias);
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

const sendToTobias = (over: Parameters<typeof prepare>[1] = {}) => sendToColleague(maren, tobias, key, over);

test('it lies in Received at once, without a notice, unread; it opens with the account’s key; the sender sees it', async () => {
  const { id, messageId } = await sendToTobias();
  const list = await receivedOf(tobias);
  expect(list.held[0]).toMatchObject({
    grantId: id,
    messageId,
    unread: true,
    state: 'held',
    from: { name: 'maren.oduya', address: 'maren.oduya@larkmoor.example' },
  });
  expect(list.unread).toBe(1);
  const { sealed } = list.held[0]!;
  expect(
    await openSummary(sealed!.summary, await openFrom(key.privateKey, sealed!.share, shareContext(id)), id),
  ).toEqual({ subject: 'Fitness papers' });
  const released = await tobias.client(openReceived, { params: { id } });
  const share = await openFrom(key.privateKey, released.sealedShare, shareContext(id));
  const contentKey = await joinKey(share, released, { grantId: id, messageId });
  const content = concat(await tobias.client(getReceivedPart, { params: { id, index: 0 } }));
  expect((await openFromRoom({ content, key: contentKey })).text).toBe(
    'The eyesight test of 12 November is on page two.',
  );
  expect((await tobias.client(listReceived)).unread).toBe(0);
  await tobias.client(openReceived, { params: { id } });
  expect((await maren.client(messageApi.getSent, { params: { id: messageId } })).grants[0]).toMatchObject({
    check: { kind: 'account' },
    opened: { count: 1 },
  });
  await tobias.client(markReceived, { params: { id }, body: { unread: true } });
  expect((await tobias.client(listReceived)).unread).toBe(1);
  expect(house.world.store.mails.filter(({ mailbox }) => mailbox === tobias.account.address)).toEqual([]);
});

test('nobody else gets it: not another colleague, not the sender, not by a link', async () => {
  const { id } = await sendToTobias();
  for (const client of [ines.client, maren.client]) {
    await expect(client(openReceived, { params: { id } })).rejects.toMatchObject({ code: 'not-found' });
    await expect(client(getReceived, { params: { id } })).rejects.toMatchObject({ code: 'not-found' });
    await expect(client(getReceivedPart, { params: { id, index: 0 } })).rejects.toMatchObject({ code: 'not-found' });
  }
  await expect(house.visitor()(lookAtRoom, { params: { id } })).rejects.toMatchObject({ code: 'wrong-link' });
});

test('withdrawn and closed hold for colleagues too, and take the sealed share along', async () => {
  const withdrawn = await sendToTobias();
  await maren.client(messageApi.withdrawGrants, {
    params: { id: withdrawn.messageId },
    body: { grantIds: [withdrawn.id] },
  });
  await expect(tobias.client(openReceived, { params: { id: withdrawn.id } })).rejects.toMatchObject({
    code: 'grant-withdrawn',
  });
  const closing = await sendToTobias({ closesAt: new Date(Date.now() + 60_000) });
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 60_001);
  await expect(tobias.client(openReceived, { params: { id: closing.id } })).rejects.toMatchObject({
    code: 'grant-closed',
  });
  expect(await tobias.client(getReceived, { params: { id: closing.id } })).toMatchObject({ state: 'closed' });
  expect((await tobias.client(getReceived, { params: { id: closing.id } })).sealed).toBeUndefined();
  expect((await tobias.client(getReceived, { params: { id: withdrawn.id } })).sealed).toBeUndefined();
});

test('what is not given is refused', async () => {
  const { id } = await sendToTobias();
  await expect(tobias.client(recordReceivedUse, { params: { id }, body: { what: 'printed' } })).rejects.toMatchObject({
    code: 'right-not-given',
  });
});

test('a key is made once; who has none can’t be written to as a colleague', async () => {
  await expect(
    tobias.client(putAccountKey, { body: { suite: 1, publicKey: key.publicKey, sealedPrivateKey: randomBytes(61) } }),
  ).rejects.toMatchObject({ code: 'conflict' });
  const { colleagues } = await maren.client(listColleagues);
  expect(colleagues.find(({ id }) => id === tobias.account.id)?.key?.publicKey).toEqual(key.publicKey);
  expect(colleagues.find(({ id }) => id === ines.account.id)?.key).toBeUndefined();
  const prepared = await prepare(demoMessage({ files: [], to: [{ name: '', address: ines.account.address }] }));
  const [{ id, address, name, role, houseShare, wrappedKey }] = prepared.dispatch.grants as [
    (typeof prepared.dispatch.grants)[0],
  ];
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const body = {
    ...prepared.dispatch,
    grants: [
      {
        id,
        address,
        name,
        role,
        houseShare,
        wrappedKey,
        reader: {
          kind: 'account' as const,
          accountId: ines.account.id,
          sealedShare: randomBytes(1200),
          sealedSummary: randomBytes(60),
        },
      },
    ],
  };
  await expect(maren.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body })).rejects.toMatchObject({
    code: 'invalid-input',
  });
});

test('an answer joins the conversation of what it answers, for who wrote or received that and nobody else', async () => {
  const { messageId } = await sendToTobias();
  const answer = await prepare(demoMessage({ files: [] }));
  await upload(tobias.client, answer.contentBlobId, answer.content);
  await tobias.client(messageApi.dispatchMessage, {
    params: { id: answer.id },
    body: { ...answer.dispatch, inReplyTo: messageId },
  });
  // Whatever its sender's browser says: an answer asks no less than what it answers.
  const looser = await prepare(demoMessage({ files: [] }), { terms: { rights: ALL_RIGHTS } });
  await upload(tobias.client, looser.contentBlobId, looser.content);
  await expect(
    tobias.client(messageApi.dispatchMessage, {
      params: { id: looser.id },
      body: { ...looser.dispatch, inReplyTo: messageId },
    }),
  ).rejects.toMatchObject({ code: 'below-preset' });
  const foreign = await prepare(demoMessage({ files: [] }));
  await upload(ines.client, foreign.contentBlobId, foreign.content);
  await expect(
    ines.client(messageApi.dispatchMessage, {
      params: { id: foreign.id },
      body: { ...foreign.dispatch, inReplyTo: messageId },
    }),
  ).rejects.toMatchObject({ code: 'not-found' });
});

test('the search index is told which accesses are held still: one’s own, and until they end', async () => {
  const { messageId, id } = await sendToTobias();
  const held = async (worker: Worker) =>
    (await worker.client(fetchWords, { body: { sent: [], mails: [], held: [id] } })).held;
  expect([await held(tobias), await held(ines)]).toEqual([[id], []]);
  await maren.client(messageApi.withdrawGrants, { params: { id: messageId }, body: { grantIds: [id] } });
  expect(await held(tobias)).toEqual([]);
});
