/**
 * Replies from the reading room: to whom the server says, once, sealed for each, under what they answer; and the
 * conversation on the office's side.
 */
import * as messageApi from '@under-lock/contract/outgoing';
import { getReceived, getReceivedPart, openReceived, recordReceivedUse } from '@under-lock/contract/received';
import * as roomApi from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { openFrom, sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes, concat, randomBytes } from '@under-lock/core/bytes';
import { ALL_RIGHTS, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { sealContent } from '@under-lock/core/locks/room/content';
import { joinKey, shareProof } from '@under-lock/core/locks/room/grant';
import { splitKey } from '@under-lock/core/locks/room/split';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { openOwnCopy, sealOwnCopy } from '@under-lock/core/locks/room/own-copy';
import { buildMessage } from '@under-lock/core/message/build';
import { randomUUID } from 'node:crypto';
import { rows } from '../src/data/database';
import {
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  type KeyPair,
  linkFromMail,
  openHouse,
  send,
  upload,
  prepare,
  type Worker,
  receivedOf,
} from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  [maren, tobias] = [await house.worker('maren.oduya'), await house.worker('tobias.quill')];
  key = await giveKeyPair(maren);
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

const people = ['pell.anders@postbox.example', 'office@saltmarsh.example', 'claims@northquay.example'];

/** A held message, and the first of its readers identified. */
async function read(rights: object, addresses = people, unseen: readonly string[] = []) {
  const sent = await send(maren, demoMessage({ files: [], to: addresses.map((address) => ({ name: '', address })) }), {
    unseen,
    terms: { rights: { ...NO_RIGHTS, ...rights } },
  });
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  // Everybody has been told: a notice that comes late would be taken for the next one.
  await eventually(async () =>
    (await maren.client(messageApi.getSent, { params: { id: sent.id } })).grants.every(
      ({ notice }) => notice.state === 'accepted',
    )
      ? true
      : undefined,
  );
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  await reader(roomApi.sendPasscode, { params: { id }, body: { proof } });
  await reader(roomApi.enterPasscode, {
    params: { id },
    body: { proof, passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0] },
  });
  return { sent, id, readerShare, reader };
}
type Visit = Awaited<ReturnType<typeof read>>;

/** Seals as the reading room's page does. */
async function seal({ reader, id, readerShare }: Visit, toAll: boolean, text = 'Page two is fine.') {
  const { sender, others } = await reader(writingApi.listReplyTargets, { params: { id } });
  const replyId = randomUUID();
  const contentKey = randomBytes(32);
  const content = await sealContent(
    buildMessage(
      demoMessage({ text, subject: 'Re: Fitness papers', files: [], from: { name: 'Pell', address: people[0]! } }),
    ),
    { key: contentKey, salt: randomBytes(32) },
  );
  const grants = await Promise.all(
    [sender, ...(toAll ? others : [])].map(async ({ grantId, account }): Promise<writingApi.ReplyGrant> => {
      const own = randomUUID();
      const { readerShare: share, house: halves } = await splitKey(contentKey, { grantId: own, messageId: replyId });
      const beside = grantId === undefined ? {} : { besideGrantId: grantId };
      if (account === undefined) return { id: own, ...beside, ...halves, reader: { kind: 'link', readerShare: share } };
      return {
        id: own,
        ...beside,
        ...halves,
        reader: {
          kind: 'account',
          accountId: account.id,
          sealedShare: await sealTo(account.key, share, shareContext(own)),
          sealedSummary: await sealSummary({ subject: 'Re: Fitness papers' }, share, own),
        },
      };
    }),
  );
  return {
    content,
    body: {
      id: replyId,
      contentBlobId: randomUUID(),
      toAll,
      grants,
      ownKey: await sealOwnCopy(contentKey, readerShare, replyId),
    },
  };
}

async function put({ reader, id }: Visit, blobId: string, content: Bytes): Promise<void> {
  await reader(writingApi.startReplyBlob, { params: { id }, body: { id: blobId, size: content.length } });
  await reader(writingApi.putReplyPart, { params: { id, blobId, index: 0 }, body: content });
}

async function reply(visit: Visit, toAll = false) {
  const sealed = await seal(visit, toAll);
  await put(visit, sealed.body.contentBlobId, sealed.content);
  await visit.reader(writingApi.sendReply, { params: { id: visit.id }, body: sealed.body });
  return sealed;
}

