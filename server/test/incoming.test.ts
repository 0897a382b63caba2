/**
 * Mail that comes in by SMTP: taken for our people only, sealed to them at the door, tied to what it answers, kept
 * once.
 */
import { execFileSync } from 'node:child_process';
import { getPart, partCount, startBlob, putPart, deleteBlob } from '@under-lock/contract/blob';
import { getConversation } from '@under-lock/contract/outgoing';
import {
  deleteIncoming,
  getIncoming,
  type IncomingMail,
  listReceived,
  putIncoming,
  restoreIncoming,
} from '@under-lock/contract/received';
import { type Bytes, concat } from '@under-lock/core/bytes';
import { openContent } from '@under-lock/core/locks/room/content';
import { buildMessage } from '@under-lock/core/message/build';
import { openIncomingKey, openIncomingSummary, sealIncomingSummary } from '@under-lock/core/incoming/incoming';
import { createTransport } from 'nodemailer';
import { rows } from '../src/data/database';
import { purgeDeleted } from '../src/incoming/incoming';
import {
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  receivedOf,
  send,
  type Worker,
} from './house';
import { openMailDoor } from '../src/incoming/door';
import { ThreadError } from '../src/thread/pool';

let house: House;
let maren: Worker;
let tobias: Worker;
let key: KeyPair;
let door: Awaited<ReturnType<typeof openMailDoor>>;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  tobias = await house.worker('tobias.quill');
  key = await giveKeyPair(maren);
  door = await openMailDoor(house.server.context);
}, 60_000);
afterAll(async () => {
  await door.close();
  await house.stop();
});

const PELL = 'pell.anders@postbox.example';
/** Sends to the door; resolves with the host's answer or its no. */
async function deliver(raw: Uint8Array, to: string[] = [maren.account.address], from = PELL): Promise<string> {
  const transport = createTransport({ host: '127.0.0.1', port: door.port, ignoreTLS: true });
  try {
    return ((await transport.sendMail({ envelope: { from, to }, raw: Buffer.from(raw) })) as { response: string })
      .response;
  } catch (error) {
    return (error as { response?: string; message: string }).response ?? String(error);
  } finally {
    transport.close();
  }
}
const mail = (over: Partial<Parameters<typeof demoMessage>[0]> = {}): Bytes =>
  buildMessage(
    demoMessage({
      from: { name: 'Pell Anders', address: PELL },
      to: [{ name: '', address: maren.account.address }],
      subject: 'My eyesight certificate',
      text: 'Here it is: minus two point five.',
      files: [],
      ...over,
    }),
  );

async function opened(
  worker: Worker,
  { id, sealedKey, sealedSummary, blobId, size }: IncomingMail,
  { privateKey }: KeyPair,
): Promise<{ summary: Awaited<ReturnType<typeof openIncomingSummary>>; raw: Bytes }> {
  const contentKey = await openIncomingKey(privateKey, sealedKey, id);
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(size); index++)
    parts.push(await worker.client(getPart, { params: { id: blobId, index } }));
  return {
    summary: await openIncomingSummary(sealedSummary, contentKey, id),
    raw: await openContent(concat(...parts), contentKey),
  };
}

