/**
 * Registered readers: set a password at a visit, find everything in one list, open without a link, write, forget; and a
 * forgotten password.
 */
import { partCount } from '@under-lock/contract/blob';
import * as blobApi from '@under-lock/contract/blob';
import { type Client } from '@under-lock/contract/client';
import * as messageApi from '@under-lock/contract/outgoing';
import { openReceived } from '@under-lock/contract/received';
import * as api from '@under-lock/contract/registered';
import * as roomApi from '@under-lock/contract/room';
import * as writingApi from '@under-lock/contract/writing';
import { replyGrant } from '../../reader/src/reply-grant';
import { openFrom, openSummary, sealSummary, sealTo, shareContext } from '@under-lock/core/account/key-pair';
import { passwordKeys } from '@under-lock/core/account/password';
import {
  makeReaderAccount,
  openPrivateKey,
  openReaderDraft,
  openWrittenKey,
  sealReaderDraft,
  sealWrittenKey,
} from '@under-lock/core/account/reader-account';
import { unwrapSecret, vaultKey } from '@under-lock/core/account/secret';
import { type Bytes, concat, randomBytes } from '@under-lock/core/bytes';
import { type HandlingTerms, NO_RIGHTS } from '@under-lock/core/handling/handling';
import { joinKey, shareProof } from '@under-lock/core/locks/room/grant';
import { splitKey } from '@under-lock/core/locks/room/split';
import { sealContent } from '@under-lock/core/locks/room/content';
import { roomLock } from '@under-lock/core/locks/room/index';
import { sealForRoom } from '@under-lock/core/locks/room/seal';
import { PASSCODE_BUDGET } from '@under-lock/core/identity/passcode';
import fc from 'fast-check';
import PostalMime from 'postal-mime';
import { rows, run } from '../src/data/database';
import { remindDue } from '../src/outgoing/errands';
import { listHeld, tidyRegistered } from '../src/registered/held';
import { closeDue } from '../src/access/grants';
import { ReaderRow } from '../src/data/models';
import {
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  openHouse,
  prepare,
  send,
  upload,
  type Worker,
  receivedOf,
} from './house';

const PASSWORD = 'nine gulls on the breakwater';
const mailbox = 'pell.anders@postbox.example';

let house: House;
let maren: Worker;
let tobias: Worker;
let marensKey: Awaited<ReturnType<typeof giveKeyPair>>;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
  marensKey = await giveKeyPair(maren);
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

type Visitor = ReturnType<House['visitor']>;
const to = (address: string) => demoMessage({ files: [], to: [{ name: 'Pell Anders', address }] });

/** Sends to one person and passes the check of their link as they would. */
async function readByLink(address: string, phone: string, visitor: Visitor = house.visitor(), worker = maren) {
  const sent = await send(worker, to(address), { phone });
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  await pass(visitor, id, readerShare);
  return { sent, id, readerShare, visitor };
}

async function pass(visitor: Visitor, id: string, readerShare: Bytes): Promise<void> {
  const proof = await shareProof(readerShare);
  await visitor(roomApi.sendPasscode, { params: { id }, body: { proof } });
  await visitor(roomApi.enterPasscode, {
    params: { id },
    body: { proof, passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0] },
  });
}

const read = new Set<string>();
/** The digits of the newest mail with any that has not been read yet; notices arrive beside it. */
async function digitsFor(address: string): Promise<string> {
  return eventually(async () => {
    for (const mail of house.world.store.mails.filter((one) => one.mailbox === address && !read.has(one.id))) {
      const digits = /^(\d{6}) confirms/.exec(
        (await PostalMime.parse(Buffer.from(mail.raw, 'base64'))).subject ?? '',
      )?.[1];
      read.add(mail.id);
      if (digits !== undefined) return digits;
    }
    return undefined;
  });
}

async function register(visitor: Visitor, grantId: string, address: string) {
  const { account, unlocked } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
  await visitor(api.sendMailboxCode, { params: { id: grantId } });
  const session = await visitor(api.registerReader, {
    params: { id: grantId },
    body: { ...account, code: await digitsFor(address) },
  });
  return { account, session, privateKey: await openPrivateKey(unlocked, session.sealedPrivateKey, account.id) };
}

/** A dispatch to a registered reader, sealed to their key as the app does it. */
async function sendToRegistered(
  worker: Worker,
  address: string,
  terms: Partial<HandlingTerms> = {},
  options: { closesAt?: Date } = {},
) {
  const {
    readers: [reader],
  } = await worker.client(api.findRegistered, { body: { addresses: [address] } });
  const prepared = await prepare(to(address), { terms, ...options });
  const [{ readerShare, ...grant }] = prepared.dispatch.grants as [(typeof prepared.dispatch.grants)[0]];
  const sealedShare = await sealTo(reader!.key, readerShare, shareContext(grant.id));
  const sealedSummary = await sealSummary({ subject: 'Fitness papers' }, readerShare, grant.id);
  await upload(worker.client, prepared.contentBlobId, prepared.content);
  await worker.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: {
      ...prepared.dispatch,
      grants: [{ ...grant, reader: { kind: 'registered', readerId: reader!.id, sealedShare, sealedSummary } }],
    },
  });
  return { id: prepared.id, grantId: grant.id, readerShare };
}