test('a reply lies in the sender’s Received, opens with their key, is named by what the house knows, and joins the conversation', async () => {
  const visit = await read({ reply: true });
  await reply(visit);
  const [received] = (await receivedOf(maren)).held;
  expect(received).toMatchObject({ from: { address: people[0] }, conversationId: visit.sent.id, unread: true });
  const params = { id: received!.grantId };
  const released = await maren.client(openReceived, { params });
  const share = await openFrom(key.privateKey, released.sealedShare, shareContext(params.id));
  const content = await openFromRoom({
    content: concat(await maren.client(getReceivedPart, { params: { ...params, index: 0 } })),
    key: await joinKey(share, released, { grantId: params.id, messageId: released.messageId }),
  });
  expect(content.text).toBe('Page two is fine.');
  // For us it carries its writer's terms: they asked nothing. What an answer to it keeps is the message's own.
  const about = await maren.client(getReceived, { params });
  expect(about).toMatchObject({
    fromReader: true,
    handling: { rights: ALL_RIGHTS, watermark: false },
    keeps: { rights: { ...NO_RIGHTS, reply: true } },
  });
  for (const what of ['saved', 'printed'] as const) await maren.client(recordReceivedUse, { params, body: { what } });
  expect(
    (await maren.client(messageApi.getConversation, { params: { id: visit.sent.id } })).messages.map(
      ({ kind }) => kind,
    ),
  ).toEqual(['sent', 'received']);
  expect((await tobias.client(messageApi.getConversation, { params: { id: visit.sent.id } })).messages).toEqual([]);
  expect(
    (await maren.client(messageApi.getSent, { params: { id: visit.sent.id } })).events.map(({ kind }) => kind),
  ).toContain('replied');
  // A reply is not something its recipient sent, nor something open to others on their desk.
  expect((await maren.client(messageApi.listSent)).messages.map(({ id }) => id)).toEqual([visit.sent.id]);
  expect((await maren.client(messageApi.getDesk)).open.map(({ messageId }) => messageId)).toEqual([visit.sent.id]);
});

test('its writer can read it again while the access is held, with the share of their link only, and not after', async () => {
  const visit = await read({ reply: true });
  const { body } = await reply(visit);
  const { replies } = await visit.reader(writingApi.listReplies, { params: { id: visit.id } });
  expect(replies).toMatchObject([{ id: body.id, toAll: false }]);
  const content = await visit.reader(writingApi.getReplyPart, { params: { id: visit.id, replyId: body.id, index: 0 } });
  expect(
    (await openFromRoom({ content, key: await openOwnCopy(replies[0]!.ownKey, visit.readerShare, body.id) })).text,
  ).toBe('Page two is fine.');
  await expect(openOwnCopy(replies[0]!.ownKey, randomBytes(32), body.id)).rejects.toMatchObject({ code: 'not-opened' });
  await maren.client(messageApi.withdrawGrants, { params: { id: visit.sent.id }, body: { grantIds: [visit.id] } });
  await expect(visit.reader(writingApi.listReplies, { params: { id: visit.id } })).rejects.toMatchObject({
    code: 'not-identified',
  });
});

test('a reply to all reaches the others by a notice of their own, known as before and no longer than before, and does not borrow the writer’s address', async () => {
  const visit = await read({ reply: true, replyAll: true });
  const before = await maren.client(messageApi.getSent, { params: { id: visit.sent.id } });
  const mails = (mailbox: string) => house.world.store.mails.filter((mail) => mail.mailbox === mailbox);
  const had = new Map(people.map((address) => [address, mails(address).length]));
  await reply(visit, true);
  for (const address of people.slice(1)) {
    // Notices of the messages of other tests may still come in between.
    const raw = await eventually(() =>
      mails(address)
        .slice(had.get(address))
        .map((mail) => Buffer.from(mail.raw, 'base64').toString('utf8'))
        .find((text) => /^From: .*<reading-room@larkmoor\.example>/m.test(text)),
    );
    expect(raw).not.toMatch(/^From:.*postbox\.example/m);
  }
  const grants = await rows<{ address: string; check_hint: string; closes_at: Date; reader_kind: string }>(
    house.server.context.db,
    `SELECT g.address, g.check_hint, g.closes_at, g.reader_kind FROM grants g JOIN messages m ON m.id = g.message_id WHERE m.sender_grant_id = $1 ORDER BY g.position`,
    [visit.id],
  );
  expect(grants.map(({ address, reader_kind }) => [address, reader_kind])).toEqual([
    [maren.account.address, 'account'],
    [people[1], 'link'],
    [people[2], 'link'],
  ]);
  expect(grants.slice(1).map(({ closes_at }) => closes_at.getTime())).toEqual(
    before.grants.slice(1).map(({ closesAt }) => closesAt.getTime()),
  );
  // The passcode rings the phone that is known for that person.
  const link = await linkFromMail(house, people[1]!);
  const look = await house.visitor()(roomApi.lookAtRoom, { params: { id: link.grantId } });
  expect(look).toMatchObject({ state: 'held', senderAddress: people[0] });
  await house.visitor()(roomApi.sendPasscode, {
    params: { id: link.grantId },
    body: { proof: await shareProof(new Uint8Array(Buffer.from(link.fragment, 'base64url'))) },
  });
  expect(house.world.store.texts.at(-1)!.number).toBe('+447700900417'); // what the sender gave for all three here
});

