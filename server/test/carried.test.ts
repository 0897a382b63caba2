/**
 * Carried pages: the content travels with the notice and is given out nowhere else; what closes the room closes them.
 */
import * as fileApi from '@under-lock/contract/file-lock';
import * as messageApi from '@under-lock/contract/outgoing';
import * as roomApi from '@under-lock/contract/room';
import { randomBytes, sha256, toBase64Url } from '@under-lock/core/bytes';
import { readCarried } from '@under-lock/core/locks/carried/read';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { joinKey, noticeLink, shareProof } from '@under-lock/core/locks/room/grant';
import { splitKey } from '@under-lock/core/locks/room/split';
import { roomLock } from '@under-lock/core/locks/room/index';
import { readMessage } from '@under-lock/core/message/read';
import { buildNotice } from '@under-lock/core/locks/carried/notice';
import { rows } from '../src/data/database';
import {
  codeOf,
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  openHouse,
  prepare,
  send,
  upload,
  type Worker,
} from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let ines: Worker;
const PELL = 'pell.anders@postbox.example';
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
  ines = await house.worker('ines.varga', 'administrator');
}, 60_000);
afterAll(() => house.stop());

const inMailbox = () => house.world.store.mails.filter(({ mailbox }) => mailbox === PELL);

/** The newest mail with a file, beyond those that were there. */
const arrived = (before: number) =>
  eventually(async () => {
    const mail = inMailbox()[before];
    if (mail === undefined) return undefined;
    const read = await readMessage(new Uint8Array(Buffer.from(mail.raw, 'base64')));
    return { raw: Buffer.from(mail.raw, 'base64'), ...read, carried: readCarried(read.files[0]!.bytes)! };
  });

async function sendCarried() {
  const before = inMailbox().length;
  const message = demoMessage({
    files: [{ name: 'fitness-2026.pdf', type: 'application/pdf', bytes: randomBytes(20_000) }],
  });
  const sent = await send(maren, message, { carried: true });
  const mail = await arrived(before);
  // It is noted a moment after the mail host has it.
  await eventually(async () => {
    const { notices } = await maren.client(messageApi.getSent, { params: { id: sent.id } });
    return notices.length === 0 ? undefined : true;
  });
  return { message, sent, mail };
}

/** Proves to be the one named, by the share in the file. */
async function identified(grantId: string, share: Uint8Array<ArrayBuffer>) {
  const reader = house.visitor();
  const proof = await shareProof(share);
  await reader(roomApi.sendPasscode, { params: { id: grantId }, body: { proof } });
  const passcode = /^(\d{6})/.exec(house.world.store.texts.at(-1)!.text)![1]!;
  await reader(roomApi.enterPasscode, { params: { id: grantId }, body: { proof, passcode } });
  return reader;
}

test('it comes with the mail, opens after the identity check with what the house keeps, and no more once it is withdrawn', async () => {
  const { message, sent, mail } = await sendCarried();
  const { grantId, share, sealed, origin } = mail.carried;
  expect(origin).toBe(new URL(house.server.context.config.roomOrigin).origin);
  expect(Buffer.compare(sealed, sent.content)).toBe(0);
  // The mail's own words hold no share: only the file does.
  for (const said of [mail.text, mail.html]) expect(said).not.toContain(toBase64Url(share!));

  const anybody = house.visitor();
  expect(await anybody(roomApi.lookAtRoom, { params: { id: grantId } })).toMatchObject({
    state: 'held',
    carried: true,
    check: { kind: 'text' },
  });
  expect(await codeOf(anybody(roomApi.openRoom, { params: { id: grantId } }))).toBe('not-identified');

  const reader = await identified(grantId, share!);
  const released = await reader(roomApi.openRoom, { params: { id: grantId } });
  expect(released.carried).toBe(true);
  // Nobody gets the content from here, not even who proved who they are: it needs the file.
  expect(await codeOf(reader(roomApi.getRoomPart, { params: { id: grantId, index: 0 } }))).toBe('not-found');
  const opened = await roomLock.open({
    content: sealed,
    key: await joinKey(share!, released, { grantId, messageId: released.messageId }),
  });
  expect(opened.subject).toBe(message.subject);
  expect(Buffer.compare(opened.files[0]!.bytes, message.files[0]!.bytes)).toBe(0);
  const [grant] = (await maren.client(messageApi.getSent, { params: { id: sent.id } })).grants;
  expect(grant).toMatchObject({ carried: true, state: 'held', opened: { count: 1 }, notice: { state: 'accepted' } });

  await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [grantId] } });
  expect((await anybody(roomApi.lookAtRoom, { params: { id: grantId } })).state).toBe('withdrawn');
  for (const call of [() => reader(roomApi.openRoom, { params: { id: grantId } }), () => identified(grantId, share!)])
    expect(['not-identified', 'grant-withdrawn']).toContain(await codeOf(call()));
  expect(
    await rows(house.server.context.db, 'SELECT house_share, wrapped_key FROM grants WHERE id = $1', [grantId]),
  ).toEqual([{ house_share: null, wrapped_key: null }]);
});

test('a closing date that has passed closes the file, moved or not', async () => {
  const {
    sent,
    mail: {
      carried: { grantId, share },
    },
  } = await sendCarried();
  const reader = await identified(grantId, share!);
  await rows(
    house.server.context.db,
    `UPDATE grants SET closes_at = now() - interval '1 second' WHERE id = $1 RETURNING id`,
    [grantId],
  );
  expect(await codeOf(reader(roomApi.openRoom, { params: { id: grantId } }))).toBe('grant-closed');
  expect((await maren.client(messageApi.getSent, { params: { id: sent.id } })).grants[0]).toMatchObject({
    state: 'closed',
  });
});