async function readContent(visitor: Client, grantId: string, share: Bytes) {
  const released = await visitor(roomApi.openRoom, { params: { id: grantId } });
  const parts = await Promise.all(
    Array.from({ length: partCount(released.size) }, (_, index) =>
      visitor(roomApi.getRoomPart, { params: { id: grantId, index } }),
    ),
  );
  return roomLock.open({
    content: concat(...parts),
    key: await joinKey(share, released, { grantId, messageId: released.messageId }),
  });
}

describe('from a link to a list', () => {
  let first: Awaited<ReturnType<typeof readByLink>>;
  let mine: Awaited<ReturnType<typeof register>>;
  const visitor = (): Visitor => first.visitor;
  beforeAll(async () => {
    first = await readByLink(mailbox, '+447700900417');
  });

  test('a password needs the access’s check and the mailbox: wrong digits register nobody', async () => {
    const { account } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
    await expect(house.visitor()(api.sendMailboxCode, { params: { id: first.id } })).rejects.toMatchObject({
      code: 'not-identified',
    });
    expect(await visitor()(api.sendMailboxCode, { params: { id: first.id } })).toMatchObject({
      address: mailbox,
      registered: false,
    });
    const digits = await digitsFor(mailbox);
    const wrong = digits === '000000' ? '000001' : '000000';
    await expect(
      visitor()(api.registerReader, { params: { id: first.id }, body: { ...account, code: wrong } }),
    ).rejects.toMatchObject({ code: 'wrong-code', details: { triesLeft: 4 } });
    await expect(visitor()(api.sendMailboxCode, { params: { id: first.id } })).rejects.toMatchObject({
      code: 'passcode-too-soon',
    });
    const session = await visitor()(api.registerReader, {
      params: { id: first.id },
      body: { ...account, code: digits },
    });
    expect(session).toMatchObject({ reader: { address: mailbox }, unproven: false });
    await expect(
      visitor()(api.registerReader, {
        params: { id: first.id },
        body: { ...account, id: crypto.randomUUID(), code: digits },
      }),
    ).rejects.toMatchObject({ code: 'conflict' });
    const keys = await passwordKeys(PASSWORD, session.hashing);
    const unlocked = await vaultKey(await unwrapSecret(keys.unlockKey, session.wrappedSecret, account.id));
    mine = { account, session, privateKey: await openPrivateKey(unlocked, session.sealedPrivateKey, account.id) };
  });

  test('the access lies in the list, closed until it is kept; then it opens without its link on another device', async () => {
    expect((await visitor()(api.listHeld, {})).items).toMatchObject([
      { grantId: first.id, state: 'held', senderId: maren.account.id },
    ]);
    expect((await visitor()(api.listHeld, {})).items[0]!.sealed).toBeUndefined();
    await expect(visitor()(api.enterHeld, { params: { id: first.id } })).rejects.toMatchObject({ code: 'not-found' });
    const sealed = {
      sealedShare: await sealTo(mine.account.key, first.readerShare, shareContext(first.id)),
      sealedSummary: await sealSummary({ subject: 'Fitness papers' }, first.readerShare, first.id),
    };
    await visitor()(api.keepGrant, { params: { id: first.id }, body: sealed });
    const elsewhere = house.visitor();
    await elsewhere(api.signInReader, { body: { address: mailbox, authKey: mine.account.password.authKey } });
    const { identified, sealedShare } = await elsewhere(api.enterHeld, { params: { id: first.id } });
    expect(identified).toBe(true);
    const share = await openFrom(mine.privateKey, sealedShare, shareContext(first.id));
    expect((await readContent(elsewhere, first.id, share)).subject).toBe('Fitness papers before the winter season');
    // What the sign-in opened ends with it.
    await elsewhere(api.signOutReader, {});
    await expect(elsewhere(roomApi.openRoom, { params: { id: first.id } })).rejects.toMatchObject({
      code: 'not-identified',
    });
  });

  test('a new message is sealed to the account: the notice’s link alone shows nothing, the sign-in opens it', async () => {
    const sent = await sendToRegistered(maren, mailbox);
    const mail = await eventually(async () => {
      const raw = house.world.store.mails.filter((one) => one.mailbox === mailbox).at(-1)!;
      const { text = '' } = await PostalMime.parse(Buffer.from(raw.raw, 'base64'));
      return text.includes(sent.grantId) ? text : undefined;
    });
    expect(mail).toContain(`/room/${sent.grantId}\n`);
    expect(mail).toContain('sign in with it to read');
    expect(mail).not.toContain('#');
    expect(await house.visitor()(roomApi.lookAtRoom, { params: { id: sent.grantId } })).toMatchObject({
      state: 'held',
      check: { kind: 'password', hint: '' },
      identified: false,
    });
    await expect(
      house.visitor()(roomApi.sendPasscode, {
        params: { id: sent.grantId },
        body: { proof: await shareProof(sent.readerShare) },
      }),
    ).rejects.toMatchObject({ code: 'wrong-link' });
    const list = await visitor()(api.listHeld, {});
    expect(list.unread).toBe(1);
    const [item] = list.items;
    const share = await openFrom(mine.privateKey, item!.sealed!.share, shareContext(item!.grantId));
    expect(await openSummary(item!.sealed!.summary, share, item!.grantId)).toEqual({ subject: 'Fitness papers' });
    await visitor()(api.enterHeld, { params: { id: sent.grantId } });
    await readContent(visitor(), sent.grantId, share);
    expect((await maren.client(messageApi.getSent, { params: { id: sent.id } })).grants[0]).toMatchObject({
      check: { kind: 'password' },
      opened: { count: 1 },
    });
    await maren.client(messageApi.tellAgain, { params: { id: sent.id, grantId: sent.grantId }, body: {} });
    await expect(
      maren.client(messageApi.changeChannel, {
        params: { id: sent.id, grantId: sent.grantId },
        body: { kind: 'text', target: '+447700900417' },
      }),
    ).rejects.toMatchObject({ code: 'invalid-input' });
    await visitor()(api.markHeld, { params: { id: sent.grantId }, body: { unread: true } });
    expect((await visitor()(api.listHeld, {})).unread).toBe(1);
    await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [sent.grantId] } });
    await expect(visitor()(api.enterHeld, { params: { id: sent.grantId } })).rejects.toMatchObject({
      code: 'grant-withdrawn',
    });
    expect((await visitor()(api.listHeld, {})).items[0]).toMatchObject({ grantId: sent.grantId, state: 'withdrawn' });
    await visitor()(api.removeHeld, { params: { id: sent.grantId } });
    expect((await visitor()(api.listHeld, {})).items.map(({ grantId }) => grantId)).toEqual([first.id]);
  });

  test('a question asked besides is asked of a registered reader too, and a weaker check than they passed is not', async () => {
    await expect(sendToRegistered(maren, mailbox, { question: true })).rejects.toMatchObject({ code: 'conflict' });
    await ReaderRow.update({ knownBy: 'email' }, { where: { id: mine.account.id } });
    await expect(sendToRegistered(maren, mailbox, { check: 'text' })).rejects.toMatchObject({ code: 'conflict' });
    // An access that asks for more than they have proved: its own check first.
    expect(await visitor()(api.enterHeld, { params: { id: first.id } })).toMatchObject({ identified: false });
    await visitor()(api.keepGrant, {
      params: { id: first.id },
      body: {
        sealedShare: await sealTo(mine.account.key, first.readerShare, shareContext(first.id)),
        sealedSummary: randomBytes(60),
      },
    });
    expect((await ReaderRow.findByPk(mine.account.id))!.knownBy).toBe('text');
    await sendToRegistered(maren, mailbox, { check: 'text' });
  });

  test('writes to who wrote to them and to nobody else; it lies in Received, and the writer can read it again', async () => {
    const id = crypto.randomUUID();
    const contentKey = { key: randomBytes(32), salt: randomBytes(32) };
    const content = await sealForRoom(to('maren.oduya@larkmoor.example'), contentKey);
    const contentBlobId = crypto.randomUUID();
    await expect(
      visitor()(api.startWrittenBlob, { body: { id: contentBlobId, size: content.length, to: tobias.account.id } }),
    ).rejects.toMatchObject({ code: 'not-found' });
    await visitor()(api.startWrittenBlob, { body: { id: contentBlobId, size: content.length, to: maren.account.id } });
    const { readerShare, house: half } = await splitKey(contentKey.key, { grantId: id, messageId: id });
    const body = {
      id,
      contentBlobId,
      to: maren.account.id,
      ownKey: await sealWrittenKey(mine.account.key, contentKey.key, id),
      ownSummary: await sealSummary({ subject: 'A new form' }, contentKey.key, id),
      grant: {
        id,
        ...half,
        sealedShare: await sealTo(marensKey, readerShare, shareContext(id)),
        sealedSummary: await sealSummary({ subject: 'A new form' }, readerShare, id),
      },
    };
    await expect(visitor()(api.sendWritten, { body })).rejects.toMatchObject({ code: 'upload-incomplete' });
    await visitor()(api.putWrittenPart, {
      params: { id: contentBlobId, index: 0 },
      body: content.slice(0, blobApi.PART_BYTES),
    });
    expect(await visitor()(api.sendWritten, { body })).toMatchObject({ already: false });
    expect(await visitor()(api.sendWritten, { body })).toMatchObject({ already: true });
    await expect(
      visitor()(api.sendWritten, { body: { ...body, grant: { ...body.grant, id: crypto.randomUUID() } } }),
    ).rejects.toMatchObject({ code: 'conflict' });
    const [received] = (await receivedOf(maren)).held;
    expect(received).toMatchObject({ grantId: id, from: { address: mailbox }, unread: true });
    const opened = await maren.client(openReceived, { params: { id } });
    const marens = await openFrom(marensKey.privateKey, opened.sealedShare, shareContext(id));
    expect(await joinKey(marens, opened, { grantId: id, messageId: id })).toEqual(contentKey.key);
    const [written] = (await visitor()(api.listWritten, {})).items;
    expect(written).toMatchObject({ id, to: { address: 'maren.oduya@larkmoor.example' }, opened: true });
    const own = await openWrittenKey(mine.privateKey, written!.ownKey, id);
    expect(
      (
        await roomLock.open({
          content: concat(await visitor()(api.getWrittenPart, { params: { id, index: 0 } })),
          key: own,
        })
      ).subject,
    ).toBe('Fitness papers before the winter season');
    expect((await maren.client(messageApi.listSent, {})).messages.some((one) => one.id === id)).toBe(false);
  });

  test('a changed password signs other devices out and keeps everything readable', async () => {
    const other = house.visitor();
    await other(api.signInReader, { body: { address: mailbox, authKey: mine.account.password.authKey } });
    const { account: next } = await makeReaderAccount(mine.account.id, 'ten terns at the harbour mouth');
    await expect(
      visitor()(api.changeReaderPassword, { body: { currentAuthKey: randomBytes(32), password: next.password } }),
    ).rejects.toMatchObject({ code: 'wrong-password' });
    await visitor()(api.changeReaderPassword, {
      body: { currentAuthKey: mine.account.password.authKey, password: next.password },
    });
    await expect(other(api.listHeld, {})).rejects.toMatchObject({ code: 'not-signed-in' });
    await visitor()(api.listHeld, {});
    await expect(
      house.visitor()(api.signInReader, { body: { address: mailbox, authKey: mine.account.password.authKey } }),
    ).rejects.toMatchObject({ code: 'wrong-password' });
    mine.account.password = next.password;
  });

  test('a forgotten password: the mailbox alone gets a new one that opens nothing until a check is passed; the sender gives again at a click', async () => {
    const held = await sendToRegistered(maren, mailbox);
    const thief = house.visitor();
    house.clock.now = new Date(Date.now() + 61_000);
    house.clock.real = false;
    await thief(api.startReset, { body: { address: mailbox } });
    const { account } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
    const session = await thief(api.finishReset, {
      body: { ...account, address: mailbox, code: await digitsFor(mailbox) },
    });
    expect(session.unproven).toBe(true);
    await expect(visitor()(api.listHeld, {})).rejects.toMatchObject({ code: 'not-signed-in' });
    const { items } = await thief(api.listHeld, {});
    expect(items.find(({ grantId }) => grantId === held.grantId)).toMatchObject({ lost: {} });
    expect(items.every(({ sealed }) => sealed === undefined)).toBe(true);
    for (const { grantId } of items)
      await expect(thief(api.enterHeld, { params: { id: grantId } })).rejects.toMatchObject({
        code: expect.stringMatching(/not-found|grant-/) as string,
      });
    await expect(sendToRegistered(maren, mailbox)).rejects.toMatchObject({ code: 'conflict' });
    expect(await thief(api.askToGiveAgain, { body: { ids: items.map(({ grantId }) => grantId) } })).toEqual({
      asked: items.filter(({ lost }) => lost !== undefined).length,
    });
    expect(await thief(api.askToGiveAgain, { body: { ids: [held.grantId] } })).toEqual({ asked: 0 });
    expect(
      (await maren.client(messageApi.getDesk, { query: {} })).needs
        .filter(({ kind }) => kind === 'give-again')
        .map(({ messageId }) => messageId),
    ).toContain(held.id);
    expect((await maren.client(messageApi.getSent, { params: { id: held.id } })).grants[0]!.lost).toMatchObject({
      askedAt: expect.any(Date) as Date,
    });
    // Given again by a link with its own passcode; the old access ends with it, and passing the check makes the sign-in
    // worth something.
    const id = crypto.randomUUID();
    const { readerShare, house: half } = await splitKey(randomBytes(32), { grantId: id, messageId: held.id });
    const grant: messageApi.NewGrant = {
      id,
      address: mailbox,
      name: '',
      role: 'to',
      ...half,
      reader: { kind: 'link', channel: { kind: 'text', target: '+447700900417' }, readerShare },
    };
    await maren.client(messageApi.giveAgain, {
      params: { id: held.id },
      body: {
        replaces: held.grantId,
        grant,
        closesAt: new Date(Date.now() + 3 * 86_400_000),
        summary: randomBytes(64),
      },
    });
    const sent = await maren.client(messageApi.getSent, { params: { id: held.id } });
    expect(sent.grants.map((one) => [one.id, one.state])).toEqual([[id, 'held']]);
    await pass(thief, id, readerShare);
    await thief(api.keepGrant, {
      params: { id },
      body: { sealedShare: await sealTo(account.key, readerShare, shareContext(id)), sealedSummary: randomBytes(60) },
    });
    expect((await thief(api.getReaderSession, {})).session).toMatchObject({ unproven: false });
    expect(await thief(api.enterHeld, { params: { id } })).toMatchObject({ identified: true });
  });

  test('an address nobody registered gets the same answers, and no mail', async () => {
    const visitorHere = house.visitor();
    expect(Object.keys(await visitorHere(api.startReset, { body: { address: 'nobody@postbox.example' } }))).toEqual([
      'resendAt',
    ]);
    await expect(visitorHere(api.startReset, { body: { address: 'nobody@postbox.example' } })).rejects.toMatchObject({
      code: 'passcode-too-soon',
    });
    const { account } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
    await expect(
      visitorHere(api.finishReset, { body: { ...account, address: 'nobody@postbox.example', code: '123456' } }),
    ).rejects.toMatchObject({ code: 'wrong-code' });
    expect(await visitorHere(api.startReaderSignIn, { body: { address: 'nobody@postbox.example' } })).toEqual(
      await visitorHere(api.startReaderSignIn, { body: { address: 'nobody@postbox.example' } }),
    );
    await expect(
      visitorHere(api.signInReader, { body: { address: 'nobody@postbox.example', authKey: randomBytes(32) } }),
    ).rejects.toMatchObject({ code: 'wrong-password' });
    expect(house.world.store.mails.filter(({ mailbox }) => mailbox === 'nobody@postbox.example')).toEqual([]);
  });
});