test('whoever is written to unseen is named to nobody, and replies to all leave them out; their own reply goes to those they see', async () => {
  const visit = await read({ reply: true, replyAll: true }, people, [people[2]!]);
  const targets = await visit.reader(writingApi.listReplyTargets, { params: { id: visit.id } });
  expect([...targets.others, ...targets.unreachable].map(({ address }) => address)).toEqual([people[1]]);
  const { body } = await reply(visit, true);
  const addressed = await rows<{ address: string }>(
    house.server.context.db,
    'SELECT address FROM grants WHERE message_id = $1 ORDER BY position',
    [body.id],
  );
  expect(addressed.map(({ address }) => address)).toEqual([maren.account.address, people[1]]);
  expect(JSON.stringify(await visit.reader(roomApi.openRoom, { params: { id: visit.id } }))).not.toContain(people[2]);
  const alone = await read({ reply: true, replyAll: true }, people, people);
  expect(await alone.reader(writingApi.listReplyTargets, { params: { id: alone.id } })).toMatchObject({
    others: [],
    unreachable: [],
  });
});

test('whoever has been withdrawn in the meantime is not written to: the reply must be looked at again', async () => {
  const visit = await read({ reply: true, replyAll: true });
  const sealed = await seal(visit, true);
  await put(visit, sealed.body.contentBlobId, sealed.content);
  await maren.client(messageApi.withdrawGrants, {
    params: { id: visit.sent.id },
    body: { grantIds: [visit.sent.dispatch.grants[1]!.id] },
  });
  await expect(
    visit.reader(writingApi.sendReply, { params: { id: visit.id }, body: sealed.body }),
  ).rejects.toMatchObject({ code: 'conflict' });
  expect(
    (await visit.reader(writingApi.listReplyTargets, { params: { id: visit.id } })).others.map(
      ({ address }) => address,
    ),
  ).toEqual([people[2]]);
});

test('sent once, whatever is repeated at once', async () => {
  const visit = await read({ reply: true });
  const sealed = await seal(visit, false);
  await put(visit, sealed.body.contentBlobId, sealed.content);
  const outcomes = await Promise.all(
    Array.from({ length: 8 }, () =>
      visit.reader(writingApi.sendReply, { params: { id: visit.id }, body: sealed.body }),
    ),
  );
  expect(outcomes.filter(({ already }) => !already)).toHaveLength(1);
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM messages WHERE sender_grant_id = $1', [visit.id]),
  ).toHaveLength(1);
});

test.each([
  ['a reply where none is allowed', {}, false, 'right-not-given'],
  ['a reply to all where only one to the sender is', { reply: true }, true, 'right-not-given'],
  ['a reply to the sender alone where only one to all is', { replyAll: true }, false, 'right-not-given'],
])('%s is refused', async (_, rights, toAll, code) => {
  const visit = await read(rights);
  const attempt = async (): Promise<unknown> => {
    const sealed = await seal(visit, false);
    await put(visit, sealed.body.contentBlobId, sealed.content);
    return visit.reader(writingApi.sendReply, { params: { id: visit.id }, body: { ...sealed.body, toAll } });
  };
  await expect(attempt()).rejects.toMatchObject({ code });
});