test('what comes in lies in Received, unread, opens byte for byte with the account’s key, and can be marked and deleted', async () => {
  const raw = mail();
  expect(await deliver(raw)).toMatch(/^250/);
  const {
    mails: [found],
    unread,
  } = await receivedOf(maren);
  expect(unread).toBe(1);
  const { summary, raw: back } = await opened(maren, found!, key);
  expect(Buffer.from(back).equals(Buffer.from(raw))).toBe(true);
  expect(summary).toMatchObject({
    subject: 'My eyesight certificate',
    from: { name: 'Pell Anders', address: PELL },
    lock: 'none',
  });
  const params = { id: found!.id };
  const contentKey = await openIncomingKey(key.privateKey, found!.sealedKey, found!.id);
  await maren.client(putIncoming, {
    params,
    body: {
      unread: false,
      sealedSummary: await sealIncomingSummary({ ...summary, subject: 'As it stands inside' }, contentKey, found!.id),
    },
  });
  const read = await maren.client(getIncoming, { params });
  expect(read.unread).toBe(false);
  expect((await opened(maren, read, key)).summary.subject).toBe('As it stands inside');
  // Out of sight, and to be had back for an hour.
  await maren.client(deleteIncoming, { params });
  await expect(maren.client(getIncoming, { params })).rejects.toMatchObject({ code: 'not-found' });
  expect((await receivedOf(maren)).mails).toEqual([]);
  await purgeDeleted(house.server.context);
  await maren.client(restoreIncoming, { params });
  expect((await maren.client(getIncoming, { params })).blobId).toBe(found!.blobId);
  await maren.client(deleteIncoming, { params });
  house.clock.now = new Date(Date.now() + 61 * 60_000);
  house.clock.real = false;
  await purgeDeleted(house.server.context);
  house.clock.real = true;
  await expect(maren.client(restoreIncoming, { params })).rejects.toMatchObject({ code: 'not-found' });
  expect(await rows(house.server.context.db, 'SELECT 1 FROM blobs WHERE id = $1', [found!.blobId])).toEqual([]);
});

test('nobody else can list, open, mark or delete it, and its content is no draft file to be changed or dropped', async () => {
  await deliver(mail({ text: 'for Maren only' }));
  const {
    mails: [found],
  } = await receivedOf(maren);
  const params = { id: found!.id };
  expect((await receivedOf(tobias)).mails).toEqual([]);
  await expect(tobias.client(getIncoming, { params })).rejects.toMatchObject({ code: 'not-found' });
  await expect(tobias.client(putIncoming, { params, body: { unread: false } })).rejects.toMatchObject({
    code: 'not-found',
  });
  await tobias.client(deleteIncoming, { params });
  await expect(tobias.client(restoreIncoming, { params })).rejects.toMatchObject({ code: 'not-found' });
  await expect(tobias.client(getPart, { params: { id: found!.blobId, index: 0 } })).rejects.toMatchObject({
    code: 'not-found',
  });
  await expect(
    maren.client(putPart, { params: { id: found!.blobId, index: 0 }, body: new Uint8Array(found!.size) }),
  ).rejects.toMatchObject({ code: 'conflict' });
  await maren.client(deleteBlob, { params: { id: found!.blobId } });
  expect((await opened(maren, await maren.client(getIncoming, { params }), key)).summary.from.address).toBe(PELL);
  // Nor does it count against the room for unsent files.
  expect((await maren.client(startBlob, { body: { id: crypto.randomUUID(), size: 1000 } })).received).toEqual([]);
});

test('only our people have a mailbox, only once they have signed in, and nothing of any size is taken', async () => {
  expect(await deliver(mail(), ['nobody@larkmoor.example'])).toMatch(/^550/);
  expect(await deliver(mail(), ['someone@elsewhere.example'])).toMatch(/^550/);
  expect(await deliver(mail(), [tobias.account.address])).toMatch(/^450/);
  const small = await openMailDoor({
    ...house.server.context,
    config: {
      ...house.server.context.config,
      office: { ...house.server.context.config.office, limits: { maxBytes: 1, maxRecipients: 200 } },
    },
  });
  const transport = createTransport({ host: '127.0.0.1', port: small.port, ignoreTLS: true });
  const before = (await receivedOf(maren)).mails.length;
  await expect(
    transport.sendMail({ envelope: { from: PELL, to: [maren.account.address] }, raw: Buffer.alloc(5_000_000, 'a') }),
  ).rejects.toMatchObject({ responseCode: 552 });
  transport.close();
  await small.close();
  expect((await receivedOf(maren)).mails).toHaveLength(before);
});