test('a reply to all reaches a registered reader in their list, sealed to their key', async () => {
  const [writer, other] = ['writes.all@postbox.example', 'reads.all@saltmarsh.example'] as const;
  const theirs = await readByLink(other, '+447700900551');
  const { account, privateKey } = await register(theirs.visitor, theirs.id, other);
  const prepared = await prepare(to(writer), {
    addresses: [writer, other],
    phone: '+447700900417',
    terms: { rights: { ...NO_RIGHTS, replyAll: true } },
  });
  const [first, second] = prepared.dispatch.grants as [
    (typeof prepared.dispatch.grants)[0],
    (typeof prepared.dispatch.grants)[0],
  ];
  const { readerShare, ...grant } = second;
  const sealed = {
    sealedShare: await sealTo(account.key, readerShare, shareContext(grant.id)),
    sealedSummary: await sealSummary({ subject: 'Dates' }, readerShare, grant.id),
  };
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: {
      ...prepared.dispatch,
      grants: [first, { ...grant, reader: { kind: 'registered', readerId: account.id, ...sealed } }],
    },
  });
  const visitor = house.visitor();
  await pass(visitor, first.id, first.readerShare);
  const targets = await visitor(writingApi.listReplyTargets, { params: { id: first.id } });
  expect([
    targets.others.map(({ address, registered, account: office }) => [address, registered?.id, office]),
    targets.unreachable,
  ]).toEqual([[[other, account.id, undefined]], []]);
  const id = crypto.randomUUID();
  const contentKey = randomBytes(32);
  const grants = await Promise.all(
    [targets.sender, ...targets.others].map((target) => replyGrant(target, contentKey, id, 'Re: Dates')),
  );
  const contentBlobId = crypto.randomUUID();
  const content = await sealContent(randomBytes(10), { key: contentKey, salt: randomBytes(32) });
  await visitor(writingApi.startReplyBlob, {
    params: { id: first.id },
    body: { id: contentBlobId, size: content.length },
  });
  await visitor(writingApi.putReplyPart, {
    params: { id: first.id, blobId: contentBlobId, index: 0 },
    body: content,
  });
  await visitor(writingApi.sendReply, {
    params: { id: first.id },
    body: { id, contentBlobId, toAll: true, grants, ownKey: randomBytes(61) },
  });
  const { items } = await theirs.visitor(api.listHeld, {});
  expect(items[0]).toMatchObject({ from: { address: writer }, unread: true });
  const share = await openFrom(privateKey, items[0]!.sealed!.share, shareContext(items[0]!.grantId));
  expect(await openSummary(items[0]!.sealed!.summary, share, items[0]!.grantId)).toEqual({ subject: 'Re: Dates' });
  await theirs.visitor(api.enterHeld, { params: { id: items[0]!.grantId } });
  const released = await theirs.visitor(roomApi.openRoom, { params: { id: items[0]!.grantId } });
  expect(await joinKey(share, released, { grantId: items[0]!.grantId, messageId: id })).toEqual(contentKey);
});