test('recipients can’t be chosen: one too many, a stranger, another account, another access of another message', async () => {
  const visit = await read({ reply: true, replyAll: true });
  const other = await read({ reply: true, replyAll: true });
  const sealed = await seal(visit, true);
  await put(visit, sealed.body.contentBlobId, sealed.content);
  const [toSender, toYard, toClaims] = sealed.body.grants as [
    writingApi.ReplyGrant,
    writingApi.ReplyGrant,
    writingApi.ReplyGrant,
  ];
  const tryWith = (grants: writingApi.ReplyGrant[]) =>
    visit
      .reader(writingApi.sendReply, { params: { id: visit.id }, body: { ...sealed.body, id: randomUUID(), grants } })
      .then(
        () => 'sent',
        (problem: { code: string }) => problem.code,
      );
  expect(await tryWith([toSender, toYard])).toBe('conflict');
  expect(await tryWith([toSender, toYard, { ...toClaims, besideGrantId: other.sent.dispatch.grants[1]!.id }])).toBe(
    'conflict',
  );
  expect(await tryWith([toSender, toYard, toYard])).toBe('conflict');
  expect(
    await tryWith([
      {
        ...toSender,
        reader: {
          ...(toSender.reader as { kind: 'account'; accountId: string; sealedShare: Bytes; sealedSummary: Bytes }),
          accountId: tobias.account.id,
        },
      },
      toYard,
      toClaims,
    ]),
  ).toBe('invalid-input');
  expect(
    await tryWith([{ ...toSender, reader: { kind: 'link', readerShare: randomBytes(32) } }, toYard, toClaims]),
  ).toBe('invalid-input');
  // Another reader's upload is not theirs to send.
  const foreign = await seal(other, false);
  await put(other, foreign.body.contentBlobId, foreign.content);
  await expect(
    visit.reader(writingApi.sendReply, {
      params: { id: visit.id },
      body: { ...sealed.body, id: randomUUID(), contentBlobId: foreign.body.contentBlobId },
    }),
  ).rejects.toMatchObject({ code: 'not-found' });
  expect(
    await rows(house.server.context.db, 'SELECT 1 FROM messages WHERE sender_grant_id = $1', [visit.id]),
  ).toHaveLength(0);
});

test('nothing is written from an access that has closed, and a reply half sent stays unsent', async () => {
  const visit = await read({ reply: true });
  const sealed = await seal(visit, false);
  await visit.reader(writingApi.startReplyBlob, {
    params: { id: visit.id },
    body: { id: sealed.body.contentBlobId, size: sealed.content.length },
  });
  await expect(
    visit.reader(writingApi.sendReply, { params: { id: visit.id }, body: sealed.body }),
  ).rejects.toMatchObject({ code: 'upload-incomplete' });
  house.clock.real = false;
  house.clock.now = new Date(visit.sent.dispatch.handling.closesAt.getTime() + 1);
  await expect(visit.reader(writingApi.listReplyTargets, { params: { id: visit.id } })).rejects.toMatchObject({
    code: 'not-identified',
  });
});

test('uploads that come to nothing make room for the next, four at a time', async () => {
  const visit = await read({ reply: true });
  for (let upload = 0; upload < 7; upload++)
    await visit.reader(writingApi.startReplyBlob, { params: { id: visit.id }, body: { id: randomUUID(), size: 1000 } });
  expect(await rows(house.server.context.db, 'SELECT 1 FROM blobs WHERE grant_id = $1', [visit.id])).toHaveLength(4);
  await expect(
    visit.reader(writingApi.startReplyBlob, { params: { id: visit.id }, body: { id: randomUUID(), size: 60_000_000 } }),
  ).rejects.toMatchObject({ code: 'too-large' });
});

test('a colleague whose message forbids replies is not answered in its conversation', async () => {
  const tobiasKey = await giveKeyPair(tobias);
  const prepared = await prepare(demoMessage({ files: [], to: [{ name: '', address: tobias.account.address }] }), {
    terms: { rights: NO_RIGHTS },
  });
  const [{ id, address, name, role, houseShare, wrappedKey, readerShare }] = prepared.dispatch.grants as [
    (typeof prepared.dispatch.grants)[0],
  ];
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const reader = {
    kind: 'account' as const,
    accountId: tobias.account.id,
    sealedShare: await sealTo(tobiasKey, readerShare, shareContext(id)),
    sealedSummary: await sealSummary({ subject: 'x' }, readerShare, id),
  };
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, grants: [{ id, address, name, role, houseShare, wrappedKey, reader }] },
  });
  const answer = await prepare(demoMessage({ files: [] }));
  await upload(tobias.client, answer.contentBlobId, answer.content);
  await expect(
    tobias.client(messageApi.dispatchMessage, {
      params: { id: answer.id },
      body: { ...answer.dispatch, inReplyTo: prepared.id },
    }),
  ).rejects.toMatchObject({ code: 'right-not-given' });
});