test('what left is recorded, and made again from the same parts it is the same', async () => {
  const { sent, mail } = await sendCarried();
  const found = await eventually(async () => {
    const now = await maren.client(messageApi.getSent, { params: { id: sent.id } });
    return now.notices.length > 0 ? now : undefined;
  });
  const { office } = house.server.context.config;
  const { grantId, share } = mail.carried;
  const [notice] = found.notices;
  const again = buildNotice(
    {
      messageId: notice!.messageId,
      date: notice!.sentAt,
      officeName: office.name,
      sender: { name: maren.account.name, address: maren.account.address },
      recipient: { name: '', address: PELL },
      closesAt: found.grants[0]!.closesAt,
      zone: office.calendar.zone,
      check: { kind: 'text', hint: found.grants[0]!.check.hint, question: false },
      link: noticeLink(house.server.context.config.roomOrigin, grantId, share, true),
      language: 'en',
      carried: {},
    },
    sent.content,
  );
  expect(await sha256(again)).toEqual(notice!.sha256);
  expect(Buffer.compare(mail.raw.subarray(mail.raw.length - again.length), Buffer.from(again))).toBe(0);
});

test('told again, the file comes again, with its share; given again, with another one', async () => {
  const { sent, mail } = await sendCarried();
  const { grantId, share } = mail.carried;
  const first = inMailbox().length;
  await maren.client(messageApi.tellAgain, { params: { id: sent.id, grantId }, body: { readerShare: share! } });
  const again = await arrived(first);
  expect(again.carried).toEqual(mail.carried);
  await maren.client(messageApi.withdrawGrants, { params: { id: sent.id }, body: { grantIds: [grantId] } });
  const id = crypto.randomUUID();
  const { readerShare, house: halves } = await splitKey(sent.contentKey.key, { grantId: id, messageId: sent.id });
  const grant = {
    id,
    address: PELL,
    name: '',
    role: 'to' as const,
    carried: true,
    ...halves,
    reader: { kind: 'link' as const, channel: { kind: 'text' as const, target: '+447700900417' }, readerShare },
  };
  const before = inMailbox().length;
  await maren.client(messageApi.giveAgain, {
    params: { id: sent.id },
    body: { replaces: grantId, grant, closesAt: new Date(Date.now() + 86_400_000), summary: randomBytes(64) },
  });
  expect((await arrived(before)).carried).toMatchObject({ grantId: id, share: readerShare });
});

test('before it leaves, nothing of the share lies in the database', async () => {
  const prepared = await prepare(demoMessage({ files: [] }), { carried: true });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  await maren.client(messageApi.dispatchMessage, {
    params: { id: prepared.id },
    body: { ...prepared.dispatch, leavesAt: new Date(Date.now() + 3_600_000) },
  });
  const { readerShare } = prepared.dispatch.grants[0]!;
  const spelled = [Buffer.from(readerShare).toString('hex'), toBase64Url(readerShare)];
  const found = await rows<{ all: string }>(
    house.server.context.db,
    `SELECT (SELECT string_agg(g::text, ' ') FROM grants g) || (SELECT string_agg(o::text, ' ') FROM outbox o) || (SELECT string_agg(b::text, ' ') FROM blob_parts b) AS all`,
  );
  // The access's number is there, so that the search would have found it.
  expect(found[0]!.all).toContain(prepared.dispatch.grants[0]!.id);
  for (const one of spelled) expect(found[0]!.all.includes(one)).toBe(false);
});

test('their gateway’s ending is used and recorded; a colleague gets no such thing', async () => {
  await ines.client(fileApi.putFileRules, {
    body: { ...OUR_RULES, exceptions: [{ whom: 'postbox.example', extension: 'page' }] },
  });
  const { sent, mail } = await sendCarried();
  expect(mail.files[0]!.name).toBe('message-under-lock.page');
  expect((await maren.client(messageApi.getSent, { params: { id: sent.id } })).notices).toMatchObject([
    { extension: 'page' },
  ]);
  await ines.client(fileApi.putFileRules, { body: OUR_RULES });

  await giveKeyPair(tobias);
  const prepared = await prepare(demoMessage({ files: [] }), { addresses: [tobias.account.address], carried: true });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const [grant] = prepared.dispatch.grants;
  const reader = {
    kind: 'account' as const,
    accountId: tobias.account.id,
    sealedShare: randomBytes(80),
    sealedSummary: randomBytes(80),
  };
  expect(
    await codeOf(
      maren.client(messageApi.dispatchMessage, {
        params: { id: prepared.id },
        body: { ...prepared.dispatch, grants: [{ ...grant!, reader }] },
      }),
    ),
  ).toBe('invalid-input');
});

test('only the page that a carried page leads to may keep who opened it', async () => {
  const policyOf = async (path: string) =>
    (await fetch(`${house.origin}${path}`)).headers.get('cross-origin-opener-policy');
  const id = crypto.randomUUID();
  expect(
    await Promise.all(
      [`/room/${id}/carried`, `/room/${id}`, '/room/list', '/desk', `/room/api/grants/${id}/carried`].map(policyOf),
    ),
  ).toEqual(['unsafe-none', 'same-origin', 'same-origin', 'same-origin', 'same-origin']);
});