test('somebody else’s access does not go into a list', async () => {
  const visitor = house.visitor();
  const yard = await readByLink('yard@saltmarsh.example', '+447700900551', visitor);
  await register(visitor, yard.id, 'yard@saltmarsh.example');
  const other = await readByLink('greta.holm@postbox.example', '+447700900552', visitor);
  await expect(
    visitor(api.keepGrant, {
      params: { id: other.id },
      body: { sealedShare: randomBytes(60), sealedSummary: randomBytes(60) },
    }),
  ).rejects.toMatchObject({ code: 'not-allowed' });
  // Passed on with the link, but not the check: the sign-in alone is not enough.
  const third = await send(maren, to('yard@saltmarsh.example'), { phone: '+447700900551' });
  await expect(
    visitor(api.keepGrant, {
      params: { id: third.dispatch.grants[0]!.id },
      body: { sealedShare: randomBytes(60), sealedSummary: randomBytes(60) },
    }),
  ).rejects.toMatchObject({ code: 'not-identified' });
});

test('a sign-in that is used ends after a day all the same', async () => {
  const address = 'idle@postbox.example';
  const visitor = house.visitor();
  const first = await readByLink(address, '+447700900417', visitor);
  await register(visitor, first.id, address);
  house.clock.real = false;
  const at = (minutes: number): void => void (house.clock.now = new Date(Date.now() + minutes * 60_000));
  for (let minutes = 90; minutes < 24 * 60; minutes += 90) {
    at(minutes);
    await visitor(api.listHeld, {});
  }
  at(24 * 60 + 5);
  await expect(visitor(api.listHeld, {})).rejects.toMatchObject({ code: 'not-signed-in' });
});