test('the same mail twice is one; two at once leave one; what is no mail at all is kept as it came', async () => {
  const before = (await receivedOf(maren)).mails.length;
  const raw = mail({ text: 'twice' });
  await deliver(raw);
  await deliver(raw);
  await Promise.all([
    deliver(mail({ messageId: 'at-once@postbox.example', date: new Date(0) })),
    deliver(mail({ messageId: 'at-once@postbox.example', date: new Date(0) })),
  ]);
  expect((await receivedOf(maren)).mails).toHaveLength(before + 2);
  const odd = Uint8Array.from([0, 1, 2, 255, 13, 10, 254]);
  expect(await deliver(odd)).toMatch(/^250/);
  const {
    mails: [found],
  } = await receivedOf(maren);
  const { summary, raw: back } = await opened(maren, found!, key);
  expect([...back.subarray(0, odd.length)]).toEqual([...odd]);
  expect(summary).toMatchObject({ subject: '', from: { name: '', address: PELL }, lock: 'none' });
});

/** A message, and the number of the mail that told its reader. */
async function sentWithNotice(): Promise<{ sent: Awaited<ReturnType<typeof send>>; notice: string }> {
  const sent = await send(maren, demoMessage({ files: [] }));
  const notice = await eventually(async () => {
    const [found] = await rows<{ message_id_header: string }>(
      house.server.context.db,
      `SELECT message_id_header FROM outbox WHERE grant_id = $1 AND state = 'delivered'`,
      [sent.dispatch.grants[0]!.id],
    );
    return found?.message_id_header;
  });
  return { sent, notice };
}

test('an answer to a notice of the reading room’s own address comes to whose message it was; any other mail there is refused', async () => {
  const { notice } = await sentWithNotice();
  const before = (await receivedOf(maren)).mails.length;
  const room = `reading-room@larkmoor.example`;
  expect(await deliver(mail({ answers: [notice], subject: 'Re: for me' }), [room])).toMatch(/^250/);
  expect((await receivedOf(maren)).mails[0]).toMatchObject({ answersNotice: true });
  expect((await receivedOf(maren)).mails).toHaveLength(before + 1);
  expect(await deliver(mail({ answers: ['nobody@larkmoor.example'] }), [room])).toMatch(
    /^550 Nobody reads this mailbox/,
  );
  expect(await deliver(mail(), [room])).toMatch(/^550 Nobody reads this mailbox/);
  expect(await deliver(mail({ answers: [notice] }), [room], '')).toMatch(/^550/);
  // To a worker besides: what is refused for the one is kept for nobody, and its host sends it again to the other.
  expect(await deliver(mail(), [maren.account.address, room])).toMatch(/^550 Nobody reads this mailbox/);
  expect((await receivedOf(maren)).mails).toHaveLength(before + 1);
});

test('an answer to a notice joins the message’s conversation; an answer to that answer stays in it', async () => {
  const { sent, notice } = await sentWithNotice();
  await deliver(mail({ messageId: 'first@postbox.example', answers: [notice], text: 'I can’t open it' }));
  await deliver(mail({ messageId: 'second@postbox.example', answers: ['first@postbox.example'], text: 'Now I can' }));
  const { messages } = await maren.client(getConversation, { params: { id: sent.id } });
  expect(messages.map(({ kind }) => kind)).toEqual(['sent', 'mail', 'mail']);
  // Somebody else's answer to the same notice says nothing about Tobias's conversations.
  const otherKey = await giveKeyPair(tobias);
  await deliver(mail({ messageId: 'third@postbox.example', answers: [notice] }), [tobias.account.address]);
  const {
    mails: [theirs],
  } = await receivedOf(tobias);
  expect(theirs!.conversationId).toBe(theirs!.id);
  expect((await opened(tobias, theirs!, otherKey)).summary.subject).toBe('My eyesight certificate');
});

test('mail that the office sends to its own people comes in by the same door; what the door does not take stays outside', async () => {
  house.world.officeDoor = { host: '127.0.0.1', port: door.port };
  const before = (await receivedOf(maren)).mails.length;
  for (const to of [maren.account.address, 'nobody@larkmoor.example'])
    expect(
      await house.server.context.mail.send(
        { from: 'bounce@larkmoor.example', to },
        mail({ text: `receipt for ${to}` }),
      ),
    ).toMatchObject({ outcome: 'accepted' });
  house.world.officeDoor = undefined;
  expect((await receivedOf(maren)).mails).toHaveLength(before + 1);
  expect(
    house.world.store.mails
      .filter(({ mailbox }) => mailbox.endsWith('@larkmoor.example'))
      .map(({ mailbox }) => mailbox),
  ).toEqual(['nobody@larkmoor.example']);
});