test('a sign-in nobody uses for two hours is over', async () => {
  const address = 'left.open@postbox.example';
  const visitor = house.visitor();
  const first = await readByLink(address, '+447700900417', visitor);
  await register(visitor, first.id, address);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 119 * 60_000);
  await visitor(api.listHeld, {});
  house.clock.now = new Date(Date.now() + (119 + 121) * 60_000);
  await expect(visitor(api.listHeld, {})).rejects.toMatchObject({ code: 'not-signed-in' });
  expect((await visitor(api.getReaderSession, {})).session).toBeUndefined();
});

test('a check that another reader chose when passing on proves nothing to the office', async () => {
  const address = 'taken.over@postbox.example';
  const sent = await send(maren, to('first.reader@postbox.example'), {
    phone: '+447700900417',
    terms: { rights: { ...NO_RIGHTS, forward: true } },
  });
  const first = house.visitor();
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  await pass(first, id, readerShare);
  const child = crypto.randomUUID();
  const split = await splitKey(randomBytes(32), { grantId: child, messageId: sent.id });
  await first(writingApi.forwardRoom, {
    params: { id },
    body: {
      id: child,
      address,
      name: '',
      ...split.house,
      readerShare: split.readerShare,
      channel: { kind: 'text', target: '+447700900999' },
    },
  });
  const visitor = house.visitor();
  await pass(visitor, child, split.readerShare);
  const { account } = await register(visitor, child, address);
  await visitor(api.keepGrant, {
    params: { id: child },
    body: {
      sealedShare: await sealTo(account.key, split.readerShare, shareContext(child)),
      sealedSummary: randomBytes(60),
    },
  });
  expect((await visitor(api.getReaderSession, {})).session).toMatchObject({ unproven: true });
  await expect(sendToRegistered(maren, address)).rejects.toMatchObject({ code: 'conflict' });
  expect(await visitor(api.enterHeld, { params: { id: child } })).toMatchObject({ identified: false });
});

test('an account that is forgotten leaves nothing of it; links go on, what was sealed to it has to be given again', async () => {
  const address = 'greta.holm@postbox.example';
  const visitor = house.visitor();
  const byLink = await readByLink(address, '+447700900552', visitor);
  const { account } = await register(visitor, byLink.id, address);
  const held = await sendToRegistered(maren, address, {}, { closesAt: new Date(Date.now() + 10 * 3_600_000) });
  await expect(visitor(api.forgetReader, { body: { currentAuthKey: randomBytes(32) } })).rejects.toMatchObject({
    code: 'wrong-password',
  });
  await visitor(api.forgetReader, { body: { currentAuthKey: account.password.authKey } });
  expect(await ReaderRow.count({ where: { id: account.id } })).toBe(0);
  await expect(visitor(api.listHeld, {})).rejects.toMatchObject({ code: 'not-signed-in' });
  await visitor(roomApi.openRoom, { params: { id: byLink.id } });
  expect((await maren.client(messageApi.getSent, { params: { id: held.id } })).grants[0]!.lost).toEqual({});
  const { db } = house.server.context;
  expect(
    await rows(db, 'SELECT 1 FROM grants WHERE reader_id = $1 OR (id = $2 AND sealed_share IS NOT NULL)', [
      account.id,
      held.grantId,
    ]),
  ).toEqual([]);
  // Nobody is reminded of what they can no longer read; whoever still can is.
  const other = await send(maren, to('signe.roth@postbox.example'), {
    phone: '+447700900553',
    closesAt: new Date(Date.now() + 10 * 3_600_000),
  });
  const ids = [held.id, other.id];
  await eventually(async () => {
    const sent = await Promise.all(ids.map((id) => maren.client(messageApi.getSent, { params: { id } })));
    return sent.every(({ grants }) => grants[0]!.notice.state === 'accepted') ? true : undefined;
  });
  await run(db, 'UPDATE messages SET remind_hours = 1 WHERE id = ANY($1::uuid[])', [ids]);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 9.5 * 3_600_000);
  await remindDue(house.server.context);
  const reminded = await Promise.all(
    ids.map(async (id) =>
      (await maren.client(messageApi.getSent, { params: { id } })).events.some(({ kind }) => kind === 'reminded'),
    ),
  );
  expect(reminded).toEqual([false, true]);
});