test('more than a page of them come page by page, each once, newest first, among what is held', async () => {
  const before = new Set((await receivedOf(maren)).mails.map(({ id }) => id));
  for (let count = 0; count < 35; count++) await deliver(mail({ text: `number ${count}` }));
  const seen: string[] = [];
  const times: number[] = [];
  let next: string | undefined;
  do {
    const page = await maren.client(listReceived, { query: next === undefined ? {} : { before: next } });
    seen.push(...page.messages.map((one) => (one.kind === 'mail' ? one.id : one.grantId)));
    times.push(...page.messages.map(({ arrivedAt }) => arrivedAt.getTime()));
    next = page.next;
  } while (next !== undefined);
  expect(new Set(seen).size).toBe(seen.length);
  expect(seen.filter((id) => !before.has(id))).toHaveLength(35);
  expect(times).toEqual([...times].sort((a, b) => b - a));
}, 60_000);

test('a database dump shows neither sender nor subject nor text nor the Message-ID of what came in', async () => {
  await deliver(
    mail({
      from: { name: 'Wren Castellane', address: 'wren.castellane@postbox.example' },
      subject: 'Zebrawood ledger',
      text: 'the quince orchard',
      messageId: 'quokka-77@postbox.example',
    }),
    [maren.account.address],
    'wren.castellane@postbox.example',
  );
  expect((await receivedOf(maren)).mails).not.toHaveLength(0);
  const dump = execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--inserts', house.databaseUrl], {
    maxBuffer: 1 << 30,
  })
    .toString('latin1')
    .toLowerCase();
  for (const word of ['castellane', 'zebrawood', 'quince orchard', 'quokka-77']) {
    for (const spelled of [
      word,
      Buffer.from(word).toString('hex'),
      Buffer.from(word).toString('base64').replace(/=+$/, '').slice(2, -2).toLowerCase(),
    ])
      expect(dump.includes(spelled)).toBe(false);
  }
  expect(dump).toContain('maren.oduya@larkmoor.example');
});

test('mail made to be slow to read is taken, and answers others meanwhile; a second try of it costs nothing', async () => {
  const hostile: [string, string][] = [
    ['Content-Type', 'text/plain; a'.concat(' '.repeat(200_000))],
    ['Content-Type', 'a='.repeat(100_000)],
    ['From', '<'.repeat(200_000)],
    ['References', '<a'.repeat(100_000)],
    ['Subject', '=?utf-8?q?'.repeat(20_000)],
  ];
  const count = async () =>
    (
      await rows<{ count: number }>(
        house.server.context.db,
        'SELECT count(*)::int AS count FROM incoming WHERE account_id = $1',
        [maren.account.id],
      )
    )[0]!.count;
  const before = await count();
  for (const [field, value] of hostile) {
    const folded = value.replace(/.{900}/g, '$&\r\n ');
    const raw = Buffer.from(`From: <${PELL}>\r\n${field}: ${folded}\r\n\r\nx`);
    const answers = await Promise.all([deliver(raw), deliver(mail({ text: `beside ${field} ${value.length}` }))]);
    expect(answers.every((answer) => answer.startsWith('250'))).toBe(true);
    expect(await deliver(raw)).toMatch(/^250/);
  }
  expect(await count()).toBe(before + 2 * hostile.length);
}, 60_000);

test('a mail whose head can’t be read in the time there is comes as its envelope has it, and is kept', async () => {
  const { threads } = house.server.context;
  const run = jest.spyOn(threads, 'run').mockRejectedValueOnce(new ThreadError('deadline', 'mailHead'));
  const raw = mail({ text: 'slow' });
  expect(await deliver(raw)).toMatch(/^250/);
  run.mockRestore();
  const {
    mails: [found],
  } = await receivedOf(maren);
  const { summary, raw: back } = await opened(maren, found!, key);
  expect(Buffer.from(back).equals(Buffer.from(raw))).toBe(true);
  expect(summary).toMatchObject({ subject: '', from: { name: '', address: PELL }, lock: 'none' });
});