test('whatever sender, reader, clock and sweepers do, in any order: no sign-in releases what has ended, or what was sealed to a password that is gone', async () => {
  const step = fc.oneof(
    fc.record({
      do: fc.constantFrom(
        'open' as const,
        'withdraw' as const,
        'sweep' as const,
        'sign-out' as const,
        'sign-in' as const,
        'reset' as const,
      ),
    }),
    fc.record({ do: fc.constant('move' as const), hours: fc.integer({ min: 1, max: 40 }) }),
    fc.record({ do: fc.constant('wait' as const), hours: fc.integer({ min: 1, max: 6 }) }),
  );
  let turn = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 12 }), async (steps) => {
      house.clock.real = true;
      const address = `turn${turn}@postbox.example`;
      const sender = await house.worker(`registered-sender${turn++}`);
      const first = await readByLink(address, '+447700900417', house.visitor(), sender);
      let { account } = await register(first.visitor, first.id, address);
      const visitor = first.visitor;
      const held = await sendToRegistered(sender, address, {}, { closesAt: new Date(Date.now() + 20 * 3_600_000) });
      house.clock.real = false;
      let ahead = 0;
      let isLost = false;
      let isIn = true;
      for (const one of steps) {
        house.clock.now = new Date(Date.now() + ahead);
        const { db } = house.server.context;
        const row = async () =>
          (
            await rows<{ state: string; closes_at: Date; house_share: Buffer | null; sealed_share: Buffer | null }>(
              db,
              'SELECT state, closes_at, house_share, sealed_share FROM grants WHERE id = $1',
              [held.grantId],
            )
          )[0]!;
        const params = { id: held.grantId };
        if (one.do === 'open') {
          const before = await row();
          const entered = await visitor(api.enterHeld, { params }).then(
            () => true,
            () => false,
          );
          const released =
            entered &&
            (await visitor(roomApi.openRoom, { params }).then(
              () => true,
              () => false,
            ));
          if (released && (!isIn || isLost || before.state !== 'held' || before.closes_at <= house.clock.now))
            throw new Error(`released after ${JSON.stringify(steps)}`);
        } else if (one.do === 'withdraw')
          await sender
            .client(messageApi.withdrawGrants, { params: { id: held.id }, body: { grantIds: [held.grantId] } })
            .catch(() => undefined);
        else if (one.do === 'move')
          await sender
            .client(messageApi.moveClosing, {
              params: { id: held.id },
              body: { grantIds: [held.grantId], closesAt: new Date(house.clock.now.getTime() + one.hours * 3_600_000) },
            })
            .catch(() => undefined);
        else if (one.do === 'wait') ahead += one.hours * 3_600_000;
        else if (one.do === 'sweep') await closeDue(house.server.context);
        else if (one.do === 'sign-out') {
          await visitor(api.signOutReader, {}).catch(() => undefined);
          isIn = false;
        } else if (one.do === 'sign-in') {
          await visitor(api.signInReader, { body: { address, authKey: account.password.authKey } });
          isIn = true;
        } else {
          ahead += 61_000;
          house.clock.now = new Date(Date.now() + ahead);
          await visitor(api.startReset, { body: { address } });
          account = (await makeReaderAccount(crypto.randomUUID(), PASSWORD)).account;
          await visitor(api.finishReset, { body: { ...account, address, code: await digitsFor(address) } });
          isLost = true;
          isIn = true;
        }
        const now = await row();
        if (now.state !== 'held' && (now.house_share !== null || now.sealed_share !== null))
          throw new Error('an ended access kept its means');
        if (isLost && now.sealed_share !== null) throw new Error('a lost access kept its share');
      }
    }),
    { numRuns: 10 },
  );
}, 120_000);

test('six digits by mail can’t be guessed: nine wrong ones end it for the browser that asked, until a month has passed', async () => {
  const visitor = house.visitor();
  const address = 'guessed@postbox.example';
  const first = await readByLink(address, '+447700900417', visitor);
  await register(visitor, first.id, address);
  const { account } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
  house.clock.real = false;
  let tries = 0;
  let outcome = '';
  for (let hour = 0; hour < 100 && outcome !== 'passcode-stopped'; hour++) {
    house.clock.now = new Date(Date.now() + (hour + 1) * 3_600_000);
    await visitor(api.startReset, { body: { address } }).catch((problem: { code: string }) => (outcome = problem.code));
    for (let guess = 0; guess < 3; guess++) {
      outcome = await visitor(api.finishReset, { body: { ...account, address, code: String(999_000 + tries) } }).then(
        () => 'in',
        (problem: { code: string }) => problem.code,
      );
      if (outcome === 'wrong-code') tries++;
    }
  }
  expect([outcome, tries < PASSCODE_BUDGET]).toEqual(['passcode-stopped', true]);
  await tidyRegistered(house.server.context);
  await expect(visitor(api.startReset, { body: { address } })).rejects.toMatchObject({ code: 'passcode-stopped' });
  house.clock.now = new Date(house.clock.now.getTime() + 31 * 86_400_000);
  await tidyRegistered(house.server.context);
  await visitor(api.startReset, { body: { address } });
});

test('the list goes page by page in every order, by sender too', async () => {
  const { context } = house.server;
  const { account } = await makeReaderAccount(crypto.randomUUID(), PASSWORD);
  const { id, key, password } = account;
  const reader = await ReaderRow.create({
    id,
    address: 'clinic@harbourclinic.example',
    addressKey: 'clinic@harbourclinic.example',
    name: '',
    language: 'en',
    hashing: { ...password.hashing, salt: '' },
    authHash: '',
    wrappedSecret: Buffer.alloc(60),
    publicKey: Buffer.from(key.publicKey),
    keySuite: 1,
    sealedPrivateKey: Buffer.alloc(60),
    knownBy: 'text',
    since: new Date(),
  });
  for (let index = 0; index < 35; index++) {
    await sendToRegistered(
      index % 5 === 0 ? tobias : maren,
      reader.address,
      {},
      { closesAt: new Date(Date.now() + (50 - index) * 3_600_000) },
    );
  }
  for (const sort of api.HELD_SORTS) {
    const one = await listHeld(context, reader, { sort });
    const two = await listHeld(context, reader, { sort, after: one.next! });
    const all = [...one.items, ...two.items];
    expect([one.items.length, two.items.length, two.next, new Set(all.map(({ grantId }) => grantId)).size]).toEqual([
      30,
      5,
      undefined,
      35,
    ]);
    const times = all.map((item) => (sort === 'closing' ? item.closesAt : item.arrivedAt).getTime());
    expect(times).toEqual([...times].sort((a, b) => (sort === 'newest' ? b - a : a - b)));
  }
  const bySender = await listHeld(context, reader, { sender: tobias.account.id, sort: 'closing' });
  expect(bySender.items).toHaveLength(7);
  expect(bySender.senders.map(({ address }) => address).sort()).toEqual([
    'maren.oduya@larkmoor.example',
    'tobias.quill@larkmoor.example',
  ]);
  expect(bySender.unread).toBe(35);
  await expect(listHeld(context, reader, { after: 'somewhere' })).rejects.toMatchObject({ code: 'invalid-input' });
});

describe('what is the reader’s own', () => {
  test('the language they chose goes before what whoever writes to them has put down, also for what is held', async () => {
    const address = 'lotte@postbox.example';
    const { visitor, id } = await readByLink(address, '+447700900471');
    const { session } = await register(visitor, id, address);
    expect(session.language).toBe('en');
    await visitor(api.setReaderLanguage, { body: { language: 'pt' } });
    const languageOf = async (grantId: string): Promise<string> =>
      (
        await rows<{ language: string }>(house.server.context.db, 'SELECT language FROM grants WHERE id = $1', [
          grantId,
        ])
      )[0]!.language;
    expect(await languageOf(id)).toBe('pt');
    const later = await send(maren, to(address), { phone: '+447700900471' });
    expect(await languageOf(later.dispatch.grants[0]!.id)).toBe('pt');
    expect((await visitor(api.getReaderSession, {})).session).toMatchObject({ language: 'pt' });
    const other = await send(maren, to('nobody.known@postbox.example'), {});
    expect(await languageOf(other.dispatch.grants[0]!.id)).toBe('en');
  });

  test('they see where they are signed in, end one of them, and nobody else’s', async () => {
    const address = 'berit@postbox.example';
    const { visitor, id } = await readByLink(address, '+447700900472');
    const { account } = await register(visitor, id, address);
    const elsewhere = house.visitor();
    const { authKey } = await passwordKeys(PASSWORD, account.password.hashing);
    await elsewhere(api.signInReader, { body: { address, authKey, device: 'Firefox on Linux' } });
    const { devices } = await visitor(api.listReaderDevices, {});
    expect(devices.map(({ device, here }) => [device, here])).toEqual([
      ['', true],
      ['Firefox on Linux', false],
    ]);
    const stranger = await readByLink('stranger@postbox.example', '+447700900473');
    await register(stranger.visitor, stranger.id, 'stranger@postbox.example');
    const params = { id: devices[1]!.id };
    await expect(stranger.visitor(api.endReaderDevice, { params })).rejects.toMatchObject({ code: 'not-found' });
    await visitor(api.endReaderDevice, { params });
    await expect(elsewhere(api.listHeld, { query: {} })).rejects.toMatchObject({ code: 'not-signed-in' });
    expect((await visitor(api.listReaderDevices, {})).devices).toHaveLength(1);
  });

  test('drafts are kept sealed, twenty at most, and go with the account', async () => {
    const address = 'sunniva@postbox.example';
    const { visitor, id } = await readByLink(address, '+447700900474');
    const { account, privateKey } = await register(visitor, id, address);
    const draft = { to: maren.account.id, subject: 'The grey heron', text: 'Stands by the old pier.' };
    const number = crypto.randomUUID();
    const put = async (one: string, what = draft): Promise<unknown> =>
      visitor(api.putReaderDraft, {
        params: { id: one },
        body: { sealed: await sealReaderDraft(account.key, account.id, one, what) },
      });
    await put(number);
    await put(number, { ...draft, text: 'Stands by the new pier.' });
    const { drafts } = await visitor(api.listReaderDrafts, {});
    expect(drafts).toHaveLength(1);
    const [{ sealed }] = drafts as [(typeof drafts)[0]];
    expect(await openReaderDraft(privateKey, sealed, account.id, number)).toMatchObject({
      text: 'Stands by the new pier.',
    });
    await expect(openReaderDraft(privateKey, sealed, account.id, crypto.randomUUID())).rejects.toMatchObject({
      code: 'not-opened',
    });
    for (let more = 1; more < api.MOST_DRAFTS; more++) await put(crypto.randomUUID());
    await expect(put(crypto.randomUUID())).rejects.toMatchObject({ code: 'storage-full' });
    await visitor(api.dropReaderDraft, { params: { id: number } });
    await put(crypto.randomUUID());
    const { authKey } = await passwordKeys(PASSWORD, account.password.hashing);
    await visitor(api.forgetReader, { body: { currentAuthKey: authKey } });
    const left = await rows(house.server.context.db, 'SELECT id FROM reader_drafts WHERE reader_id = $1', [account.id]);
    expect(left).toEqual([]);
  });
});
